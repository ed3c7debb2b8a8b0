/** One round: what is asked, the answer, the verdict with its reasons, and on to the next. */
import { type FC, useEffect, useRef, useState } from "react";

import type { PracticeVerdict } from "../../api/client";
import { Button, Mark, NotShown } from "../../ui/parts";
import { Steps } from "../../ui/Steps";
import { FindFault } from "./FindFault";
import { type Given, judge, NOTHING, type Task } from "./judge";
import { LandCable } from "./LandCable";
import { OrderSteps } from "./OrderSteps";
import { ProveDead } from "./ProveDead";
import { SizePlate } from "./SizePlate";
import { useRound } from "./usePractice";
import { WhatRuns } from "./WhatRuns";
import { LEVELS } from "./words";

interface Props {
  id: string;
  onAnswer: (given: Given) => void;
  onNext: (() => void) | null;
  onEnd: () => void;
}

export interface AnswerProps<Of extends Task> {
  task: Of;
  onDone: (given: Given) => void;
}

const HOW: { [Level in Task["level"]]: FC<AnswerProps<Extract<Task, { level: Level }>>> } = {
  size: SizePlate,
  land: LandCable,
  runs: WhatRuns,
  fault: FindFault,
  dead: ProveDead,
  order: OrderSteps,
};

export function Played({ id, onAnswer, onNext, onEnd }: Props) {
  const query = useRound(id);
  const [verdict, setVerdict] = useState<PracticeVerdict | null>(null);
  const round = query.data;
  if (query.isError && !round) return <NotShown what="This round" />;
  if (!round) return <p className="mt-4 text-soft">Reading the round …</p>;
  const { task } = round;
  const How = HOW[task.level] as FC<AnswerProps<Task>>;
  const done = (given: Given) => {
    const filled = { ...NOTHING, ...given };
    setVerdict(judge(task, filled));
    onAnswer(filled);
  };
  return (
    <div className="max-w-3xl">
      <p className="mt-1 text-soft">
        {LEVELS[task.level]} · {round.of}
      </p>
      <h2 className="mt-1 text-xl font-bold">{round.ask}</h2>
      <div className={verdict ? "hidden" : ""}>
        <How task={task} onDone={done} />
      </div>
      {verdict && <Verdict verdict={verdict} task={task} onNext={onNext} onEnd={onEnd} />}
      {!verdict && (
        <button
          type="button"
          className="mt-6 min-h-11 text-soft underline decoration-faint underline-offset-4 hover:decoration-copper"
          onClick={onEnd}
        >
          Not now
        </button>
      )}
    </div>
  );
}

interface VerdictProps {
  verdict: PracticeVerdict;
  task: Task;
  onNext: (() => void) | null;
  onEnd: () => void;
}

function Verdict({ verdict, task, onNext, onEnd }: VerdictProps) {
  const head = useRef<HTMLHeadingElement>(null);
  useEffect(() => head.current?.focus(), []);
  const asked = task.level === "size" ? task.asked : [];
  return (
    <section aria-label="Verdict">
      <h3 ref={head} tabIndex={-1} className={`mt-5 text-2xl font-bold ${verdict.right ? "" : "text-stop"}`}>
        {verdict.right ? "Right" : "Not so"}
      </h3>
      <ol className="mt-2">
        {verdict.told.map(({ right, says }, at) => (
          <li key={at} className="border-t border-rule py-2 first:border-0">
            <p className={`flex gap-3 ${right ? "" : "font-semibold text-stop"}`}>
              <span className="w-6 shrink-0">
                {right ? <Right /> : <Mark severity="stop" />}
                <span className="sr-only">{right ? "right:" : "wrong:"}</span>
              </span>
              <span>{says}</span>
            </p>
            {asked[at] && (
              <details className="ml-9">
                <summary className="min-h-11 cursor-pointer py-2 text-soft">Why</summary>
                <Steps rows={asked[at].steps} />
              </details>
            )}
          </li>
        ))}
      </ol>
      {task.level === "fault" && <p className="mt-2 text-soft">What it does: {task.does}.</p>}
      {task.level === "dead" &&
        task.leaves.map((says) => (
          <p key={says} className="mt-1 text-soft">
            {says}
          </p>
        ))}
      <p className="mt-5 flex flex-wrap gap-3">
        {onNext && (
          <Button kind="main" onClick={onNext}>
            Next round
          </Button>
        )}
        <Button onClick={onEnd}>{onNext ? "Enough for now" : "Done"}</Button>
      </p>
    </section>
  );
}

/** An unbroken line: nothing cuts it. */
function Right() {
  return (
    <svg viewBox="0 0 24 24" width="22" height="22" aria-hidden>
      <path d="M0 12h24" stroke="currentColor" strokeWidth="3.5" />
    </svg>
  );
}
