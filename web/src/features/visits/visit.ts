/** The visit that is open, with what was entered here and is still on its way. */
import type { RecordOut } from "../../api/client";
import type { PlanHandle } from "../../plan/usePlan";

export type VisitRow = RecordOut["service"]["visits"][number];
export type ReadRow = VisitRow["readings"][number];
export type State = ReadRow["state"];

export interface OpenVisit {
  why: string;
  author: string | null;
  at: string | null;
  /** What the server has of it. */
  readings: readonly ReadRow[];
  /** What was read and is not sent yet, by place and state. */
  entered: ReadonlyMap<string, number>;
}

interface Body {
  why?: string;
  key?: string;
  state?: State;
  value?: number;
}

export const placeOf = (key: string, state: State) => `${state} ${key}`;

/** The visit that is open once everything that waits has gone out; null where none is. */
export function openVisit(record: RecordOut, waiting: PlanHandle["outbox"]["waiting"]): OpenVisit | null {
  const newest = record.service.visits[0];
  let open: OpenVisit | null =
    newest && newest.ended_at == null
      ? {
          why: newest.why,
          author: newest.author,
          at: newest.noted_at ?? newest.at,
          readings: newest.readings,
          entered: new Map(),
        }
      : null;
  for (const write of waiting) {
    const body = (write.body ?? {}) as Body;
    if (write.path.endsWith("/visits"))
      open = { why: body.why ?? "", author: null, at: null, readings: [], entered: new Map() };
    else if (write.path.endsWith("/visits/end")) open = null;
    else if (open && write.path.endsWith("/visits/readings") && body.key && body.state && body.value !== undefined)
      open = { ...open, entered: new Map([...open.entered, [placeOf(body.key, body.state), body.value]]) };
  }
  return open;
}
