/** Findings: worst shape, the words, the article, and one press for each way out; a reader presses nothing. */
import { afterEach, beforeEach, expect, test, vi } from "vitest";

import type { Finding } from "../api/client";
import type { PlanHandle } from "../plan/usePlan";
import { Findings } from "./Findings";
import { Mounted } from "./mounted.test.helper";

let page: Mounted;
const change = vi.fn();
const plan = { change } as unknown as PlanHandle;
beforeEach(() => {
  page = new Mounted();
  change.mockClear();
});
afterEach(() => page.leave());

const row = (more: Partial<Finding>): Finding => ({
  ...{ key: "k", code: "ocpd-above-max", severity: "stop", about: "circuits/C", message: "45 A is above 40 A." },
  ...{ article: "440.22(C)", follows: [], enter: null },
  ...more,
});
const FIX = { circuits: { C: { ocpd: { rating_a: 40 } } } };

test("the words, how grave it is, and by which article", () => {
  page.show(<Findings rows={[row({})]} plan={plan} readOnly={false} />);
  expect(page.texts("li b")).toEqual(["45 A is above 40 A."]);
  expect(page.texts("li .text-sm")).toEqual(["stop: 440.22(C)"]);
  expect(page.texts("button")).toEqual([]);
});

test("its fix is one press, and says what was done", () => {
  page.show(<Findings rows={[row({ fix: FIX, fix_label: "Make it 40 A" })]} plan={plan} readOnly={false} />);
  page.press("button");
  expect(change).toHaveBeenCalledExactlyOnceWith(FIX, "Make it 40 A");
});

test("ways in words stand there, and only those that change the plan can be pressed", () => {
  const ways = [
    { label: "Follow its feed", message: "back to its call" },
    { label: "Take it off", message: "at both ends", fix: FIX },
  ];
  page.show(<Findings rows={[row({ ways })]} plan={plan} readOnly={false} />);
  expect(page.texts("li span span b")).toEqual(["Follow its feed", "Take it off"]);
  expect(page.texts("button")).toEqual(["Take it off: do it"]);
  page.press("button");
  expect(change).toHaveBeenCalledExactlyOnceWith(FIX, "Take it off");
});

test("a reader sees all of it and presses nothing", () => {
  const ways = [{ label: "Take it off", message: "at both ends", fix: FIX }];
  page.show(<Findings rows={[row({ ways, fix: FIX, fix_label: "Make it 40 A" })]} plan={plan} readOnly />);
  expect(page.texts("button")).toEqual([]);
  expect(page.texts("li b")).toEqual(["45 A is above 40 A."]);
});

test("what follows from a cause is said under it, three of it", () => {
  const follows = ["One.", "Two.", "Three.", "Four.", "Five."];
  page.show(<Findings rows={[row({ follows })]} plan={plan} readOnly={false} />);
  expect(page.texts("li .block.text-sm")).toEqual(["stop: 440.22(C)", "Because of this: One. Two. Three. And 2 more."]);
});

test("no finding is no list", () => {
  expect(page.show(<Findings rows={[]} plan={plan} readOnly={false} />).innerHTML).toBe("");
});
