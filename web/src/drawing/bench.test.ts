import { describe, expect, it } from "vitest";

import type { Frame, Lane, Rail, Rung, WayStep } from "../api/client";
import { isLive, isWhole, layoutRail, mergedLanes } from "./bench";

const contact = (name: string, to: string): WayStep => ({
  kind: "contact",
  name,
  says: name,
  to,
  colour: null,
  by: null,
});
const wire = (name: string, to: string): WayStep => ({
  kind: "conductor",
  name,
  says: name,
  to,
  colour: "red",
  by: null,
});
const lane = (...steps: WayStep[]): Lane => ({ steps, sneaks: false });

const FAN = lane(wire("T/red", "S.b.R"), contact("S.KG", "S.b.G"), wire("T/green", "A.c.G"));
const COOL = lane(wire("T/red", "S.b.R"), contact("S.KC", "S.b.G"), wire("T/green", "A.c.G"));
const DRY = lane(wire("D/red", "D.c.F"), contact("D.K", "D.c.G"), wire("D/green", "A.c.G"));

const rung = (lanes: Lane[], back: WayStep[] | null = []): Rung => ({
  load: "A.FR",
  words: "fan relay of A",
  effect: null,
  kind: "coil",
  rated_volts: 24,
  rated_va: 5,
  a: "A.c.G",
  b: "A.c.C",
  start: "A.c.R",
  lanes,
  back,
});
const rail = (...rungs: Rung[]): Rail => ({
  key: "A.T1",
  title: "24 V of A",
  live: "A.c.R",
  back: "A.c.C",
  live_label: "R",
  back_label: "C",
  volts: 24,
  line: false,
  rungs,
});
const node = (re: number, part = 0, fed = true) => ({ re, im: 0, dc: null, part, fed });
const frame = (closed: Record<string, boolean>, nodes: Frame["nodes"]): Frame => ({
  at_s: 0,
  moved: [],
  closed,
  loads: {},
  nodes,
  transformers: [],
  fuses: [],
  opened: [],
  findings: [],
  chatter: false,
});

describe("ways", () => {
  it("draws contacts side by side as one way, and another device's as its own", () => {
    const merged = mergedLanes([FAN, COOL, DRY]);
    expect(merged.map((way) => way.steps.map((group) => group.map((step) => step.name)))).toEqual([
      [["T/red"], ["S.KG", "S.KC"], ["T/green"]],
      [["D/red"], ["D.K"], ["D/green"]],
    ]);
  });

  it("is whole when every contact on it is closed and no fuse is gone", () => {
    const closed = frame({ "S.KG": true }, {});
    expect(isWhole(closed, FAN)).toBe(true);
    expect(isWhole(closed, COOL)).toBe(false);
    expect(isWhole({ ...closed, opened: ["T/red"] }, FAN)).toBe(false);
  });
});

describe("live", () => {
  const one = rail(rung([FAN]));
  it("is what has the supply's volts against its return", () => {
    const solved = frame({}, { "A.c.R": node(24), "A.c.C": node(0), "A.c.G": node(23), "S.b.G": node(1) });
    expect(isLive(solved, one, "A.c.G")).toBe(true);
    expect(isLive(solved, one, "S.b.G")).toBe(false);
  });
  it("is never what floats or belongs to another supply", () => {
    const solved = frame(
      {},
      { "A.c.R": node(24), "A.c.C": node(0), "A.c.G": node(24, 1), "S.b.G": node(24, 0, false) },
    );
    expect(isLive(solved, one, "A.c.G")).toBe(false);
    expect(isLive(solved, one, "S.b.G")).toBe(false);
  });
});

describe("layout", () => {
  const layout = layoutRail(rail(rung([FAN, COOL, DRY]), rung([FAN], [wire("T/blue", "A.c.C")])), 900, () => true);
  it("keeps what ways share in one column, and everything between the spines", () => {
    const [first, second] = layout.rungs;
    const stations = (entry: typeof first) => entry?.lanes[0]?.stations.map((station) => station.x);
    expect(stations(first)).toEqual(stations(second));
    for (const entry of layout.rungs)
      for (const way of entry.lanes)
        for (const station of way.stations) {
          expect(station.x).toBeGreaterThanOrEqual(layout.left);
          expect(station.x + station.width).toBeLessThanOrEqual(entry.load.x);
        }
  });
  it("lets no line run into another", () => {
    const ys = layout.rungs.flatMap((entry) => entry.lanes.map((way) => way.y));
    for (const [at, y] of ys.entries()) if (at) expect(y - (ys[at - 1] ?? 0)).toBeGreaterThanOrEqual(60);
  });
  it("grows where it must, and never shrinks below what it holds", () => {
    expect(layoutRail(rail(rung([FAN])), 200, () => true).width).toBeGreaterThan(400);
  });
});
