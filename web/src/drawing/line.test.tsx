/** The drawn line: what is known, unknown, stopped and selected can be seen, and nothing overlaps. */
import { renderToStaticMarkup } from "react-dom/server";
import { expect, test } from "vitest";

import type { Circuit, CircuitResult, Finding, PlanDoc, PlanResult, Segment } from "../api/client";
import { drawnLine } from "./fixture";
import { BUS_X, layoutOf, leastWidth, weight } from "./layout";
import { LineDrawing } from "./LineDrawing";
import { captionOf, type Line, lineOf, say, saySize, spoken, stepsFor } from "./parts";

const circuit: Circuit = {
  source: "PA",
  equipment: "OU-1",
  ocpd: { rating_a: 15, type: "breaker", spaces: [14, 16] },
  disconnect: { rating_a: 30, type: "nonfused", in_sight: true, distance_ft: 5 },
  run: {
    s2: { order: 20, method: "THWN-2", raceway: "LFNC", conductor: "12", place: "outdoor", length_ft: 3, name: "whip" },
    s1: { order: 10, method: "NM-B", conductor: "12", place: "interior", length_ft: 38 },
  },
};

const document = {
  name: "Workshop",
  sources: { PA: { kind: "panel", name: "Panel A", volts: 240, phase: 1 } },
  equipment: {
    "OU-1": {
      kind: "mini_split_outdoor",
      place: "north wall",
      strips: {},
      nameplate: { mca_a: 11, max_ocpd_a: 15, volts: "208/230" },
    },
  },
  circuits: { "MS-1": circuit },
} as unknown as PlanDoc;

const result = {
  voltage_drop_pct: 0.84,
  segments: [
    { about: "s1", conductor: "12", area_cmil: 6530 },
    { about: "s2", conductor: "12", area_cmil: 6530 },
  ],
  steps: [
    { part: "load", what: "Conductors must carry" },
    { part: "ocpd", what: "The plate allows at most" },
    { part: "run[0]", what: "first" },
    { part: "run[1]", what: "second" },
    { part: "run", what: "least" },
  ],
} as unknown as CircuitResult;

function line(at: Record<string, Finding["severity"]> = {}, changed: Circuit = circuit): Line {
  return drawnLine(document, "MS-1", changed, result, at, 1);
}

function draw(drawn: Line, selected?: string): string {
  return renderToStaticMarkup(<LineDrawing line={drawn} width={900} selected={selected} onSelect={() => undefined} />);
}

test("what is typed and not yet answered is drawn at once, at its place", () => {
  const ids = (typed: Circuit) => {
    const seen = { drawn: { "MS-1": { parts: partsSeen } }, findings: [], circuits: {} } as unknown as PlanResult;
    return lineOf(document, "MS-1", typed, seen).parts.map((part) => part.id);
  };
  const partsSeen = line().parts.map((part) => ({ ...part, about: part.path, findings: [] }));
  expect(ids(circuit)).toEqual(["source", "ocpd", "run/s1", "disconnect", "run/s2", "unit"]);
  const { s1, s2 } = circuit.run as Record<string, Segment>;
  expect(ids({ ...circuit, run: { s1, s3: { order: 15 }, s2 } as Record<string, Segment> })).toEqual([
    "source",
    "ocpd",
    "run/s1",
    "run/s3",
    "disconnect",
    "run/s2",
    "unit",
  ]);
  expect(ids({ ...circuit, run: { s2 } as Record<string, Segment> })).not.toContain("run/s1");
  expect(lineOf(document, "NEW", circuit, undefined).parts.map((part) => part.id)).toEqual([
    "source",
    "ocpd",
    "run/s1",
    "run/s2",
    "disconnect",
    "unit",
  ]);
});

test.each([400, 819, 900, 1600])("at %i px the parts follow each other without gap or overlap", (width) => {
  const layout = layoutOf(line(), width);
  expect(layout.width).toBe(Math.max(width, leastWidth(line())));
  const along = layout.placed.slice(1);
  expect(along[0]?.x0).toBe(BUS_X);
  for (const [index, placed] of along.entries()) {
    expect(placed.x1).toBeGreaterThan(placed.x0);
    if (index > 0) expect(placed.x0).toBeCloseTo(along[index - 1]?.x1 ?? NaN);
  }
  expect(along.at(-1)?.x1).toBeLessThanOrEqual(layout.width);
});

test("a stop cuts the line at its part, and the gravest nearest to the source counts", () => {
  expect(layoutOf(line(), 900).cutAt).toBeNull();
  expect(draw(line())).not.toContain("data-cut");
  const cut = layoutOf(line({ "run/s2": "stop", disconnect: "stop" }), 900);
  const disconnect = cut.placed.find((placed) => placed.part.id === "disconnect");
  expect(cut.cutAt).toBeGreaterThanOrEqual(disconnect?.x0 ?? NaN);
  expect(cut.cutAt).toBeLessThan(disconnect?.x1 ?? NaN);
  expect(draw(line({ ocpd: "stop" }))).toContain("data-cut");
  expect(layoutOf(line({ ocpd: "warning" }), 900).cutAt).toBeNull();
});

