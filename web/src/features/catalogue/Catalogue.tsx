/** The catalogue: every model with what its plate says; lists of plates in and out. */
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";

import { api, type CatalogueModel, data, freshKey, type Person, post } from "../../api/client";
import { Page } from "../../ui/Page";
import { say } from "../../drawing/parts";
import { BringList } from "../../ui/BringList";
import { kindName, KINDS } from "../../plan/kinds";
import { useCatalogue } from "../../plan/useCatalogue";
import { PlateDrawing } from "./PlateDrawing";

export function Catalogue({ person }: { person: Person }) {
  const models = useCatalogue();
  const [search, setSearch] = useState("");
  const found = models.filter((entry) => matches(entry, search));
  const lead = person.may.includes("plan");
  return (
    <Page title="Catalogue">
      <div className="mt-2 flex flex-wrap items-end gap-x-8 gap-y-3">
        <p className="max-w-xl text-soft">
          {models.length} models to plan with. A unit of any install can be saved here; a list of plates comes in as
          CSV.
        </p>
        <input
          type="search"
          aria-label="Find a model"
          placeholder="Find by maker, model, kind"
          className="ml-auto min-h-11 w-64 rounded-xs border-b-2 border-ink/50 bg-transparent px-2 focus:border-copper max-md:w-full"
          value={search}
          onChange={(event) => setSearch(event.target.value)}
        />
      </div>
      {lead && <Bring />}
      {KINDS.map(({ value, label }) => {
        const rows = found.filter(({ model }) => model.kind === value);
        return rows.length ? (
          <section key={value} className="mt-7">
            <h2 className="border-t-2 border-ink pt-2 text-lg font-bold">
              {label} <span className="font-normal text-soft">{rows.length}</span>
            </h2>
            {rows.map((entry) => (
              <Row key={`${entry.model.maker} ${entry.model.model}`} entry={entry} lead={lead} />
            ))}
          </section>
        ) : null;
      })}
      {models.length > 0 && found.length === 0 && (
        <p className="py-8 text-lg text-soft">No model has “{search}” in it.</p>
      )}
      <p className="mt-8 text-sm text-soft">
        The plate on the unit itself always wins over what stands here.{" "}
        <a className="underline" href="/api/catalogue.csv">
          Save the catalogue as a list of plates
        </a>
      </p>
    </Page>
  );
}

function matches({ model }: CatalogueModel, search: string): boolean {
  const text = `${model.maker} ${model.model} ${model.name ?? ""} ${kindName(model.kind)}`.toLowerCase();
  return search
    .toLowerCase()
    .split(/\s+/)
    .every((word) => text.includes(word));
}

function Row({ entry, lead }: { entry: CatalogueModel; lead: boolean }) {
  const client = useQueryClient();
  const { model, id } = entry;
  const [open, setOpen] = useState(false);
  async function takeOut() {
    await post(`/api/catalogue/${id ?? ""}/removal`, freshKey(), {});
    void client.invalidateQueries({ queryKey: ["catalogue"] });
  }
  return (
    <div className="border-t border-rule">
      <button
        type="button"
        aria-expanded={open}
        className="grid min-h-11 w-full items-baseline gap-x-6 py-2 text-left hover:bg-sheet md:grid-cols-[13rem_20rem_1fr_auto]"
        onClick={() => setOpen(!open)}
      >
        <span>
          <b>{model.model}</b> <span className="text-soft">{model.maker}</span>
        </span>
        <span className="text-soft">{model.name}</span>
        <span>{plateWords(model)}</span>
        {id && <span className="text-sm text-soft">added by {entry.added_by}</span>}
      </button>
      {open && (
        <div className="grid gap-x-12 gap-y-4 pt-2 pb-6 md:grid-cols-[minmax(0,30rem)_1fr]">
          <PlateDrawing model={model} />
          <div>
            <UsedBy maker={model.maker} model={model.model} />
            {id && lead && (
              <button type="button" className="mt-4 min-h-11 underline" onClick={() => void takeOut()}>
                Take it out of the catalogue
              </button>
            )}
          </div>
        </div>
      )}
    </div>
  );
}

function UsedBy({ maker, model }: { maker: string; model: string }) {
  const uses = useQuery({
    queryKey: ["uses", maker, model],
    queryFn: async () => data(await api.GET("/api/catalogue/uses", { params: { query: { maker, model } } })),
  });
  const rows = uses.data?.installs ?? [];
  return (
    <>
      <h3 className="font-bold">{uses.data && !rows.length ? "In no open install" : "In these installs"}</h3>
      <ul>
        {rows.map(({ id, name, units }) => (
          <li key={id} className="flex min-h-11 flex-wrap items-center gap-x-3">
            {name}
            {units.map((unit) => (
              <Link key={unit} className="underline" to={`/installs/${id}/lines?unit=${encodeURIComponent(unit)}`}>
                {unit}
              </Link>
            ))}
          </li>
        ))}
      </ul>
    </>
  );
}

/** What a plate says in one line. */
export function plateWords(model: CatalogueModel["model"]): string {
  const plate = model.nameplate;
  const marks = (plate.compressors ?? []).map((row) => row.rla_a ?? row.bcsc_a).filter((mark) => mark != null);
  return [
    plate.volts ? `${plate.volts} V` : "",
    plate.phase === 3 ? "3 phase" : "",
    plate.mca_a != null ? `MCA ${say(plate.mca_a, "A", 2)}` : "",
    plate.max_ocpd_a != null ? `max ${say(plate.max_ocpd_a, "A")}${plate.max_ocpd_type === "fuse" ? " fuse" : ""}` : "",
    plate.heat ? `${say(plate.heat.watts / 1000, "kW", 2)} heat` : "",
    plate.amps != null ? say(plate.amps, "A") : "",
    plate.mca_a == null && marks.length ? `RLA ${marks.join(", ")} A` : "",
    model.cord_connected ? "cord and plug" : "",
  ]
    .filter(Boolean)
    .join(", ");
}

/** A list of plates: chosen as a file or pasted. */
function Bring() {
  const client = useQueryClient();
  return (
    <BringList<{ added: number }>
      name="List of plates"
      open="Bring a list of plates"
      intro={
        <>
          One unit a line; the first line names the columns: <code>maker,model,kind,volts,mca_a,max_ocpd_a …</code> The
          catalogue itself is such a list.
        </>
      }
      path="/api/catalogue/lists"
      body={(csv) => ({ csv })}
      done={({ added }) => {
        void client.invalidateQueries({ queryKey: ["catalogue"] });
        return `${String(added)} ${added === 1 ? "model" : "models"} added.`;
      }}
    />
  );
}
