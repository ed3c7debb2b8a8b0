/** Where each part of a line is drawn. Lengths in px at the drawing's own scale. */
import type { Line, Part } from "./parts";

export const BUS_X = 9;
export const AXIS_Y = 84;
export const HEIGHT = 160;
const BREAKER = 126;
const SWITCH = 112;
const UNIT = 152;
const DROP = 50;
export const LEAST_SEGMENT = 122;
/** A run without segments still has its stretch of line. */
export const OPEN_RUN = 180;

export interface Placed {
  part: Part;
  /** The part's stretch of the line. */
  x0: number;
  x1: number;
  /** Where a leader to a finding leaves it. */
  at: number;
  /** Where a stop on it cuts the line. */
  cut: number;
}

export interface Layout {
  width: number;
  placed: Placed[];
  /** From this x on the line is unfed, or null. */
  cutAt: number | null;
}

/** The narrowest width at which the labels of this line do not collide. */
export function leastWidth(line: Line): number {
  const segments = line.parts.filter((part) => part.kind === "segment").length;
  return BUS_X + BREAKER + (segments ? segments * LEAST_SEGMENT : OPEN_RUN) + SWITCH + UNIT + DROP;
}

export function layoutOf(line: Line, wanted: number): Layout {
  const width = Math.max(wanted, leastWidth(line));
  const segments = line.parts.filter((part) => part.kind === "segment");
  const room = width - BUS_X - BREAKER - SWITCH - UNIT - DROP;
  const shares = segmentShares(segments, room);
  let x = BUS_X;
  const placed = line.parts.map((part): Placed => {
    if (part.kind === "source") return { part, x0: 0, x1: BUS_X, at: BUS_X, cut: BUS_X + 22 };
    const length = {
      ocpd: BREAKER,
      segment: shares.get(part.id) ?? LEAST_SEGMENT,
      disconnect: SWITCH + (segments.length ? 0 : room),
      unit: UNIT,
    }[part.kind];
    const x0 = x;
    x += length;
    const at = part.kind === "ocpd" ? x0 + 65 : part.kind === "segment" ? x0 + 26 : x0 + length / 2;
    const cut = { ocpd: x0 + 101, segment: at, disconnect: x0 + 14, unit: x0 - 16 }[part.kind];
    return { part, x0, x1: x, at, cut };
  });
  const cut = placed.find(({ part }) => part.id === line.cut);
  return { width, placed, cutAt: cut?.cut ?? null };
}

/** Longer stretches get more of the room, but none less than its labels need. */
function segmentShares(segments: Part[], room: number): Map<string, number> {
  const spare = Math.max(0, room - segments.length * LEAST_SEGMENT);
  const weights = segments.map((part) => Math.sqrt(part.segment?.length_ft ?? 9) || 1);
  const total = weights.reduce((sum, weight) => sum + weight, 0) || 1;
  return new Map(segments.map((part, i) => [part.id, LEAST_SEGMENT + (spare * (weights[i] ?? 1)) / total]));
}

/** Stroke width of a conductor: in proportion to its diameter, so that the eye compares what the hand would. */
export function weight(areaCmil: number | null | undefined): number {
  return areaCmil ? Math.min(15, Math.max(2.5, Math.sqrt(areaCmil) / 18)) : 2.5;
}
