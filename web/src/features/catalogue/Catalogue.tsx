/** The catalogue: every model with what its plate says; lists of plates in and out. */
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";

import { type CatalogueModel, freshKey, type Person, post, type Problem } from "../../api/client";
import { Page } from "../../app/Page";
import { say } from "../../drawing/parts";
import { Button, Mark } from "../../ui/parts";
import { kindName, KINDS } from "../lines/kinds";
import { useCatalogue } from "./useCatalogue";

export function Catalogue({ person }: { person: Person }) {
  const models = useCatalogue();
  const [search, setSearch] = useState("");
  const found = models.filter((entry) => matches(entry, search));
  const lead = person.role === "lead";
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

/** A list of plates: chosen as a file or pasted. Nothing is half taken, and what was pasted stays. */
function Bring() {
  const client = useQueryClient();
  const [open, setOpen] = useState(false);
  const [text, setText] = useState("");
  const [refused, setRefused] = useState<Problem | null>(null);
  const [said, setSaid] = useState("");
  async function bring() {
    setSaid("");
    const sent = await post<{ added: number }>("/api/catalogue/lists", freshKey(), { csv: text });
    setRefused(sent.kind === "refused" ? sent.problem : null);
    if (sent.kind === "unreachable") setSaid("Leitung does not answer. The list is kept here; try again.");
    if (sent.kind === "done") {
      setSaid(`${sent.body.added} ${sent.body.added === 1 ? "model" : "models"} added.`);
      setText("");
      void client.invalidateQueries({ queryKey: ["catalogue"] });
    }
  }
  if (!open)
    return (
      <Button className="mt-4" onClick={() => setOpen(true)}>
        Bring a list of plates
      </Button>
    );
  return (
    <section aria-label="Bring a list of plates" className="mt-5 border-t-2 border-ink pt-3">
      <h2 className="text-lg font-bold">A list of plates</h2>
      <p className="text-soft">
        One unit a line; the first line names the columns: <code>maker,model,kind,volts,mca_a,max_ocpd_a …</code> The
        catalogue itself is such a list.
      </p>
      <input
        type="file"
        accept=".csv,text/csv"
        aria-label="List of plates as a file"
        className="mt-3 block min-h-11"
        onChange={(event) => {
          const file = event.target.files?.[0];
          if (file) void file.text().then(setText);
        }}
      />
      <textarea
        aria-label="List of plates"
        className="mt-2 block h-40 w-full border-2 border-ink/50 bg-sheet p-2 font-mono text-sm focus:border-copper"
        spellCheck={false}
        value={text}
        onChange={(event) => setText(event.target.value)}
      />
      {refused && (
        <ul role="alert" className="mt-2">
          <li className="flex gap-2 font-semibold text-stop">
            <Mark severity="stop" /> Nothing was taken in. {refused.errors ? "Correct these lines:" : refused.detail}
          </li>
          {refused.errors?.map((problem) => (
            <li key={`${problem.field} ${problem.message}`} className="py-0.5 pl-8">
              <b>{problem.field}</b>: {problem.value == null ? "" : `“${say0(problem.value)}” `}
              {problem.message}. <span className="text-soft">{problem.remedy}</span>
            </li>
          ))}
        </ul>
      )}
      <p role="status" className="mt-2">
        {said}
      </p>
      <div className="mt-2 flex gap-2">
        <Button kind="main" disabled={!text.trim()} onClick={() => void bring()}>
          Take it in
        </Button>
        <Button onClick={() => setOpen(false)}>Close</Button>
      </div>
    </section>
  );
}

function say0(value: unknown): string {
  return typeof value === "string" || typeof value === "number" ? String(value) : "";
}
