import { expect, test } from "vitest";

import type { WeekOut, WeekPart } from "../api/client";
import { clockOf, minuteOf, scaleOf, staysOf } from "./week";

const week = { wishes: { from: "07:00:00", to: "16:00:00" } } as unknown as WeekOut;

function part(site: string, day: string, from: string, to: string): WeekPart {
  return { site, day, from, to, people: ["odo"] } as unknown as WeekPart;
}

test("a place on the drawing is the day and the quarter of an hour that lie there", () => {
  const scale = scaleOf(week, ["mon", "tue"], 1196);
  for (const [day, clock] of [
    ["mon", "07:00"],
    ["mon", "11:45"],
    ["tue", "09:30"],
    ["tue", "16:00"],
  ] as const) {
    const found = scale.at(scale.x(day, minuteOf(clock)));
    expect([found.day, clockOf(found.minute)]).toEqual([day, clock]);
  }
  // Beyond the edges: the nearest.
  expect(scale.at(0)).toEqual({ day: "mon", minute: 420 });
  expect(scale.at(5000)).toEqual({ day: "tue", minute: 960 });
});

test("a stay goes on until somebody goes elsewhere", () => {
  const parts = [
    part("a", "mon", "10:00", "11:00"),
    part("a", "mon", "08:00", "09:00"),
    part("b", "mon", "12:00", "13:00"),
    part("a", "mon", "14:00", "15:00"),
    part("a", "tue", "08:00", "09:00"),
  ];
  expect(staysOf(parts, "odo").map((stay) => [stay.site, stay.day, clockOf(stay.from), clockOf(stay.to)])).toEqual([
    ["a", "mon", "08:00", "11:00"],
    ["b", "mon", "12:00", "13:00"],
    ["a", "mon", "14:00", "15:00"],
    ["a", "tue", "08:00", "09:00"],
  ]);
  expect(staysOf(parts, "ines")).toEqual([]);
});
