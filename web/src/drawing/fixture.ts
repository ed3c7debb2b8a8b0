/** A line as the server would draw it, for tests of what is drawn from it. */
import type { Circuit, CircuitResult, Finding, PartOfLine, PlanDoc, PlanResult, Segment } from "../api/client";
import { type Line, lineOf, words } from "./parts";

type At = Record<string, Finding["severity"]>;

/** `at`: which parts a finding stands on; `switchAt`: how many stretches lie before the disconnect. */
export function drawnLine(
  document: PlanDoc,
  id: string,
  circuit: Circuit,
  found: CircuitResult | undefined,
  at: At = {},
  switchAt = 99,
): Line {
  const segments = Object.entries(circuit.run ?? {}).sort(([, a], [, b]) => a.order - b.order);
  const part = (name: string, kind: PartOfLine["kind"], about: string, said: string): PartOfLine => ({
    ...{ id: name, kind, about, name: said, by_hand: false, flexible: false },
    findings: name in at ? [name] : [],
  });
  const runs = segments.map(([key, segment]: [string, Segment]) => ({
    ...part(
      `run/${key}`,
      "segment",
      `circuits/${id}/run/${key}`,
      segment.name ?? words(segment.place ?? "place not known"),
    ),
    flexible: segment.raceway === "LFNC",
  }));
  const off = circuit.feeds ? [] : [part("disconnect", "disconnect", `circuits/${id}/disconnect`, "disconnect")];
  const parts = [
    part("source", "source", `sources/${circuit.source ?? ""}`, "panel"),
    part("ocpd", "ocpd", `circuits/${id}/ocpd`, circuit.ocpd?.type ?? "breaker"),
    ...runs.slice(0, switchAt),
    ...off,
    ...runs.slice(switchAt),
    part("unit", "unit", `equipment/${circuit.equipment ?? ""}`, "unit"),
  ];
  const findings = Object.entries(at).map(([key, severity]) => ({
    ...{ key, severity, code: "x", about: key, message: "It is wrong.", article: "1.1", follows: [] },
  }));
  const cut = parts.find((entry) => at[entry.id] === "stop")?.id ?? null;
  const drawn = { [id]: { circuit: id, parts, cut, stop: cut, worst: null, taps: [] } };
  const result = { drawn, findings, circuits: found ? { [id]: found } : {} } as unknown as PlanResult;
  return lineOf(document, id, circuit, result);
}
