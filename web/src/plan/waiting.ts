/** What was recorded here and is still on its way. */
import type { PlanHandle } from "./usePlan";

/** Whether an entry for that key is still on its way. */
export function waitingFor(plan: PlanHandle, key: string): boolean {
  return plan.outbox.waiting.some((write) => (write.body as { key?: string } | undefined)?.key === key);
}
