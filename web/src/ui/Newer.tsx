/** A newer Leitung waits: it takes over when whoever works here says so. */
import { useSyncExternalStore } from "react";

import { Button } from "./parts";
import { newer, takeNewer } from "./shell";

export function Newer() {
  const waits = useSyncExternalStore(newer.subscribe, newer.read);
  if (!waits) return null;
  return (
    <div className="flex flex-wrap items-center gap-3 border-b border-rule bg-sheet px-5 py-2 md:px-7">
      <p className="grow">A newer Leitung is here. What you entered stays.</p>
      <Button onClick={takeNewer}>Load it</Button>
    </div>
  );
}
