/** Level 5: what is opened before a hand goes in, and the proof in its order. */
import { useState } from "react";

import { Button } from "../../ui/parts";
import { NOTHING, type TaskOf } from "./judge";
import { Ordered } from "./OrderSteps";
import type { AnswerProps } from "./Played";
import { Switches } from "./Switches";

export function ProveDead({ task, onDone }: AnswerProps<TaskOf<"dead">>) {
  const { device, options } = task.mend;
  const [closed, setClosed] = useState<readonly string[]>(options.map(({ id }) => id));
  const [order, setOrder] = useState<readonly string[]>([]);
  const opened = options.map(({ id }) => id).filter((id) => !closed.includes(id));
  return (
    <>
      <p className="mt-3 border-l-4 border-copper bg-sheet px-4 py-3 text-lg font-semibold">
        A hand is to go in at {device}.
      </p>
      <h3 className="mt-5 font-bold">Open and locked</h3>
      <Switches label="Open and locked" rows={options} on={closed} onChange={setClosed} words={["open", "closed"]} />
      <h3 className="mt-5 font-bold">The proof</h3>
      <Ordered steps={task.steps} order={order} onChange={setOrder} />
      <Button
        kind="main"
        className="mt-5"
        disabled={order.length < task.steps.length}
        onClick={() => onDone({ ...NOTHING, opened, order })}
      >
        Hand in
      </Button>
    </>
  );
}
