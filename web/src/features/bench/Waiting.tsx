/** What stands in place of a report that is not there yet: how far it is, and what can be done. */
import type { ReactNode } from "react";

import type { Report } from "../../api/client";
import { Button } from "../../ui/parts";
import { type AnalysisHandle, isWaiting } from "./useAnalysis";

interface Props {
  handle: AnalysisHandle;
  children: (report: Report) => ReactNode;
}

export function Waiting({ handle, children }: Props) {
  const { analysis, refused } = handle;
  if (analysis?.report) return <>{children(analysis.report)}</>;
  if (refused)
    return (
      <div className="mt-5">
        <p className="text-warning">{refused}</p>
        <Button className="mt-3" onClick={handle.ask}>
          Try again
        </Button>
      </div>
    );
  if (!analysis || isWaiting(analysis)) {
    const share = Math.round((analysis?.share ?? 0) * 100);
    return (
      <div className="mt-6 max-w-xl">
        <p className="text-lg">
          {analysis?.status === "running"
            ? "Carrying every single mistake through every call …"
            : "Waiting for its turn …"}
        </p>
        <div
          role="progressbar"
          aria-label="How far it is"
          aria-valuenow={share}
          aria-valuemin={0}
          aria-valuemax={100}
          className="mt-2 h-3 border-2 border-ink"
        >
          <div className="h-full bg-copper" style={{ width: `${share}%` }} />
        </div>
        <Button className="mt-4" onClick={handle.cancel} disabled={!analysis}>
          Stop it
        </Button>
      </div>
    );
  }
  const words = {
    cancelled: "It was stopped before it was done.",
    failed: "It broke off. The plan is as it was.",
    stalled: "Nothing has been heard of it for two minutes: what works it out has stopped.",
  }[analysis.status as "cancelled" | "failed" | "stalled"];
  return (
    <div className="mt-5">
      <p>{words}</p>
      {analysis.why && <p className="mt-1 text-sm text-soft">What was in the way: {analysis.why}</p>}
      <Button className="mt-3" kind="main" onClick={handle.ask}>
        Start again
      </Button>
    </div>
  );
}
