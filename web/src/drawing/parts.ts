/** The parts of a line, from source to unit, with the findings that stand on each. */
import type { Circuit, CircuitResult, Finding, PlanDoc, Segment, Source, Step, Unit } from "../api/client";

export type PartKind = "source" | "ocpd" | "segment" | "disconnect" | "unit";

export interface Part {
  /** Unique on the line: source, ocpd, the segment's id after "run/", disconnect, unit. */
  id: string;
  kind: PartKind;
  /** Where the part stands in the plan. */
  path: string;
  segmentId?: string;
  segment?: Segment;
  findings: Finding[];
  name: string;
}

export interface Line {
  circuitId: string;
  circuit: Circuit;
  unit: Unit | undefined;
  source: Source | undefined;
  result: CircuitResult | undefined;
  parts: Part[];
}

const FLEXIBLE = ["LFNC", "LFMC", "FMC"];

export function segmentsOf(circuit: Circuit): [string, Segment][] {
  return Object.entries(circuit.run ?? {}).sort(([a, one], [b, two]) => one.order - two.order || (a < b ? -1 : 1));
}

/** The line of one circuit. The disconnect is drawn before a flexible whip at the end of the run, else at the unit. */
export function lineOf(document: PlanDoc, circuitId: string, circuit: Circuit, result: CircuitResult | undefined, findings: Finding[]): Line {
  const segments = segmentsOf(circuit);
  const last = segments.at(-1);
  const whip = last && segments.length > 1 && FLEXIBLE.includes(last[1].raceway ?? "");
  const base = `circuits/${circuitId}`;
  const runs: Part[] = segments.map(([segmentId, segment]) => ({
    id: `run/${segmentId}`,
    kind: "segment",
    path: `${base}/run/${segmentId}`,
    segmentId,
    segment,
    findings: [],
    name: segment.name ?? words(segment.place ?? "segment"),
  }));
  const off: Part = { id: "disconnect", kind: "disconnect", path: `${base}/disconnect`, findings: [], name: "disconnect" };
  const parts: Part[] = [
    { id: "source", kind: "source", path: `sources/${circuit.source ?? ""}`, findings: [], name: "panel" },
    { id: "ocpd", kind: "ocpd", path: `${base}/ocpd`, findings: [], name: circuit.ocpd?.type ?? "breaker" },
    ...(whip ? [...runs.slice(0, -1), off, ...runs.slice(-1)] : [...runs, off]),
    { id: "unit", kind: "unit", path: `equipment/${circuit.equipment ?? ""}`, findings: [], name: "unit" },
  ];
  for (const finding of findings) partFor(parts, finding, base)?.findings.push(finding);
  return {
    circuitId,
    circuit,
    unit: circuit.equipment ? document.equipment?.[circuit.equipment] : undefined,
    source: circuit.source ? document.sources?.[circuit.source] : undefined,
    result,
    parts,
  };
}

function partFor(parts: Part[], finding: Finding, base: string): Part | undefined {
  const { about } = finding;
  const exact = parts.find((part) => part.path && (about === part.path || about.startsWith(`${part.path}/`)));
  if (exact) return exact;
  const find = (id: string) => parts.find((part) => part.id === id);
  if (about === `${base}/run` || about.startsWith(`${base}/egc`)) return parts.find((p) => p.kind === "segment") ?? find("ocpd");
  if (about === `${base}/source`) return find("source");
  return find("unit");
}

export function words(name: string): string {
  return name.replaceAll("_", " ");
}

/** The gravest severity on a part. */
export function gravest(findings: readonly Finding[]): Finding["severity"] | null {
  for (const severity of ["stop", "warning", "note"] as const) if (findings.some((f) => f.severity === severity)) return severity;
  return null;
}

/** The steps that explain a part. */
export function stepsFor(line: Line, part: Part): Step[] {
  const steps = line.result?.steps ?? [];
  const index = segmentsOf(line.circuit).findIndex(([id]) => id === part.segmentId);
  const wanted: Record<PartKind, string[]> = {
    source: [],
    ocpd: ["load", "ocpd"],
    segment: [`run[${index}]`, "run", "egc", "drop"],
    disconnect: ["disconnect"],
    unit: ["load", "drop"],
  };
  return wanted[part.kind].flatMap((name) => steps.filter((step) => step.part === name));
}

/** A figure as people say it. */
export function say(value: number | null | undefined, unit: string, places = 1): string {
  if (value == null) return "not known";
  const text = value.toFixed(places).replace(/(\.\d*?)0+$/, "$1").replace(/\.$/, "");
  // A figure and its unit stay together.
  return unit ? `${text}\u00a0${unit}` : text;
}

export function saySize(size: string | null | undefined): string {
  if (!size) return "size not chosen";
  return /^\d+$/.test(size) && Number(size) >= 250 ? `${size} kcmil` : `${size} AWG`;
}
