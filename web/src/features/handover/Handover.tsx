/** Handover: what is recorded, what is open, the signature, the paper and the file. */
import { type SubmitEvent, useState } from "react";

import type { Person, RecordOut } from "../../api/client";
import type { PlanHandle } from "../../plan/usePlan";
import { Button, Mark, NotShown } from "../../ui/parts";
import { PhotoStrip } from "../../ui/PhotoStrip";
import { when } from "../../ui/when";
import { useRecord } from "../../plan/useRecord";
import { idOf } from "../../plan/workPart";
import { Links } from "./Links";

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
          <h2 className="mt-8 text-xl font-bold">Signature</h2>
          <Signatures record={record} />
          {person.may.includes("sign") && install.signed_revision !== install.revision && (
            <Sign record={record} plan={plan} person={person} />
          )}
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

function Signatures({ record }: { record: RecordOut }) {
  if (record.signatures.length === 0) return <p className="mt-2 text-soft">Not signed yet.</p>;
  return (
    <ol className="mt-2">
      {record.signatures.map((signature) => (
        <li key={signature.digest + signature.at} className="border-t border-rule py-2 first:border-0">
          <b>{signature.name}</b> signed revision {signature.revision}
          <span className="block text-sm text-soft">
            {when(signature.at)}, signed in as {signature.author}
          </span>
          <span className="block text-sm break-all text-soft">digest {signature.digest}</span>
          {signature.reasons.length > 0 && (
            <details className="text-sm">
              <summary className="min-h-11 cursor-pointer py-2 font-semibold text-warning">
                signed with {signature.reasons.length} things not proved
              </summary>
              <ul className="ml-5 list-disc">
                {signature.reasons.map((entry) => (
                  <li key={entry.key}>
                    {entry.says} <span className="text-soft">Reason: {entry.reason}</span>
                  </li>
                ))}
              </ul>
            </details>
          )}
          {signature.revision !== record.install.revision && (
            <span className="mt-1 flex gap-2 font-semibold text-warning">
              <Mark severity="warning" />
              The plan has changed since: it is at revision {record.install.revision}.
            </span>
          )}
        </li>
      ))}
    </ol>
  );
}

/** What is not proved, by part of the work: each part is done, or has the reason why it is signed without. */
function Sign({ record, plan, person }: { record: RecordOut; plan: PlanHandle; person: Person }) {
  const [name, setName] = useState(person.name);
  const [reasons, setReasons] = useState<Record<string, string>>({});
  const [without, setWithout] = useState(false);
  const missing = record.left;
  const parts = record.parts.filter((part) => record.not_proved.some((entry) => entry.about === part.about));
  function sign(event: SubmitEvent) {
    event.preventDefault();
    plan.record("signatures", { revision: record.install.revision, name, reasons }, "Sign");
  }
  const waiting = plan.outbox.waiting.some((write) => write.path.endsWith("/signatures"));
  if (record.stops.length > 0) return <p className="mt-2 text-stop">A plan that says stop cannot be signed.</p>;
  return (
    <form onSubmit={sign} className="mt-3">
      {missing > 0 && (
        <p className="mb-2 flex gap-2 text-warning">
          <Mark severity="warning" />
          {missing === 1 ? "One thing is" : `${missing} things are`} not recorded. The record will say so.
        </p>
      )}
      {parts.length > 0 && !without && (
        <>
          <p className="mb-3 flex gap-2 font-semibold text-stop">
            <Mark severity="stop" />
            {record.not_proved.length === 1 ? "One thing is" : `${record.not_proved.length} things are`} not proved. Do
            it at Start-up first.
          </p>
          <Button onClick={() => setWithout(true)}>Sign without, and say why</Button>
        </>
      )}
      {parts.length > 0 && without && (
        <section aria-label="Not proved" className="mb-4">
          <p className="flex gap-2 font-semibold text-stop">
            <Mark severity="stop" />
            Say for each part why it is signed without what is not proved. What you write is printed.
          </p>
          <ul>
            {parts.map((part) => {
              const mine = record.not_proved.filter((entry) => entry.about === part.about);
              const key = idOf(part);
              return (
                <li key={part.about} className="border-t border-rule py-2 first:border-0">
                  <details>
                    <summary className="min-h-11 cursor-pointer py-2">
                      <b>{key}</b> {part.name !== key && part.name}{" "}
                      <span className="text-soft">{mine.length} not proved</span>
                    </summary>
                    <ul className="mb-2 ml-5 list-disc text-sm">
                      {mine.map((entry) => (
                        <li key={entry.key}>{entry.says}</li>
                      ))}
                    </ul>
                  </details>
                  <input
                    aria-label={`Why ${key} is signed without`}
                    placeholder={`why ${key} is signed without`}
                    required
                    maxLength={200}
                    className={`${field} w-full`}
                    value={reasons[part.about] ?? ""}
                    onChange={(event) => setReasons({ ...reasons, [part.about]: event.target.value })}
                  />
                </li>
              );
            })}
          </ul>
        </section>
      )}
      {(parts.length === 0 || without) && (
        <div className="flex flex-wrap items-center gap-3">
          <input
            aria-label="Name under the record"
            required
            className={`${field} w-64 text-lg`}
            value={name}
            onChange={(event) => setName(event.target.value)}
          />
          <Button type="submit" kind="main" disabled={waiting}>
            Sign revision {record.install.revision}
          </Button>
        </div>
      )}
    </form>
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
