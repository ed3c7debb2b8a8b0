import type { Sent } from "../api/client";

/** Why a write was not carried out. */
export function inWords(answer: Exclude<Sent<unknown>, { kind: "done" }>): string {
  if (answer.kind === "unreachable") return "Leitung does not answer. What you entered stays here; try again.";
  const errors = answer.problem.errors ?? [];
  return errors.map((e) => `${e.field}: ${e.message}. ${e.remedy}`).join(" ") || answer.problem.detail;
}
