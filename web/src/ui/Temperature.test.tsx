/** Temperatures are read in either scale: 104 °F are 40 °C, 95 °F 35 °C, -40 is the same in both. */
import { expect, test } from "vitest";

import { toCelsius } from "./Temperature";

test.each([
  ["104", false, 40],
  ["95 F", true, 35],
  ["35 °C", false, 35],
  ["40", true, 40],
  ["-40", false, -40],
  ["100", false, 37.78],
  ["38,5 c", false, 38.5],
  ["warm", false, "warm"],
  [undefined, false, undefined],
])("%s, metric %s", (typed, metric, expected) => {
  expect(toCelsius(typed, metric)).toBe(expected);
});
