import { renderToStaticMarkup } from "react-dom/server";
import { describe, expect, it } from "vitest";

import type { Cable, CableView, Finding, WiringResult } from "../api/client";
import { LandingDrawing } from "./LandingDrawing";
import { layoutLandings, wirePath } from "./landings";

const terminal = (ref: string) => ({
  ref,
  label: ref.split(".")[2] ?? "",
  says: "",
  short: "line",
  kind: "line",
  landed: [],
});
const device = (id: string, names: string[]) => ({
  id,
  title: "unit",
  group: "board",
  strips: [{ id: "s", name: "strip", reversed: false, terminals: names.map((name) => terminal(`${id}.s.${name}`)) }],
});
const wiring = {
  devices: { A: device("A", ["1", "2", "3"]), B: device("B", ["3", "2", "1"]) },
} as unknown as WiringResult;

function drawn(
  conductors: Record<string, unknown>,
  extra: Partial<CableView["conductors"][number]> = {},
  findings: Finding[] = [],
) {
  const cable = { a: { device: "A" }, b: { device: "B" }, conductors } as unknown as Cable;
  const view = {
    id: "T",
    conductors: Object.keys(conductors).map((id) => ({
      id,
      colour: id,
      kind: "line",
      says: "line",
      a: {},
      b: {},
      ...extra,
    })),
  } as unknown as CableView;
  const layout = layoutLandings(
    view,
    cable,
    wiring,
    (address) => findings.filter((row) => row.about.startsWith(address)),
    800,
  );
  return { layout, svg: renderToStaticMarkup(<LandingDrawing layout={layout} title="T" />) };
}
const on = (a: string, b: string) => ({ a: { terminal: a }, b: { terminal: b } });

describe("a landing drawing", () => {
  it("matches by terminal and not by place", () => {
    const { layout } = drawn({ black: on("A.s.1", "B.s.1"), red: on("A.s.3", "B.s.3") });
    const [black, red] = layout.wires;
    expect(black && red && black.a.x < red.a.x && black.b.x > red.b.x).toBe(true);
    expect(layout.blocks.map((block) => block.slots.map((slot) => slot.label).join(""))).toEqual(["123", "321"]);
  });

  it("draws every conductor from its terminal to its terminal, its colour named at both ends", () => {
    const { layout, svg } = drawn({ black: on("A.s.1", "B.s.1") });
    const wire = layout.wires[0];
    expect(svg).toContain(wire ? wirePath(wire, layout.top, layout.bottom) : "never");
    expect(svg.match(/>black</g)).toHaveLength(4);
  });

  it("sets conductors that share a terminal apart, uncrossed, each with its name on a side of its own", () => {
    const { layout } = drawn({ green: on("A.s.2", "B.s.1"), red: on("A.s.2", "B.s.3"), blue: on("A.s.3", "B.s.2") });
    const [green, red, blue] = layout.wires;
    if (!green || !red || !blue) throw new Error("three conductors");
    expect(red.a.x).toBeLessThan(green.a.x);
    expect((red.a.x + green.a.x) / 2).toBe(layout.blocks[0]?.slots[1]?.x);
    expect([red.a.side, green.a.side, blue.a.side]).toEqual(["left", "right", "right"]);
    expect(blue.a.x).toBe(layout.blocks[0]?.slots[2]?.x);
  });

  it("caps what is capped, rings what is loose, and puts both aside", () => {
    const { layout } = drawn({ white: { a: { capped: true }, b: {} }, red: on("A.s.1", "B.s.1") });
    const white = layout.wires.find((wire) => wire.id === "white");
    expect([white?.a.state, white?.b.state]).toEqual(["capped", "loose"]);
    expect(white && layout.shelf && white.a.x > layout.shelf.x).toBe(true);
  });

  it("cuts a conductor where it does harm, and bends it for a warning", () => {
    const row = { severity: "warning", about: "cables/T/conductors/black/a" } as unknown as Finding;
    expect(drawn({ black: on("A.s.1", "B.s.3") }, { harm: "b" }).svg).toContain("#96181c");
    expect(drawn({ black: on("A.s.1", "B.s.3") }).svg).not.toContain("#96181c");
    expect(drawn({ black: on("A.s.1", "B.s.1") }, {}, [row]).svg).toContain("#6d4300");
  });

  it("shows what was found where that is asked for", () => {
    const found = { ...on("A.s.1", "B.s.1"), was_a: { terminal: "A.s.2" }, was_b: { capped: true } };
    const cable = { a: { device: "A" }, b: { device: "B" }, conductors: { black: found } } as unknown as Cable;
    const view = { id: "T", conductors: [{ id: "black", colour: "black", a: {}, b: {} }] } as unknown as CableView;
    const wire = layoutLandings(view, cable, wiring, () => [], 800, { found: true }).wires[0];
    expect([wire?.a.ref, wire?.b.state]).toEqual(["A.s.2", "capped"]);
  });

  it("keeps forty conductors at least 22 px apart in the room of a desk", () => {
    const names = Array.from({ length: 40 }, (_, n) => String(n + 1));
    const many = { devices: { A: device("A", names), B: device("B", names) } } as unknown as WiringResult;
    const conductors = Object.fromEntries(names.map((name) => [name, on(`A.s.${name}`, `B.s.${name}`)]));
    const cable = { a: { device: "A" }, b: { device: "B" }, conductors } as unknown as Cable;
    const view = { id: "T", conductors: names.map((id) => ({ id, colour: id, a: {}, b: {} })) } as unknown as CableView;
    const layout = layoutLandings(view, cable, many, () => [], 960);
    expect(layout.pitch).toBeGreaterThan(22);
    expect(layout.width).toBeLessThanOrEqual(960);
  });
});
