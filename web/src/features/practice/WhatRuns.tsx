/** Level 3: a state, and which of the loads are on in it. */
import { useState } from "react";

import { Button } from "../../ui/parts";
import { NOTHING, type TaskOf } from "./judge";
import type { AnswerProps } from "./Played";
import { Switches } from "./Switches";

export function WhatRuns({ task, onDone }: AnswerProps<TaskOf<"runs">>) {
  const [chosen, setChosen] = useState<readonly string[]>([]);
  return (
    <>
      <p className="mt-3 border-l-4 border-copper bg-sheet px-4 py-3 text-lg font-semibold">{task.state}</p>
      <Switches label="What runs" rows={task.watched} on={chosen} onChange={setChosen} words={["still", "runs"]} />
      <Button kind="main" className="mt-5" onClick={() => onDone({ ...NOTHING, chosen })}>
        That is it
      </Button>
    </>
  );
}
