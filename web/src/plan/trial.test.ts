import { expect, test } from "vitest";

import { EXAMPLE, moved, readFigure, sayFigure } from "./trial";

test.each([
  ["12", 12],
  ["0,08", 0.08],
  ["5 to 6", [5, 6]],
  ["", undefined],
])("%s is read", (text, figure) => {
  expect(readFigure(text)).toEqual({ figure });
  expect(readFigure(sayFigure(figure as number))).toEqual({ figure });
});

test.each(["soon", "1 to", "1 to 2 to 3", "12 A"])("%s is no figure", (text) => {
  expect(readFigure(text)).toBeNull();
});

test("a call moves with what switches it off, and no other does", () => {
  const calls = [
    { at_s: 2, load: "front", until_s: 10 },
    { at_s: 4, load: "rear" },
  ];
  expect(moved({ ...EXAMPLE, calls }, "front", 7).calls).toEqual([{ at_s: 7, load: "front", until_s: 15 }, calls[1]]);
});
