/** A conductor in hand: taken up and put down by keys and by clicks. */
import { act } from "react";
import { createRoot, type Root } from "react-dom/client";
import { afterEach, beforeEach, expect, test, vi } from "vitest";

import type { Cable, CableView, WiringResult } from "../../api/client";
import { LandingDrawing } from "../../drawing/LandingDrawing";
import { layoutLandings } from "../../drawing/landings";
import { useHeld } from "./useHeld";

const terminal = (ref: string) => ({ ref, label: ref.split(".")[2] ?? "", short: "", kind: "low", landed: [] });
const device = (id: string) => ({
  id,
  title: "",
  group: "board",
  strips: [{ id: "s", name: "strip", terminals: ["1", "2", "3"].map((name) => terminal(`${id}.s.${name}`)) }],
});
const wiring = { devices: { A: device("A"), B: device("B") } } as unknown as WiringResult;
const view = {
  id: "T",
  conductors: ["red", "blue"].map((id) => ({ id, colour: id, says: "", a: {}, b: {} })),
} as unknown as CableView;
const cable = {
  a: { device: "A" },
  b: { device: "B" },
  conductors: {
    red: { a: { terminal: "A.s.1" }, b: { terminal: "B.s.1" } },
    blue: { a: { terminal: "A.s.2" }, b: { capped: true } },
  },
} as unknown as Cable;

const land = vi.fn();
const select = vi.fn();
let root: Root;

function Drawn({ readOnly }: { readOnly: boolean }) {
  const layout = layoutLandings(view, cable, wiring, () => [], 600);
  const held = useHeld(layout, readOnly, select, land);
  const on = { ...held, selected: null, onDevice: () => undefined };
  return <LandingDrawing layout={layout} title="T" on={on} />;
}

function show(readOnly = false) {
  act(() => root.render(<Drawn readOnly={readOnly} />));
}

function grip(name: string): Element {
  const found = document.querySelector(`[data-grip="${name}"]`);
  if (!found) throw new Error(name);
  return found;
}

function key(name: string, ...keys: string[]) {
  for (const pressed of keys)
    act(() => void grip(name).dispatchEvent(new KeyboardEvent("keydown", { key: pressed, bubbles: true })));
}

beforeEach(() => {
  vi.stubGlobal("IS_REACT_ACT_ENVIRONMENT", true);
  vi.stubGlobal("CSS", { escape: (text: string) => text });
  const box = document.createElement("div");
  document.body.replaceChildren(box);
  root = createRoot(box);
});
afterEach(() => {
  act(() => root.unmount());
  land.mockClear();
  select.mockClear();
});

test("an end is taken up, moved along the strip and put down by keys", () => {
  show();
  key("red b", "Enter", "ArrowRight", "ArrowRight", "ArrowRight");
  expect(grip("red b").getAttribute("aria-pressed")).toBe("true");
  key("red b", "Enter");
  expect(land.mock.calls).toEqual([["red", "b", "B.s.3"]]);
  expect(grip("red b").getAttribute("aria-pressed")).toBe("false");
});

test("what is put down where it was, or capped where it is capped, is no change", () => {
  show();
  key("red b", "Enter", "Enter");
  key("blue b", "c");
  expect(land).not.toHaveBeenCalled();
  key("red b", "c");
  expect(land.mock.calls).toEqual([["red", "b", null]]);
});

test("Escape leaves it; the arrows go from end to end when nothing is in hand", () => {
  show();
  key("red a", "Enter", "ArrowRight", "Escape");
  expect(land).not.toHaveBeenCalled();
  key("red a", "ArrowRight");
  expect(document.activeElement).toBe(grip("blue a"));
  key("blue a", "ArrowDown");
  expect(document.activeElement).toBe(grip("blue b"));
});

test("by clicks: the end, then the terminal; a terminal of the other end is no place for it", () => {
  show();
  const press = (element: Element, type: string) =>
    act(() => void element.dispatchEvent(new MouseEvent(type, { bubbles: true, button: 0 })));
  press(grip("red b"), "pointerdown");
  press(grip("red b"), "pointerup");
  const click = (ref: string) => {
    const box = document.querySelector(`[data-terminal="${ref}"]`);
    if (box) press(box, "click");
  };
  click("A.s.3");
  expect(land).not.toHaveBeenCalled();
  click("B.s.2");
  expect(land.mock.calls).toEqual([["red", "b", "B.s.2"]]);
});

test("who only reads takes nothing up", () => {
  show(true);
  key("red b", "Enter", "ArrowRight", "Enter", "c");
  expect(land).not.toHaveBeenCalled();
  expect(select).toHaveBeenCalledWith("red");
});
