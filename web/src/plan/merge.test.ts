import { expect, test } from "vitest";

import { merge, patchAt } from "./merge";

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

test("a path becomes a patch that sets it, and nothing known becomes a removal", () => {
  const patch = patchAt("circuits/MS-1/ocpd/rating_a", 20);
  expect(merge({ circuits: { "MS-1": { name: "x" } } }, patch)).toEqual({
    circuits: { "MS-1": { name: "x", ocpd: { rating_a: 20 } } },
  });
  expect(merge({ egc: "12" }, patchAt("egc", undefined))).toEqual({});
});
