/** Level 1: the plate and the run; three figures. */
import { type SubmitEvent, useState } from "react";

import { Button } from "../../ui/parts";
import { NOTHING, type TaskOf } from "./judge";
import type { AnswerProps } from "./Played";

const field = "min-h-11 w-28 border-b-2 border-ink/50 bg-sheet px-2 text-lg focus:border-copper";

export function SizePlate({ task, onDone }: AnswerProps<TaskOf<"size">>) {
  const [typed, setTyped] = useState<Record<string, string>>({});
  const [unread, setUnread] = useState<string | null>(null);
  function submit(event: SubmitEvent) {
    event.preventDefault();
    const figures: Record<string, number | string> = {};
    for (const { id, says, choices } of task.asked) {
      const text = typed[id]?.trim().replace(",", ".") ?? "";
      const value = choices.length ? text : Number(text);
      if (text === "" || (typeof value === "number" && !Number.isFinite(value))) {
        setUnread(`${says}: ${text ? `“${text}” is no figure` : "nothing entered"}. Write amperes, as 20 or 33.8.`);
        return;
      }
      figures[id] = value;
    }
    onDone({ ...NOTHING, figures });
  }
  return (
    <form onSubmit={submit}>
      <div className="mt-3 grid gap-x-8 gap-y-3 sm:grid-cols-2">
        <dl aria-label="The plate" className="border-2 border-ink/70 bg-sheet px-4 py-2">
          {task.plate.map(({ mark, value }, at) => (
            <div key={at} className="flex justify-between gap-4 border-t border-rule py-1 first:border-0">
              <dt>{mark}</dt>
              <dd className="text-right font-bold whitespace-nowrap">{value}</dd>
            </div>
          ))}
        </dl>
        <ul aria-label="The run" className="border-l-4 border-ink/70 pl-4">
          {task.run.map((says) => (
            <li key={says} className="py-1">
              {says}
            </li>
          ))}
        </ul>
      </div>
      {task.asked.map(({ id, says, unit, choices }) =>
        choices.length ? (
          <fieldset key={id} className="mt-4">
            <legend className="font-semibold">{says}</legend>
            <div className="mt-1 flex flex-wrap gap-2">
              {choices.map((choice) => (
                <Button
                  key={choice}
                  aria-pressed={typed[id] === choice}
                  className={typed[id] === choice ? "border-2 border-copper bg-sheet" : ""}
                  onClick={() => setTyped({ ...typed, [id]: choice })}
                >
                  {choice}
                </Button>
              ))}
            </div>
          </fieldset>
        ) : (
          <label key={id} className="mt-4 block sm:flex sm:items-baseline sm:gap-x-4">
            <span className="block font-semibold sm:w-72">{says}</span>
            <span>
              <input
                inputMode="decimal"
                autoComplete="off"
                maxLength={20}
                className={field}
                value={typed[id] ?? ""}
                onChange={(event) => setTyped({ ...typed, [id]: event.target.value })}
              />{" "}
              {unit}
            </span>
          </label>
        ),
      )}
      {unread && (
        <p role="alert" className="mt-3 text-warning">
          {unread}
        </p>
      )}
      <Button kind="main" type="submit" className="mt-5">
        That is it
      </Button>
    </form>
  );
}
