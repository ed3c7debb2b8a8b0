/** Metric display. */
import { afterEach, expect, test } from "vitest";

import { say } from "../drawing/parts";
import { beside, setMetric, shown } from "./units";

afterEach(() => setMetric(false));

test.each([
  [100, "ft", 30.48, "m"],
  [0.75, "in", 19.05, "mm"],
  [68, "°F", 20, "°C"],
  [8.7, "gal/day", 32.933, "L/day"],
  [15, "A", 15, "A"],
])("%d %s", (value, unit, figure, name) => {
  expect(shown(value, unit)).toEqual([value, unit]);
  expect(beside(value, unit)).toBe("");
  setMetric(true);
  const [converted, metric] = shown(value, unit);
  expect(converted).toBeCloseTo(figure, 3);
  expect(metric).toBe(name);
});

test("a length is said in the chosen units", () => {
  expect(say(50, "ft")).toBe("50\u00a0ft");
  setMetric(true);
  expect(say(50, "ft")).toBe("15.2\u00a0m");
  expect(say(null, "ft")).toBe("not known");
});
