/** Insulation colours as they are drawn. The name always stands beside the colour; a number alone is drawn grey. */
const FILLS: Record<string, string> = {
  black: "#2b2f33",
  white: "#fdfcf8",
  red: "#b3261e",
  green: "#3c7a3b",
  bare: "#b87333",
  copper: "#b87333",
  silver: "#b9bdc1",
  blue: "#2c5aa0",
  yellow: "#d9a800",
  brown: "#6b4423",
  orange: "#d97425",
  grey: "#8d9196",
  pink: "#d98aa5",
  violet: "#6d4a8f",
  tan: "#c8ab7d",
  "green-yellow": "#7d9a2f",
};

export function insulation(colour: string): string {
  const base = colour.split("/")[0] ?? "";
  return FILLS[base] ?? FILLS[base.replace(/-\d+$/, "")] ?? "#a9a499";
}

/** How the sort of voltage shows in a conductor's stroke: its weight, and what runs along it. */
export interface Stroke {
  width: number;
  /** A second stroke on top: ticks for a DC signal, a split for data, dots for a sensor. */
  over?: { dash?: string; width: number; colour: "ink" | "paper" };
  words: string;
}

export const STROKES: Record<string, Stroke> = {
  line: { width: 9, words: "line voltage" },
  signal: { width: 7, over: { dash: "7 9", width: 7, colour: "ink" }, words: "DC signal" },
  low: { width: 5, words: "24 V" },
  data: { width: 7, over: { width: 2, colour: "paper" }, words: "data" },
  sense: { width: 5, over: { dash: "2 7", width: 3, colour: "paper" }, words: "sensor" },
  dry: { width: 5, over: { dash: "1 12", width: 5, colour: "ink" }, words: "dry contact" },
  ground: { width: 6, over: { dash: "14 5", width: 2, colour: "paper" }, words: "ground" },
  none: { width: 4, words: "carries nothing" },
};

export function strokeOf(kind: string | null | undefined): Stroke {
  return STROKES[kind ?? "none"] ?? (STROKES.none as Stroke);
}
