/** The parts of a line, from source to unit, with the findings that stand on each. */
import { shown } from "../ui/units";
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
  /** The panel at the far end, where the line is a feeder. */
  fed: Source | undefined;
  result: CircuitResult | undefined;
  parts: Part[];
}

const FLEXIBLE = ["LFNC", "LFMC", "FMC"];

export function segmentsOf(circuit: Circuit): [string, Segment][] {
  return Object.entries(circuit.run ?? {}).sort(([a, one], [b, two]) => one.order - two.order || (a < b ? -1 : 1));
}

/**
 * The line of one circuit. The disconnect is drawn before a flexible whip at the end of the run, else at the unit; a
 * plug and its receptacle take its place; a feeder has none.
 */
export function lineOf(
  document: PlanDoc,
  circuitId: string,
  circuit: Circuit,
  result: CircuitResult | undefined,
  findings: Finding[],
): Line {
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
    name: segment.name ?? words(segment.place ?? "place not known"),
  }));
  const unit = circuit.equipment ? document.equipment?.[circuit.equipment] : undefined;
  const off: Part = {
    id: "disconnect",
    kind: "disconnect",
    path: `${base}/disconnect`,
    findings: [],
    name: unit?.cord_connected ? "receptacle and plug" : "disconnect",
  };
  const end = circuit.feeds ? `${base}/feeds` : `equipment/${circuit.equipment ?? ""}`;
  const tail: Part = { id: "unit", kind: "unit", path: end, findings: [], name: circuit.feeds ? "panel fed" : "unit" };
  const offs = circuit.feeds ? [] : [off];
  const parts: Part[] = [
    { id: "source", kind: "source", path: `sources/${circuit.source ?? ""}`, findings: [], name: "panel" },
    { id: "ocpd", kind: "ocpd", path: `${base}/ocpd`, findings: [], name: circuit.ocpd?.type ?? "breaker" },
    ...(whip ? [...runs.slice(0, -1), ...offs, ...runs.slice(-1)] : [...runs, ...offs]),
    tail,
  ];
  for (const finding of findings) partFor(parts, finding, base)?.findings.push(finding);
  return {
    circuitId,
    circuit,
    unit,
    fed: circuit.feeds ? document.sources?.[circuit.feeds] : undefined,
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
  if (about === `${base}/run` || about.startsWith(`${base}/egc`))
    return parts.find((p) => p.kind === "segment") ?? find("ocpd");
  if (about === `${base}/source`) return find("source");
  if (about.startsWith(`${base}/receptacle_a`) || about.startsWith(`${base}/other_outlets`))
    return find("disconnect") ?? find("unit");
  if (about === `${base}/poles`) return find("ocpd");
  return find("unit");
}

export function words(name: string): string {
  return name.replaceAll("_", " ");
}

/** The gravest severity on a part. */
export function gravest(findings: readonly Finding[]): Finding["severity"] | null {
  for (const severity of ["stop", "warning", "note"] as const)
    if (findings.some((f) => f.severity === severity)) return severity;
  return null;
}

/** The steps that explain a part. */
export function stepsFor(line: Line, part: Part): Step[] {
  const steps = line.result?.steps ?? [];
  const index = segmentsOf(line.circuit).findIndex(([id]) => id === part.segmentId);
  const wanted: Record<PartKind, string[]> = {
    source: [],
    ocpd: ["load", "ocpd"],
    segment: [`run[${index}]`, "run", "egc", "cord", "drop"],
    disconnect: ["disconnect"],
    unit: ["load", "drop"],
  };
  return wanted[part.kind].flatMap((name) => steps.filter((step) => step.part === name));
}

/** A figure as people say it. */
export function say(value: number | null | undefined, unit: string, places = 1): string {
  if (value == null) return "not known";
  const [figure, name] = shown(value, unit);
  const text = figure
    .toFixed(places)
    .replace(/(\.\d*?)0+$/, "$1")
    .replace(/\.$/, "");
  // A figure and its unit stay together.
  return name ? `${text}\u00a0${name}` : text;
}

export function saySize(size: string | null | undefined): string {
  if (!size) return "size not chosen";
  return /^\d+$/.test(size) && Number(size) >= 250 ? `${size} kcmil` : `${size} AWG`;
}

/** What is written at a part: above the line, boldly below it, and smaller under that. Spoken in the same order. */
export interface Caption {
  top: string;
  main: string;
  sub: string;
}

