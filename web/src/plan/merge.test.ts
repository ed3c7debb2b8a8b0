import { expect, test } from "vitest";

import { leaves, merge, patchAt, valueAt } from "./merge";

// RFC 7386, appendix A.
test.each([
  [{ a: "b" }, { a: "c" }, { a: "c" }],
  [{ a: "b" }, { a: null }, {}],
  [{ a: { b: "c" } }, { a: { b: "d", c: null } }, { a: { b: "d" } }],
  [{ a: ["b"] }, { a: "c" }, { a: "c" }],
  [[1, 2], { a: "b", c: null }, { a: "b" }],
  [{}, { a: { bb: { ccc: null } } }, { a: { bb: {} } }],
])("published example %#", (document, patch, expected) => {
  expect(merge<unknown>(document, patch)).toEqual(expected);
});

test("a path, its patch and its value agree", () => {
  const patch = patchAt("circuits/MS-1/ocpd/rating_a", 20);
  expect(leaves(patch)).toEqual([{ path: "circuits/MS-1/ocpd/rating_a", value: 20 }]);
  expect(valueAt(merge({ circuits: {} }, patch), "circuits/MS-1/ocpd/rating_a")).toBe(20);
  expect(patchAt("egc", undefined)).toEqual({ egc: null });
});
