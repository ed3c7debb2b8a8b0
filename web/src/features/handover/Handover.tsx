/** Handover: what is recorded, what is open, the signature, the paper and the file. */
import type { SubmitEvent } from "react";
import { Link } from "react-router";

import type { Person, RecordOut } from "../../api/client";
import type { PlanHandle } from "../../plan/usePlan";
import { Button, Mark, NotShown } from "../../ui/parts";
import { PhotoStrip } from "../../ui/PhotoStrip";
import { when } from "../../ui/when";
import { useRecord } from "../../plan/useRecord";
import { Links } from "./Links";
import { Parts } from "./Parts";
import { Sign, Signatures } from "./Signing";

interface Props {
  plan: PlanHandle;
  id: string;
  person: Person;
}

const field = "min-h-11 border-b-2 border-ink/50 bg-sheet px-2 focus:border-copper";

export function Handover({ plan, id, person }: Props) {
  const query = useRecord(id);
  const record = query.data;
  if (query.isError && !record) return <NotShown what="The record" />;
  if (!record) return <p className="p-7 text-soft">Reading the record …</p>;
  const { install } = record;
  return (
    <main className="mt-2 grow border-t border-rule">
      <div className="mx-auto grid max-w-6xl gap-x-14 px-5 pb-16 md:px-7 lg:grid-cols-[minmax(0,1fr)_minmax(0,1fr)]">
        <div>
          <h2 className="mt-6 text-xl font-bold">What the record holds</h2>
          {install.brought_in && (
            <p className="mt-2 text-soft">{install.brought_in}; what is older was entered elsewhere.</p>
          )}
          <Holds record={record} />
          <Came record={record} id={id} />
          <h2 className="mt-8 text-xl font-bold">Signature</h2>
          <Signatures record={record} />
          {person.may.includes("sign") && <Sign record={record} plan={plan} person={person} />}
          {!person.may.includes("sign") && <p className="mt-2 text-soft">The crew lead signs.</p>}
        </div>
        <div>
          <h2 className="mt-6 text-xl font-bold">Open items</h2>
          <Items record={record} plan={plan} canRecord={person.may.includes("record")} />
          <h2 className="mt-8 text-xl font-bold">Paper and file</h2>
          <p className="mt-2 flex flex-wrap gap-3">
            <a
              className="inline-flex min-h-11 items-center rounded-sm bg-ink px-4 font-semibold text-sheet hover:bg-copper-deep"
              href={`/api/installs/${id}/record.pdf`}
              target="_blank"
              rel="noreferrer"
            >
              Print the record
            </a>
            <a
              className="inline-flex min-h-11 items-center rounded-sm border border-ink/60 px-4 font-semibold hover:border-copper"
              href={`/api/installs/${id}/package.pdf`}
              target="_blank"
              rel="noreferrer"
            >
              Print everything
            </a>
            <a
              className="inline-flex min-h-11 items-center rounded-sm border border-ink/60 px-4 font-semibold hover:border-copper"
              href={`/api/installs/${id}/plan.json`}
              download
            >
              Export the plan
            </a>
            <a
              className="inline-flex min-h-11 items-center rounded-sm border border-ink/60 px-4 font-semibold hover:border-copper"
              href={`/api/installs/${id}/package.zip`}
              download
            >
              All as open files
            </a>
          </p>
          <Parts id={id} />
          <p className="mt-2 flex flex-wrap gap-x-6">
            {[
              ["schedule.pdf", "Circuit schedule"],
              ["directory.pdf", "Panel directories"],
              ["labels.pdf", "Labels for the disconnects"],
              ["load-out.pdf", "Load-out"],
              ["load-out.csv", "Load-out as a list"],
            ].map(([sheet, name]) => (
              <a
                key={sheet}
                className="inline-flex min-h-11 items-center underline"
                href={`/api/installs/${id}/${sheet}`}
                target="_blank"
                rel="noreferrer"
              >
                {name}
              </a>
            ))}
          </p>
          {person.may.includes("sign") && <Links id={id} document={plan.document} />}
          <p className="mt-6 border-t border-rule pt-3 text-sm text-soft">{record.caution}</p>
        </div>
      </div>
    </main>
  );
}

/** Who came since, and the way to the screen on which a visit is read. */
function Came({ record, id }: { record: RecordOut; id: string }) {
  const { visits } = record.service;
  const [last] = visits;
  return (
    <>
      <h2 className="mt-8 text-xl font-bold">Service</h2>
      <p className="mt-1 text-soft">
        {last
          ? `${visits.length === 1 ? "One visit" : `${visits.length} visits`}, the last ${last.ended_at == null ? "still open" : when(last.ended_at)}: ${last.note ?? last.why}`
          : "No visit yet."}
      </p>
      <Link
        to={`/installs/${id}/visits`}
        className="inline-flex min-h-11 items-center underline decoration-faint underline-offset-4 hover:decoration-copper"
      >
        {last && last.ended_at == null ? "Go on with the visit" : "Service visits"}
      </Link>
    </>
  );
}

