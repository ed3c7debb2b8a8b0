/** Where a circuit may be moved to in its panel. */
import { expect, test } from "vitest";

import type { PanelResult, PlanDoc, PlanResult } from "../../api/client";
import { type Block, blocksOf, moved, step, target } from "./spaces";

const document = {
  sources: { P: { kind: "panel", existing: { X: { name: "lift", rating_a: 40, spaces: [5, 1, 3] } } } },
  circuits: {
    A: { source: "P", name: "heater", ocpd: { rating_a: 30, spaces: [9, 7] } },
    B: { source: "P", ocpd: { spaces: [2] } },
    C: { source: "Q", ocpd: { rating_a: 15, spaces: [4] } },
    D: { source: "P", ocpd: { rating_a: 15 } },
    E: { source: "P", ocpd: { rating_a: 15, spaces: [14] } },
  },
} as unknown as PlanDoc;
const panel = { spaces: Array.from({ length: 12 }, (_, index) => ({ space: index + 1 })) } as unknown as PanelResult;
const blocks = blocksOf(document, "P", panel, {});

function block(id: string): Block {
  const found = blocks.find((entry) => entry.id === id);
  if (!found) throw new Error(id);
  return found;
}

test("what hangs in the panel: old and new, spaces in order, nothing of another panel or without spaces", () => {
  expect(blocks.map((entry) => [entry.id, entry.spaces, entry.rating])).toEqual([
    ["existing X", [1, 3, 5], "40\u00a0A"],
    ["A", [7, 9], "30\u00a0A"],
    ["B", [2], "rating?"],
    ["E", [14], "15\u00a0A"],
  ]);
});

test("a space that is not there, and a stop on the device, are told", () => {
  expect(block("E").stop).toBe(true);
  expect(block("A").stop).toBe(false);
  const stop = { A: { parts: [{ id: "ocpd", worst: "stop" }] } } as unknown as PlanResult["drawn"];
  expect(blocksOf(document, "P", panel, stop).find((entry) => entry.id === "A")?.stop).toBe(true);
});

test("poles stay one under the other", () => {
  expect(moved(block("A"), 6)).toEqual([6, 8]);
  expect(moved(block("existing X"), 2)).toEqual([2, 4, 6]);
});

test.each([
  [[8, 10], true],
  [[3, 5], false],
  [[11, 13], false],
  [[0, 2], false],
  [[9, 11], true],
])("the two-pole circuit on %j: %s", (spaces, fits) => {
  expect(target(blocks, block("A"), spaces, 12)).toBe(fits);
});

test.each([
  ["A", "ArrowDown", [9, 11]],
  ["A", "ArrowUp", null],
  ["A", "ArrowRight", [8, 10]],
  ["A", "ArrowLeft", null],
  ["B", "ArrowDown", [4]],
  ["B", "ArrowLeft", null],
  ["B", "Enter", null],
])("%s by %s", (id, key, spaces) => {
  expect(step(block(id), key, 12, blocks)).toEqual(spaces);
});

test("an arrow passes over what is in the way", () => {
  const crowded = [...blocks, { ...block("B"), id: "F", circuit: "F", spaces: [4] }];
  expect(step(block("B"), "ArrowDown", 12, crowded)).toEqual([6]);
});
