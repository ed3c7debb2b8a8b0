/** The row of a line among many keeps the grammar of the large drawing; feeders and plugs end as what they are. */
import { renderToStaticMarkup } from "react-dom/server";
import { expect, test } from "vitest";

import type { Circuit, CircuitResult, Finding, PlanDoc, Segment } from "../api/client";
import { CompactLine, placeCompact } from "./CompactLine";
import { LineDrawing } from "./LineDrawing";
import { drawnLine } from "./fixture";
import { captionOf } from "./parts";

const document = {
  name: "Plant",
  sources: {
    MP: { kind: "panel", name: "Main panel", volts: 208, phase: 3, volts_to_ground: 120 },
    VP: { kind: "subpanel", name: "Vault panel", volts: 208, phase: 3 },
    TP: { kind: "pedestal", name: "Pedestal", volts: 120, phase: 1 },
  },
  equipment: {
    "UH-1": { kind: "unit_heater", place: "bay", nameplate: { volts: "240", heat: { watts: 7500, rated_volts: 240 } } },
    "DH-1": { kind: "dehumidifier", cord_connected: true, nameplate: { volts: "115", amps: 9.4 } },
    "RU-1": { kind: "roof_unit_120v", quantity: 2, nameplate: { volts: "115", mca_a: 17.9, max_ocpd_a: 20 } },
  },
} as unknown as PlanDoc;
const result = {
  supply_v: 208,
  supply_phase: 1,
  running_a: 31.25,
  min_ampacity_a: 39.06,
  voltage_drop_pct: 0.94,
  segments: [{ conductor: "8", area_cmil: 16510 }],
  steps: [],
} as unknown as CircuitResult;
const run = { s1: { order: 10, method: "NM-B", conductor: "8", place: "interior", length_ft: 46 } } as Record<
  string,
  Segment
>;

function line(
  circuit: Circuit,
  at: Record<string, Finding["severity"]> = {},
  found: CircuitResult | undefined = result,
) {
  return drawnLine(document, "C", circuit, found, at);
}

const heater = line({
  source: "MP",
  equipment: "UH-1",
  ocpd: { rating_a: 40, spaces: [5, 7] },
  disconnect: { rating_a: 60 },
  run,
});
const feeder = line({ source: "MP", feeds: "VP", ocpd: { rating_a: 80, spaces: [12, 14, 16] }, run });
const plug = line({ source: "VP", equipment: "DH-1", receptacle_a: 15, other_outlets: true, run });

function drawn(entry: ReturnType<typeof line>, width = 800): string {
  return renderToStaticMarkup(<CompactLine line={entry} width={width} />);
}

test("a row says device, conductor, length, unit and drop", () => {
  const text = drawn(heater).replace(/<[^>]+>/g, "|");
  for (const words of [
    "40\u00a0A",
    "8 AWG NM-B",
    "46\u00a0ft, interior",
    "7.5\u00a0kW",
    "runs at 31.3\u00a0A",
    "0.9\u00a0% drop",
  ])
    expect(text).toContain(words);
});

test("a stop cuts it and leaves the rest unfed; without one nothing is cut", () => {
  const cut = line({ source: "MP", equipment: "UH-1", run }, { "run/s1": "stop" });
  expect(drawn(cut)).toContain("data-cut");
  expect(drawn(heater)).not.toContain("data-cut");
});

test("what is not known is dashed and asked for", () => {
  const bare = drawnLine(document, "C", { source: "MP", run: { s1: { order: 10 } } }, undefined);
  const svg = drawn(bare);
  expect(svg).toContain("stroke-dasharray");
  for (const words of ["rating?", "size?", "length?"]) expect(svg).toContain(words);
});

test.each([330, 520, 800, 1200])("at %d px the parts follow each other and end at the unit", (width) => {
  const { placed, end } = placeCompact(heater, width);
  placed.slice(1).forEach((entry, index) => expect(entry.x0).toBeCloseTo(placed[index]?.x1 ?? 0));
  expect(placed.at(-1)?.x1).toBeCloseTo(end);
  expect(end).toBeLessThan(width);
});

test("a feeder ends at a panel and has no disconnect", () => {
  expect(feeder.parts.map((part) => part.id)).toEqual(["source", "ocpd", "run/s1", "unit"]);
  const end = feeder.parts.at(-1);
  expect(end && captionOf(feeder, end)).toEqual({ top: "feeds", main: "Vault panel", sub: "31.3\u00a0A behind it" });
  expect(renderToStaticMarkup(<LineDrawing line={feeder} width={900} />)).toContain("Vault panel");
});

test("a plug stands where the disconnect would", () => {
  const shown = plug.parts.find((part) => part.kind === "disconnect");
  expect(shown && captionOf(plug, shown)).toEqual({ top: "", main: "15\u00a0A receptacle", sub: "among others" });
});

test.each([
  ["UH-1", { main: "7.5\u00a0kW", sub: "runs at 31.3\u00a0A" }],
  ["DH-1", { main: "31.25\u00a0A", sub: "carry 39.1\u00a0A, 115 V" }],
  ["RU-1", { main: "2 × 17.9\u00a0A MCA", sub: "max 20\u00a0A, 115 V" }],
])("the plate of %s in a few words", (equipment, caption) => {
  const entry = line({ source: "MP", equipment, run });
  const unit = entry.parts.at(-1);
  expect(unit && captionOf(entry, unit)).toMatchObject(caption);
});

test("the supply is the circuit's own, spaces are short where there are three, and a pedestal has none", () => {
  const source = heater.parts[0];
  expect(source && captionOf(heater, source)).toMatchObject({ main: "Main panel", sub: "208\u00a0V, 1 phase" });
  const breaker = (entry: typeof heater) => {
    const found = entry.parts.find((part) => part.kind === "ocpd");
    return found && captionOf(entry, found).sub;
  };
  expect(breaker(heater)).toBe("spaces 5, 7");
  expect(breaker(feeder)).toBe("12, 14, 16");
  expect(breaker(line({ source: "TP", equipment: "RU-1", run }))).toBe("");
  expect(breaker(line({ source: "MP", equipment: "UH-1", run }))).toBe("no spaces yet");
});