test("a warning bends its part, a whip waves, the unknown is dashed", () => {
  const bend = /l7 -14h13l7 14/;
  expect(draw(line())).not.toMatch(bend);
  expect(draw(line({ "run/s1": "warning" }))).toMatch(bend);
  expect(draw(line())).toMatch(/q[\d.]+ -12/);
  expect(draw(line())).not.toContain('stroke-dasharray="9 7"');
  const open: Circuit = { ...circuit, run: { s1: { order: 1, method: "NM-B" } } };
  expect(draw(line({}, open))).toContain('stroke-dasharray="9 7"');
  expect(draw(line({}, { ...circuit, run: {} }))).toContain('stroke-dasharray="9 7"');
  const bare = { ...document, equipment: { "OU-1": { kind: "mini_split_outdoor", strips: {} } } } as unknown as PlanDoc;
  expect(draw(drawnLine(bare, "MS-1", circuit, undefined))).toContain("no plate yet");
});

test("line weight follows the conductor's diameter", () => {
  const [fourteen, twelve, four] = [weight(4110), weight(6530), weight(41740)];
  expect(twelve / fourteen).toBeCloseTo(Math.sqrt(6530 / 4110));
  expect(four).toBeGreaterThan(twelve);
  expect(weight(null)).toBe(2.5);
  expect(weight(1e9)).toBe(15);
});

test("what is written at a part is what is spoken, findings after it", () => {
  const drawn = line({ disconnect: "stop" });
  const said = drawn.parts.map((part) => spoken(drawn, part).replaceAll("\u00a0", " "));
  expect(said).toEqual([
    "Source Panel A 240 V, 1 phase",
    "breaker 15 A spaces 14, 16",
    "interior 12 AWG NM-B 38 ft",
    "Disconnect 30 A off-switch in sight, 5 ft stop: It is wrong.",
    "whip 12 AWG THWN-2 3 ft in LFNC",
    "Unit OU-1, north wall 11 A MCA max 15 A, 208/230 V",
  ]);
  for (const part of drawn.parts)
    for (const text of Object.values(captionOf(drawn, part))) expect(draw(drawn)).toContain(text);
});

test("what is not known is said, never left blank", () => {
  const nothing = lineOf({ name: "x" } as unknown as PlanDoc, "MS-1", { run: { s1: { order: 1 } } }, undefined);
  const said = nothing.parts.map((part) => spoken(nothing, part));
  expect(said).toEqual([
    "Source No source yet volts not known",
    "device rating? no spaces yet",
    "place not known size? method? length not known",
    "Disconnect off-switch? sight not known",
    "Unit no unit yet no plate yet type what it says",
  ]);
});

test("a conductor that is only proposed is not drawn as known", () => {
  const open: Circuit = { ...circuit, run: { s1: { order: 1, method: "NM-B", length_ft: 38 } } };
  const part = line({}, open).parts.find((entry) => entry.kind === "segment") as Line["parts"][number];
  expect(captionOf(line({}, open), part).main).toBe("size? NM-B");
});

test("each part gets the steps that explain it", () => {
  const drawn = line();
  const steps = (id: string) =>
    stepsFor(drawn, drawn.parts.find((part) => part.id === id) as Line["parts"][number]).map((step) => step.what);
  expect(steps("ocpd")).toEqual(["Conductors must carry", "The plate allows at most"]);
  expect(steps("run/s1")).toEqual(["first", "least"]);
  expect(steps("run/s2")).toEqual(["second", "least"]);
  expect(steps("source")).toEqual([]);
});

test("only the selected part can be reached by Tab", () => {
  expect(draw(line(), "ocpd").match(/tabindex="0"/g)).toHaveLength(1);
  expect(draw(line(), "ocpd")).toContain('aria-pressed="true"');
});

test("a printed line takes no clicks and no focus", () => {
  const printed = renderToStaticMarkup(<LineDrawing line={line()} width={1000} />);
  expect(printed).not.toContain('role="button"');
  expect(printed).not.toContain("tabindex");
});

test.each([
  [11, "A", "11 A"],
  [12.65, "A", "12.7 A"],
  [0.84, "%", "0.8 %"],
  [100, "ft", "100 ft"],
  [null, "A", "not known"],
])("%s %s is said as %s", (value, unit, text) => {
  expect(say(value, unit).replace("\u00a0", " ")).toBe(text);
});

test("sizes as people say them", () => {
  expect([saySize("12"), saySize("4/0"), saySize("250"), saySize(null)]).toEqual([
    "12 AWG",
    "4/0 AWG",
    "250 kcmil",
    "size not chosen",
  ]);
});
