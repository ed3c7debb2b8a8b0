/** What stands at a panel, a device, a cable or a part of one: as the result says, gravest first. */
import type { Finding, PlanResult } from "./client";

export function findingsAt(result: PlanResult | undefined, address: string): Finding[] {
  return findingsOf(result, result?.stands[address] ?? []);
}

/** The findings with these keys, in their order. */
export function findingsOf(result: PlanResult | undefined, keys: readonly string[]): Finding[] {
  if (!result || !keys.length) return [];
  const byKey = indexed(result);
  return keys.flatMap((key) => byKey.get(key) ?? []);
}

const known = new WeakMap<readonly Finding[], Map<string, Finding>>();

function indexed({ findings }: PlanResult): Map<string, Finding> {
  const found = known.get(findings) ?? new Map(findings.map((finding) => [finding.key, finding]));
  known.set(findings, found);
  return found;
}
