/** A new panel, to be named and read off its label. */
import { nextId } from "./ids";
import type { PlanHandle } from "./usePlan";

/** Adds it to the plan and gives its id. */
export function addPanel(plan: PlanHandle): string {
  const fresh = nextId("P", plan.document?.sources);
  plan.change({ sources: { [fresh]: { kind: "panel", name: "New panel" } } }, "Add a panel");
  return fresh;
}
