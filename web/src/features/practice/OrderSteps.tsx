/** Level 6: steps tapped one after the other, in the order in which they are to be done. */
import { useState } from "react";

import { Button } from "../../ui/parts";
import { NOTHING, type TaskOf } from "./judge";
import type { AnswerProps } from "./Played";

export function OrderSteps({ task, onDone }: AnswerProps<TaskOf<"order">>) {
  const [order, setOrder] = useState<readonly string[]>([]);
  return (
    <>
      <Ordered steps={task.steps} order={order} onChange={setOrder} />
      <Button
        kind="main"
        className="mt-5"
        disabled={order.length < task.steps.length}
        onClick={() => onDone({ ...NOTHING, order })}
      >
        That is it
      </Button>
    </>
  );
}

interface Props {
  steps: readonly { id: string; says: string }[];
  order: readonly string[];
  onChange: (order: string[]) => void;
}

export function Ordered({ steps, order, onChange }: Props) {
  return (
    <>
      <p className="mt-2 text-soft">Press them one after the other. Pressed again, a step is taken out.</p>
      <ol aria-label="The steps" className="mt-2">
        {steps.map(({ id, says }) => {
          const at = order.indexOf(id);
          return (
            <li key={id} className="border-t border-rule first:border-0">
              <button
                type="button"
                aria-pressed={at >= 0}
                className="flex min-h-12 w-full items-center gap-3 py-2 text-left hover:bg-sheet"
                onClick={() => onChange(at >= 0 ? order.filter((other) => other !== id) : [...order, id])}
              >
                <span
                  className={`flex h-9 w-9 shrink-0 items-center justify-center text-lg font-bold ${at >= 0 ? "bg-ink text-sheet" : "border border-ink/40"}`}
                >
                  {at >= 0 ? at + 1 : ""}
                </span>
                <span className={at >= 0 ? "" : "font-semibold"}>{says}</span>
              </button>
            </li>
          );
        })}
      </ol>
    </>
  );
}
