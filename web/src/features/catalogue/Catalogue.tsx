/** The catalogue: every model with what its plate says; lists of plates in and out. */
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";

import { type CatalogueModel, freshKey, type Person, post } from "../../api/client";
import { Page } from "../../ui/Page";
import { say } from "../../drawing/parts";
import { BringList } from "../../ui/BringList";
import { kindName, KINDS } from "../../plan/kinds";
import { useCatalogue } from "../../plan/useCatalogue";

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
  async function takeOut() {
    await post(`/api/catalogue/${id ?? ""}/removal`, freshKey(), {});
    void client.invalidateQueries({ queryKey: ["catalogue"] });
  }
  return (
    <div className="grid items-baseline gap-x-6 border-t border-rule py-2 md:grid-cols-[13rem_20rem_1fr_auto]">
      <p>
        <b>{model.model}</b> <span className="text-soft">{model.maker}</span>
      </p>
      <p className="text-soft">{model.name}</p>
      <p>{plateWords(model)}</p>
      {id && (
        <p className="flex items-center gap-4 text-sm text-soft">
          added by {entry.added_by}
          {lead && (
            <button type="button" className="min-h-11 underline" onClick={() => void takeOut()}>
              take out
            </button>
          )}
        </p>
      )}
    </div>
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