export function captionOf(line: Line, part: Part): Caption {
  const { circuit, source, unit, result } = line;
  switch (part.kind) {
    case "source": {
      const volts = result?.supply_v ?? source?.volts;
      const phase = result?.supply_phase ?? source?.phase;
      const supply = [volts ? say(volts, "V") : "volts not known", phase ? `${phase} phase` : ""];
      return { top: "", main: source?.name ?? "No source yet", sub: supply.filter(Boolean).join(", ") };
    }
    case "ocpd": {
      const spaces = circuit.ocpd?.spaces;
      return {
        top: "",
        main: circuit.ocpd?.rating_a == null ? "rating?" : say(circuit.ocpd.rating_a, "A"),
        sub: spaces?.length
          ? `${["space ", "spaces ", ""][spaces.length - 1] ?? ""}${spaces.join(", ")}`
          : source?.kind === "receptacle" || source?.kind === "pedestal"
            ? ""
            : "no spaces yet",
      };
    }
    case "segment": {
      const { segment } = part;
      const size = segment?.conductor ?? result?.segments[runIndex(line, part)]?.conductor;
      return {
        top: part.name,
        main: [size ? saySize(size) : "size?", segment?.method ?? "method?"].join(" "),
        sub:
          segment?.length_ft == null
            ? "length not known"
            : say(segment.length_ft, "ft") + (segment.raceway ? ` in ${segment.raceway}` : ""),
      };
    }
    case "disconnect": {
      if (unit?.cord_connected)
        return {
          top: "",
          main: circuit.receptacle_a == null ? "receptacle?" : `${say(circuit.receptacle_a, "A")} receptacle`,
          sub: circuit.other_outlets ? "among others" : "for this plug",
        };
      const off = circuit.disconnect;
      const sight = off?.in_sight === false ? "out of sight" : off?.in_sight ? "in sight" : "sight not known";
      return {
        top: "",
        main:
          off?.rating_a == null
            ? "off-switch?"
            : `${say(off.rating_a, "A")} ${off.type === "fused" ? "fused" : "off-switch"}`,
        sub: off?.distance_ft == null ? sight : `${sight}, ${say(off.distance_ft, "ft")}`,
      };
    }
    case "unit": {
      if (circuit.feeds)
        return {
          top: "feeds",
          main: line.fed?.name ?? circuit.feeds,
          sub: result?.running_a == null ? "load not known" : `${say(result.running_a, "A")} behind it`,
        };
      const top = [circuit.equipment ?? "no unit yet", unit?.place].filter(Boolean).join(", ");
      return { top, ...plateCaption(unit, result) };
    }
  }
}

/** What a unit's plate comes to: its mark, else its heat, else its current, else what must be carried. */
function plateCaption(unit: Unit | undefined, result: CircuitResult | undefined): { main: string; sub: string } {
  const plate = unit?.nameplate;
  const volts = plate?.volts ? `${plate.volts} V` : "volts?";
  const many = (unit?.quantity ?? 1) > 1 ? `${unit?.quantity ?? 1} × ` : "";
  if (plate?.mca_a != null)
    return { main: `${many}${say(plate.mca_a, "A", 2)} MCA`, sub: `max ${say(plate.max_ocpd_a, "A")}, ${volts}` };
  if (result?.min_ampacity_a == null) return { main: "no plate yet", sub: "type what it says" };
  const running = `runs at ${say(result.running_a, "A")}`;
  if (plate?.heat) return { main: `${many}${say(plate.heat.watts / 1000, "kW", 2)}`, sub: running };
  return { main: `${many}${say(result.running_a, "A", 2)}`, sub: `carry ${say(result.min_ampacity_a, "A")}, ${volts}` };
}

export function runIndex(line: Line, part: Part): number {
  return line.parts.filter((entry) => entry.kind === "segment").indexOf(part);
}

/** A part as a screen reader says it: what it is, what is written at it, what stands against it. */
export function spoken(line: Line, part: Part): string {
  const kind = {
    source: "Source",
    ocpd: line.circuit.ocpd?.type ?? "device",
    segment: "",
    disconnect: line.unit?.cord_connected ? "Receptacle" : "Disconnect",
    unit: line.circuit.feeds ? "Panel" : "Unit",
  }[part.kind];
  const { top, main, sub } = captionOf(line, part);
  const grave = gravest(part.findings);
  const findings = grave ? `${grave}: ${part.findings.map((finding) => finding.message).join(" ")}` : "";
  return [kind, top, main, sub, findings].filter(Boolean).join(" ");
}
