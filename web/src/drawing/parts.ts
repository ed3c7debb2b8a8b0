/** The parts of a line, as the server drew them, with what is typed and still on its way laid over them. */
import type {
  Circuit,
  CircuitResult,
  Finding,
  PartOfLine,
  PlanDoc,
  PlanResult,
  Segment,
  Source,
  Step,
  Unit,
} from "../api/client";
import { shown } from "../ui/units";
import { findingsOf } from "../api/findings";

export type PartKind = PartOfLine["kind"];

export interface Part {
  /** Unique on the line: source, ocpd, the segment's id after "run/" or the cable's after "cable/", disconnect, unit. */
  id: string;
  kind: PartKind;
  /** Where the part stands in the plan. */
  path: string;
  segmentId?: string;
  segment?: Segment;
  /** A stretch that is drawn as a cable of its own: it is changed there. */
  cable?: string;
  flexible?: boolean;
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
  /** The part at which a stop cuts the line, as the server says. */
  cut: string | null;
  /** One change that fills what is still to choose, as the server proposes it, and what it comes to. */
  proposal?: [Record<string, unknown>, string] | undefined;
}

export function segmentsOf(circuit: Circuit): [string, Segment][] {
  return Object.entries(circuit.run ?? {}).sort(([a, one], [b, two]) => one.order - two.order || (a < b ? -1 : 1));
}

/** The line of one circuit: its parts, findings and cut are the server's; segments follow what is typed at once. */
export function lineOf(document: PlanDoc, circuitId: string, circuit: Circuit, result: PlanResult | undefined): Line {
  const drawn = result?.drawn[circuitId];
  const parts = (drawn?.parts ?? bare(circuitId, circuit)).map((part): Part => {
    const segmentId = part.id.startsWith("run/") ? part.id.slice(4) : undefined;
    return {
      id: part.id,
      kind: part.kind,
      path: part.about,
      name: part.name,
      flexible: part.flexible,
      findings: findingsOf(result, part.findings),
      ...(segmentId ? { segmentId, segment: circuit.run?.[segmentId] } : {}),
      ...(part.by_hand ? { cable: part.cable ?? undefined, segment: part.stretch as Segment } : {}),
    };
  });
  return {
    circuitId,
    circuit,
    unit: circuit.equipment ? document.equipment?.[circuit.equipment] : undefined,
    fed: circuit.feeds ? document.sources?.[circuit.feeds] : undefined,
    source: circuit.source ? document.sources?.[circuit.source] : undefined,
    result: result?.circuits[circuitId],
    parts: withTyped(parts, circuitId, circuit),
    cut: drawn?.cut ?? null,
    proposal: drawn?.proposal ? [drawn.proposal, drawn.proposal_label ?? "Take what is proposed"] : undefined,
  };
}

/** A line that the server has not seen yet. */
function bare(circuitId: string, circuit: Circuit): PartOfLine[] {
  const base = `circuits/${circuitId}`;
  const part = (id: PartKind, about: string, name: string): PartOfLine => ({
    ...{ id, kind: id, about, name, findings: [], flexible: false, by_hand: false },
  });
  return [
    part("source", `sources/${circuit.source ?? ""}`, "panel"),
    part("ocpd", `${base}/ocpd`, circuit.ocpd?.type ?? "breaker"),
    ...(circuit.feeds ? [] : [part("disconnect", `${base}/disconnect`, "disconnect")]),
    part("unit", circuit.feeds ? `${base}/feeds` : `equipment/${circuit.equipment ?? ""}`, "unit"),
  ];
}

/** The parts with segments that were just put in, each after its neighbour, and without those just taken out. */
function withTyped(parts: Part[], circuitId: string, circuit: Circuit): Part[] {
  const found = parts.filter((part) => !part.segmentId || circuit.run?.[part.segmentId]);
  let before = found.findIndex((part) => part.kind === "ocpd");
  for (const [segmentId, segment] of segmentsOf(circuit)) {
    const at = found.findIndex((part) => part.segmentId === segmentId);
    if (at >= 0) before = at;
    else {
      const path = `circuits/${circuitId}/run/${segmentId}`;
      const name = segment.name ?? words(segment.place ?? "place not known");
      before += 1;
      found.splice(before, 0, {
        id: `run/${segmentId}`,
        kind: "segment",
        path,
        segmentId,
        segment,
        findings: [],
        name,
      });
    }
  }
  return found;
}

export function words(name: string): string {
  return name.replaceAll("_", " ");
}

/** Whether a finding only asks for what nobody has said yet. */
export function isOpen(finding: Finding): boolean {
  return finding.enter != null && finding.severity !== "stop";
}

/** The gravest severity on a part; what is still to enter is none. */
export function gravest(findings: readonly Finding[]): Finding["severity"] | null {
  for (const severity of ["stop", "warning", "note"] as const)
    if (findings.some((f) => f.severity === severity && !isOpen(f))) return severity;
  return null;
}

/** The steps that explain a part. */
export function stepsFor(line: Line, part: Part): Step[] {
  const steps = line.result?.steps ?? [];
  const index = runIndex(line, part);
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
      // What is only proposed is never drawn as known.
      const size = segment?.conductor;
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
