/** One setting of the set-up sheet, ticked once it is made at its device; taken back with a reason. */
import { useState } from "react";

import type { SettingOut } from "../api/client";
import type { PlanHandle } from "../plan/usePlan";
import { waitingFor } from "../plan/waiting";
import { Button } from "./parts";
import { sentence } from "./text";
import { when } from "./when";

export function SettingRow({ row, plan, canRecord }: { row: SettingOut; plan: PlanHandle; canRecord: boolean }) {
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
