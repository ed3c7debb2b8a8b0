import { expect, test } from "vitest";

import type { PointOut, RecordOut, StepOut } from "../api/client";
import { courseOf, firstSentence, meaningOf } from "./course";
import type { PlanHandle } from "./usePlan";

function point(key: string, more: Partial<PointOut> = {}): PointOut {
  return { key, low: 228, high: 252, expected: 240, tells: "between", entries: [], ...more } as unknown as PointOut;
}

function step(key: string, more: Partial<StepOut> = {}): StepOut {
  const none = { reads: [], tests: [], settings: [], landings: [], trials: [], needs: [], missing: [] };
  return { key, text: `${key}. And so on.`, done: false, by_records: false, ...none, ...more } as unknown as StepOut;
}

function recordOf(steps: StepOut[], readings: PointOut[] = []): RecordOut {
  const meanings = [
    { kind: "between", least: 0, below: 0.05, says: "Nothing arrives", then: "nearer the source" },
    { kind: "between", least: 0.4, below: 0.6, says: "Half", then: "each line to ground" },
  ];
  const empty = { tests: [], set_up: [], landings: [], trials: [] };
  return { steps, readings, meanings, ...empty } as unknown as RecordOut;
}

function planWith(...bodies: object[]): PlanHandle {
  return { outbox: { waiting: bodies.map((body) => ({ path: "/x", body })) } } as unknown as PlanHandle;
}

test("what is entered here and not sent yet counts for what comes after it", () => {
  const record = recordOf([step("open"), step("dead", { missing: ["open"] })]);
  const [open, dead] = record.steps as [StepOut, StepOut];
  expect(courseOf(record, planWith()).missing(dead)).toEqual([open]);
  expect(courseOf(record, planWith({ key: "open", done: true })).missing(dead)).toEqual([]);
});

test("a step with readings is done by those of the server and those on their way, unless one lies outside", () => {
  const read = step("volts", { by_records: true, reads: ["a", "b"] });
  const there = point("a", { entries: [{ verdict: "within" }] as unknown as PointOut["entries"] });
  const record = recordOf([read], [there, point("b")]);
  expect(courseOf(record, planWith({ key: "b", value: 241 })).done(read)).toBe(true);
  expect(courseOf(record, planWith({ key: "b", value: 121 })).done(read)).toBe(false);
  expect(courseOf(record, planWith({ key: "other", done: true })).done(read)).toBe(false);
});

test.each([
  [240, undefined],
  [0, "Nothing arrives"],
  [121, "Half"],
  [60, undefined],
])("%s V of 240 V are told without the server: %s", (value, says) => {
  expect(meaningOf(recordOf([]), point("a"), value)?.says).toBe(says);
});

test("a step is referred to by its first sentence", () => {
  expect(firstSentence("Open the disconnect. Lock it.")).toBe("Open the disconnect.");
});
