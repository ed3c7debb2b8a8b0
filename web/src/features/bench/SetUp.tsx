/** What to set at each device, as it follows from the plan and its wiring; each setting made is recorded. */
import { useState } from "react";

import type { SettingOut } from "../../api/client";
import type { PlanHandle } from "../../plan/usePlan";
import { useRecord } from "../../plan/useRecord";
import { waitingFor } from "../../plan/waiting";
import { Button } from "../../ui/parts";
import { sentence } from "../../ui/text";
import { when } from "../../ui/when";

interface Props {
  system: string;
  plan: PlanHandle;
  canRecord: boolean;
}

export function SetUp({ system, plan, canRecord }: Props) {
  const record = useRecord(plan.plan?.install.id ?? "");
  if (!record.data) return <p className="mt-5 text-soft">Reading the record …</p>;
  const rows = record.data.set_up.filter((row) => row.system === system);
  const devices = [...new Set(rows.map((row) => row.device))];
  if (!rows.length) return <p className="mt-5 text-soft">Nothing in this system has a setting.</p>;
  return (
    <div className="mt-3 max-w-3xl">
      <p className="text-soft">
        {rows.filter((row) => row.done).length} of {rows.length} set. Each is kept in the record with who and when; a
        setting that the plan changes is asked for again.
      </p>
      {devices.map((device) => (
        <section key={device} aria-label={device} className="mt-4">
          <h2 className="text-lg font-bold">{device}</h2>
          <ul>
            {rows
              .filter((row) => row.device === device)
              .map((row) => (
                <Setting key={row.key} row={row} plan={plan} canRecord={canRecord} />
              ))}
          </ul>
        </section>
      ))}
    </div>
  );
}

function Setting({ row, plan, canRecord }: { row: SettingOut; plan: PlanHandle; canRecord: boolean }) {
  const [why, setWhy] = useState<string | null>(null);
  const last = row.entries.at(-1);
  const waiting = waitingFor(plan, row.key);
  const record = (done: boolean, reason: string | null) =>
    plan.record("settings", { key: row.key, done, reason }, `${row.device}: ${row.what}`);
  return (
    <li className="border-t border-rule">
      <label className="flex min-h-12 cursor-pointer items-center gap-4 py-1">
        <input
          type="checkbox"
          className="size-6 shrink-0 accent-copper"
          checked={row.done || waiting}
          disabled={!canRecord || waiting}
          onChange={() => (row.done ? setWhy("") : record(true, null))}
        />
        <span className="flex-1">
          {sentence(row.what)}: <b>{row.value}</b>
          <span className={`block text-sm ${row.as_planned === false ? "font-bold text-stop" : "text-soft"}`}>
            {row.as_planned === false ? "The plan says otherwise. " : ""}
            {sentence(row.why)}.
          </span>
          {last && (
            <span className="block text-sm text-soft">
              {last.done ? (row.done ? "set" : "was set to another value") : `taken back: ${last.reason}`} by{" "}
              {last.author}, {when(last.at)}
            </span>
          )}
          {waiting && <span className="block text-sm text-soft">kept here, not sent yet</span>}
        </span>
      </label>
      {why !== null && (
        <span className="flex flex-wrap gap-2 pb-3 pl-10">
          <input
            autoFocus
            aria-label="Why it is taken back"
            placeholder="why"
            className="min-h-11 grow border-b-2 border-ink/50 bg-sheet px-2"
            value={why}
            onChange={(event) => setWhy(event.target.value)}
          />
          <Button
            kind="main"
            disabled={!why.trim()}
            onClick={() => {
              record(false, why.trim());
              setWhy(null);
            }}
          >
            Take it back
          </Button>
          <Button onClick={() => setWhy(null)}>Leave it</Button>
        </span>
      )}
    </li>
  );
}
