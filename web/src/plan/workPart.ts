/** A part of the work as it is called: a source, a line or the head of a system by its id. */
import type { RecordOut } from "../api/client";

export type WorkPart = RecordOut["parts"][number];

export function idOf(part: WorkPart): string {
  return part.about === "site" ? "Site" : part.about.slice(part.about.indexOf("/") + 1);
}
