import { expect, test } from "vitest";

import type { WeekPart, WeekWishes } from "../../api/client";
import { handedOver, holding, idOf, letGo, mondayOf, withHand, withoutHand } from "./wishes";

const nobody: WeekWishes = { from: "07:00", to: "16:00", days: 5, people: [], sites: [], held: [], wet: [] };

test("a name makes an id that nobody has", () => {
  expect(idOf("Ünna Örk", [])).toBe("unna");
  expect(idOf("Odo Brisk", ["odo"])).toBe("odo-2");
  expect(idOf("Odo", ["odo", "odo-2"])).toBe("odo-3");
  expect(idOf("李", [])).toBe("hand");
});

test("what is held for somebody who goes is let go, and nothing else", () => {
  let wishes = withHand(nobody, { id: "odo", name: "Odo", skills: ["licensed"], off: [] });
  wishes = holding(wishes, "a.rough", "2026-12-07", "09:00", ["odo"]);
  wishes = holding(wishes, "a.land", "2026-12-08", "09:00");
  wishes = holding(wishes, "a.land", "2026-12-08", "10:00");
  expect(wishes.held.map((one) => [one.task, one.from])).toEqual([
    ["a.rough", "09:00"],
    ["a.land", "10:00"],
  ]);
  expect(withoutHand(wishes, "odo").held.map((one) => one.task)).toEqual(["a.land"]);
  expect(letGo(wishes, "a.land").held.map((one) => one.task)).toEqual(["a.rough"]);
});

test("drawn to another line a task goes from one to the other; to its own line nobody changes", () => {
  const part = { people: ["odo", "wyn"] } as unknown as WeekPart;
  expect(handedOver(part, "odo", "pia")).toEqual(["pia", "wyn"]);
  expect(handedOver(part, "odo", "odo")).toBeUndefined();
  expect(handedOver(part, "odo", "wyn")).toBeUndefined();
});

test.each([
  [new Date(2026, 10, 29), 0, "2026-11-23"], // a Sunday belongs to the week before it
  [new Date(2026, 10, 30), 0, "2026-11-30"],
  [new Date(2026, 11, 31), 1, "2027-01-04"],
])("the Monday of %s, %i weeks on", (day, weeks, monday) => {
  expect(mondayOf(day, weeks)).toBe(monday);
});
