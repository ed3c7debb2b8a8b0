/** Signatures: who signed what as whom, what has changed of it since, and signing by name or by finger. */
import { useQuery } from "@tanstack/react-query";
import { type SubmitEvent, useState } from "react";

import { api, data, type Person, type RecordOut } from "../../api/client";
import type { PlanHandle } from "../../plan/usePlan";
import { idOf } from "../../plan/workPart";
import { Button, Mark } from "../../ui/parts";
import { when } from "../../ui/when";
import { Ink, Pad } from "./Pad";

type Role = RecordOut["signatures"][number]["role"];

const ROLES: readonly Role[] = ["installer", "licensed", "customer"];
const AS: Record<Role, string> = { installer: "installer", licensed: "licensed person", customer: "customer" };
const ALSO: Record<Role, string> = {
  installer: "the installer",
  licensed: "a licensed person",
  customer: "the customer",
};
const field = "min-h-11 border-b-2 border-ink/50 bg-sheet px-2 focus:border-copper";

export function Signatures({ record }: { record: RecordOut }) {
  if (record.signatures.length === 0) return <p className="mt-2 text-soft">Not signed yet.</p>;
  return (
    <ol className="mt-2">
      {record.signatures.map((signature) => (
        <li key={signature.digest + signature.at} className="border-t border-rule py-2 first:border-0">
          {signature.drawn && <Ink path={signature.drawn} />}
          <b>{signature.name}</b>, {AS[signature.role]}, signed revision {signature.revision}
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
            <ChangedSince install={record.install.id} revision={signature.revision} now={record.install.revision} />
          )}
        </li>
      ))}
    </ol>
  );
}

/** What is not proved, by part of the work: each part is done, or has the reason why it is signed without. */
export function Sign({ record, plan, person }: { record: RecordOut; plan: PlanHandle; person: Person }) {
  const before = record.signatures.filter((row) => row.revision === record.install.revision);
  const done = before.map((row) => row.role);
  // Who signs after somebody else signs with their reasons.
  const said = new Set(before.flatMap((row) => row.reasons.map((entry) => entry.key)));
  const open = record.not_proved.filter((entry) => !said.has(entry.key));
  const left = ROLES.filter((role) => !done.includes(role) && (role !== "customer" || done.length > 0));
  const [chosen, setRole] = useState<Role | null>(null);
  const role = chosen && left.includes(chosen) ? chosen : left[0];
  const [typed, setName] = useState<string | null>(null);
  const name = typed ?? (role === "customer" ? "" : person.name);
  const [drawn, setDrawn] = useState<number[][]>([]);
  const [reasons, setReasons] = useState<Record<string, string>>({});
  const [without, setWithout] = useState(false);
  const missing = record.left;
  const parts = record.parts.filter((part) => open.some((entry) => entry.about === part.about));
  function sign(event: SubmitEvent) {
    event.preventDefault();
    const drawing = drawn.length ? drawn : null;
    plan.record("signatures", { revision: record.install.revision, name, reasons, role, drawn: drawing }, "Sign");
    setName(null);
    setDrawn([]);
  }
  const waiting = plan.outbox.waiting.some((write) => write.path.endsWith("/signatures"));
  if (!role) return null;
  if (record.stops.length > 0) return <p className="mt-2 text-stop">A plan that says stop cannot be signed.</p>;
  const form = (
    <form onSubmit={sign} className="mt-3">
      {missing > 0 && done.length === 0 && (
        <p className="mb-2 flex gap-2 text-warning">
          <Mark severity="warning" />
          {missing === 1 ? "One thing is" : `${missing} things are`} not recorded. The record will say so.
        </p>
      )}
      {parts.length > 0 && !without && (
        <>
          <p className="mb-3 flex gap-2 font-semibold text-stop">
            <Mark severity="stop" />
            {open.length === 1 ? "One thing is" : `${open.length} things are`} not proved. Do it at Start-up first.
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
              const mine = open.filter((entry) => entry.about === part.about);
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
        <>
          <fieldset className="flex flex-wrap items-center gap-x-5">
            <legend className="sr-only">Signed as</legend>
            {left.map((one) => (
              <label key={one} className="flex min-h-11 items-center gap-2">
                <input
                  type="radio"
                  name="role"
                  className="h-5 w-5 accent-ink"
                  checked={role === one}
                  onChange={() => setRole(one)}
                />
                {AS[one]}
              </label>
            ))}
          </fieldset>
          <Pad strokes={drawn} onChange={setDrawn} />
          <div className="mt-2 flex flex-wrap items-center gap-3">
            <input
              aria-label="Name under the record"
              placeholder={role === "customer" ? "the customer’s name" : ""}
              required
              maxLength={200}
              className={`${field} w-64 text-lg`}
              value={name}
              onChange={(event) => setName(event.target.value)}
            />
            <Button type="submit" kind="main" disabled={waiting}>
              Sign revision {record.install.revision}
            </Button>
          </div>
        </>
      )}
    </form>
  );
  if (!done.length) return form;
  return (
    <details className="mt-2 border-t border-rule">
      <summary className="min-h-11 cursor-pointer py-2 font-semibold">
        Let {left.map((one) => ALSO[one]).join(" or ")} sign too
      </summary>
      {form}
    </details>
  );
}

/** What a later revision changes of what was signed: who changed what, and which figures differ. */
function ChangedSince({ install, revision, now }: { install: string; revision: number; now: number }) {
  const [open, setOpen] = useState(false);
  const query = useQuery({
    queryKey: ["since", install, revision, now],
    enabled: open,
    queryFn: async () => {
      const path = { install_id: install, number: revision };
      return data(await api.GET("/api/installs/{install_id}/revisions/{number}/since", { params: { path } }));
    },
  });
  const found = query.data;
  return (
    <details className="mt-1" onToggle={(event) => setOpen(event.currentTarget.open)}>
      <summary className="min-h-11 cursor-pointer py-2 font-semibold text-warning">
        The plan has changed since: it is at revision {now}. What of it
      </summary>
      {query.isError && <p className="text-warning">Leitung does not answer. Nothing is lost.</p>}
      {found && (
        <>
          <ul className="text-sm">
            {found.edits.map((edit) => (
              <li key={edit.number} className="border-t border-rule py-1 first:border-0">
                <b>{edit.summary}</b> <span className="text-soft">{`${edit.author}, ${when(edit.at)}`}</span>
              </li>
            ))}
          </ul>
          <ul className="mt-2 text-sm">
            {found.comparison.figures.map((row) => (
              <li key={`${row.circuit} ${row.what}`} className="flex justify-between gap-4 py-0.5">
                <span>
                  <b>{row.circuit}</b> <span className="text-soft">{row.what}</span>
                </span>
                <span>
                  <span className="text-soft line-through">{row.before}</span> <b>{row.after}</b>
                </span>
              </li>
            ))}
            {found.comparison.comes.map((finding) => (
              <li key={`${finding.code} ${finding.about}`} className="flex gap-2 py-0.5 text-warning">
                <Mark severity={finding.severity} /> {finding.message}
              </li>
            ))}
          </ul>
        </>
      )}
    </details>
  );
}
