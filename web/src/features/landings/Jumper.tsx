/** A jumper between two terminals of one device: put in to stay, or for a test that has to end. */
import { useState } from "react";

import type { PlanHandle } from "../../plan/usePlan";
import { Button } from "../../ui/parts";
import { putJumper } from "./edits";

interface Props {
  device: string;
  terminals: { ref: string; label: string }[];
  plan: PlanHandle;
}

const FIELD = "min-h-11 rounded-sm border border-ink/60 bg-paper px-3";

export function Jumper({ device, terminals, plan }: Props) {
  const [ends, setEnds] = useState<[string, string] | null>(null);
  const first = terminals[0]?.ref;
  const second = terminals[1]?.ref;
  if (!first || !second) return null;
  if (!ends) return <Button onClick={() => setEnds([first, second])}>Put in a jumper</Button>;
  const put = (forTest: boolean) => {
    if (plan.document) plan.change(putJumper(plan.document, ...ends, forTest).patch, `Jumper at ${device}`);
    setEnds(null);
  };
  const pick = (index: 0 | 1, label: string) => (
    <select
      aria-label={label}
      className={FIELD}
      value={ends[index]}
      onChange={(event) => setEnds(index === 0 ? [event.target.value, ends[1]] : [ends[0], event.target.value])}
    >
      {terminals.map((terminal) => (
        <option key={terminal.ref} value={terminal.ref}>
          {terminal.label}
        </option>
      ))}
    </select>
  );
  const same = ends[0] === ends[1];
  return (
    <div className="basis-full border-l-4 border-copper bg-sheet px-4 py-3">
      <p className="flex flex-wrap items-center gap-2">
        Jumper from {pick(0, "Jumper from")} to {pick(1, "Jumper to")}
      </p>
      {same && <p className="mt-2 text-warning">Both ends are on one terminal. Choose another for one of them.</p>}
      <div className="mt-3 flex flex-wrap gap-2">
        <Button kind="main" disabled={same} onClick={() => put(false)}>
          It stays
        </Button>
        <Button disabled={same} onClick={() => put(true)}>
          For a test
        </Button>
        <Button onClick={() => setEnds(null)}>Not now</Button>
      </div>
    </div>
  );
}