type Row = [string, string, boolean];

function Holds({ record }: { record: RecordOut }) {
  const steps = record.steps.filter((step) => step.done).length;
  const read = record.readings.filter((point) => point.entries.length > 0);
  const outside = read.filter((point) => point.entries.at(-1)?.verdict === "outside").length;
  const passed = record.tests.filter((test) => test.outcome === "passed").length;
  const void_ = record.tests.filter((test) => test.void).length;
  const failed = record.tests.filter((test) => test.outcome === "failed").length;
  const set = record.set_up.filter((row) => row.done).length;
  const terminals = record.landings.reduce((sum, row) => sum + row.terminals, 0);
  const ticked = record.landings.reduce((sum, row) => sum + row.ticked.length, 0);
  const rows: Row[] = [
    ["Steps done", `${steps} of ${record.steps.length}`, steps === record.steps.length],
    ["Readings taken", `${read.length} of ${record.readings.length}`, read.length === record.readings.length],
    ["Outside what they should be", String(outside), outside === 0],
    ...(record.tests.length
      ? [["Functional tests passed", `${passed} of ${record.tests.length}`, passed === record.tests.length] as Row]
      : []),
    ...(void_ ? [["Of them void, wired otherwise since", String(void_), false] as Row] : []),
    ...(failed ? [["Functional tests failed", String(failed), false] as Row] : []),
    ...(record.set_up.length
      ? [["Settings made", `${set} of ${record.set_up.length}`, set === record.set_up.length] as Row]
      : []),
    ...(terminals ? [["Terminals ticked", `${ticked} of ${terminals}`, true] as Row] : []),
    ["Stops on the plan", String(record.stops.length), record.stops.length === 0],
  ];
  return (
    <dl className="mt-2">
      {rows.map(([name, value, well]) => (
        <div key={name} className="flex items-center justify-between border-t border-rule py-2 first:border-0">
          <dt className="text-soft">{name}</dt>
          <dd className={`flex items-center gap-2 font-bold ${well ? "" : "text-warning"}`}>
            {!well && <Mark severity="warning" />}
            {value}
          </dd>
        </div>
      ))}
    </dl>
  );
}

function Items({ record, plan, canRecord }: { record: RecordOut; plan: PlanHandle; canRecord: boolean }) {
  function add(event: SubmitEvent<HTMLFormElement>) {
    event.preventDefault();
    const form = new FormData(event.currentTarget);
    const due = form.get("due") as string;
    plan.record("open-items", { text: form.get("text"), owner: form.get("owner"), due: due || null }, "Open item");
    event.currentTarget.reset();
  }
  return (
    <>
      {record.open_items.length === 0 && <p className="mt-2 text-soft">Nothing left open.</p>}
      <ul className="mt-1">
        {record.open_items.map((item) => (
          <li
            key={item.id}
            className="flex flex-wrap items-start justify-between gap-3 border-t border-rule py-2 first:border-0"
          >
            <div className={item.closed_at ? "text-soft" : ""}>
              <b className={item.closed_at ? "font-normal line-through" : ""}>{item.text}</b>
              <span className="block text-sm text-soft">
                {item.temporary && "put in for a while, takes it out: "}
                {item.owner}
                {item.due ? `, due ${item.due}` : ", no due date"}
                {item.closed_at && item.closed_by
                  ? ` · done by ${item.closed_by}, ${when(item.closed_at)}: ${item.note ?? ""}`
                  : ""}
              </span>
              <PhotoStrip
                install={record.install.id}
                about={`open-items/${item.id}`}
                name={item.text}
                readOnly={!canRecord || item.closed_at != null}
              />
            </div>
            {canRecord && !item.closed_at && (
              <Button onClick={() => plan.record(`open-items/${item.id}/closing`, { note: "done" }, "Close the item")}>
                Done
              </Button>
            )}
          </li>
        ))}
      </ul>
      {canRecord && (
        <form onSubmit={add} className="mt-3 flex flex-wrap gap-2">
          <input
            name="text"
            required
            aria-label="What is left to do"
            placeholder="What is left to do"
            className={`${field} w-40 grow`}
          />
          <input name="owner" required aria-label="Who does it" placeholder="Who" className={`${field} w-28`} />
          <input name="due" type="date" aria-label="Due" className={field} />
          <Button type="submit">Add</Button>
        </form>
      )}
    </>
  );
}
