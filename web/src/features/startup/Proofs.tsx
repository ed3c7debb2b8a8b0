/** An interlock tried on the unit: the cause brought about once, every effect seen to stop or not. */
import { useState } from "react";

import type { TestOut } from "../../api/client";
import { Button, Mark } from "../../ui/parts";
import { when } from "../../ui/when";

const SAID = { passed: "stopped", failed: "did not stop", taken_back: "taken back" };

interface Props {
  tests: TestOut[];
  waiting: (key: string) => boolean;
  disabled: boolean;
  passes: boolean;
  onTried: (keys: string[], outcome: "passed" | "failed" | "taken_back", reason: string | null) => void;
}

export function Proofs({ tests, waiting, disabled, passes, onTried }: Props) {
  const [reason, setReason] = useState("");
  const open = tests.filter((test) => (test.outcome ?? "taken_back") === "taken_back" && !waiting(test.key));
  const blocked = tests.filter((test) => test.shown !== "stops");
  const free = open.filter((test) => test.shown === "stops");
  const mayTry = !disabled && (!passes || reason.trim() !== "");
  const tried = (keys: string[], outcome: "passed" | "failed") => {
    onTried(keys, outcome, reason.trim() || null);
    setReason("");
  };
  return (
    <div className="mb-2">
      <ul>
        {tests.map((test) => {
          const last = test.entries.at(-1);
          const word = test.outcome
            ? SAID[test.outcome]
            : waiting(test.key)
              ? "kept here, not sent yet"
              : test.void
                ? "tried, and wired otherwise since: prove it anew"
                : "not tried";
          return (
            <li key={test.key} className="flex min-h-11 flex-wrap items-center gap-x-3 border-t border-rule py-1">
              <b className="min-w-28">{test.effect}</b>
              <span
                className={`flex-1 ${test.outcome === "failed" ? "font-bold text-stop" : test.void ? "font-semibold text-warning" : ""}`}
              >
                {word}
                {last && (
                  <span className="text-sm text-soft">
                    {" "}
                    {last.author}, {when(last.noted_at ?? last.at)}
                    {last.reason && `: ${last.reason}`}
                  </span>
                )}
              </span>
              {free.includes(test) && (
                <Button disabled={!mayTry} onClick={() => tried([test.key], "failed")}>
                  {test.effect} did not stop
                </Button>
              )}
            </li>
          );
        })}
      </ul>
      {blocked.length > 0 && (
        <p className="flex gap-2 font-semibold text-stop">
          <Mark severity="stop" />
          On the bench {blocked.map((test) => test.effect).join(" and ")} does not stop. Mend the plan before it is
          tried.
        </p>
      )}
      {(passes || open.length < tests.length) && !disabled && (
        <input
          aria-label={passes ? "Why is it done before what it needs" : "Why it is taken back"}
          placeholder={passes ? "Why before what it needs" : "Why it is taken back"}
          className="my-1 min-h-12 w-full border-b-2 border-ink/50 bg-sheet px-2"
          value={reason}
          onChange={(event) => setReason(event.target.value)}
        />
      )}
      <div className="flex flex-wrap gap-2">
        {free.length > 0 && (
          <Button
            kind="main"
            className="min-h-16 text-lg"
            disabled={!mayTry}
            onClick={() =>
              tried(
                free.map((test) => test.key),
                "passed",
              )
            }
          >
            {free.length > 1 ? `All ${String(free.length)} stopped` : `The ${free[0]?.effect ?? ""} stopped`}
          </Button>
        )}
        {open.length < tests.length && !disabled && (
          <Button
            disabled={reason.trim() === ""}
            onClick={() => {
              const recorded = tests.filter((test) => test.outcome === "passed" || test.outcome === "failed");
              onTried(
                recorded.map((test) => test.key),
                "taken_back",
                reason.trim(),
              );
              setReason("");
            }}
          >
            Take it back
          </Button>
        )}
      </div>
    </div>
  );
}
