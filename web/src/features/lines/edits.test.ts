import { expect, test } from "vitest";

import type { Circuit } from "../../api/client";
import { segmentsOf } from "../../drawing/parts";
import { merge } from "../../plan/merge";
import { nextId } from "../../plan/ids";
import { insertSegment, parseSpaces } from "./edits";

const circuit = {
  run: { s1: { order: 10, place: "interior" }, s2: { order: 11, place: "outdoor" } },
} as unknown as Circuit;

test.each([
  ["s1", ["s1", "s3", "s2"]],
  ["s2", ["s1", "s2", "s3"]],
  [null, ["s3", "s1", "s2"]],
])("a segment put in after %s stands there, room or not", (after, expected) => {
  const changed = merge<{ circuits: Record<string, Circuit> }>(
    { circuits: { C: circuit } },
    insertSegment("C", circuit, after),
  );
  expect(segmentsOf(changed.circuits.C as Circuit).map(([id]) => id)).toEqual(expected);
});

test("spaces are read as people write them", () => {
  expect(parseSpaces("14, 16")).toEqual([14, 16]);
  expect(parseSpaces("14 and 16")).toEqual([14, 16]);
  expect(parseSpaces("left")).toBe("left");
  expect(nextId("OU", { "OU-1": {} })).toBe("OU-2");
});
