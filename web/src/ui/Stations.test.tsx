/** One row of stations: each says its state, the one at hand is marked, and on a phone one press shows the others. */
import { afterEach, beforeEach, expect, test } from "vitest";

import type { StationAt } from "../api/client";
import { Mounted } from "./mounted.test.helper";
import { Stations } from "./Stations";

let page: Mounted;
beforeEach(() => (page = new Mounted()));
afterEach(() => page.leave());

const at = (id: StationAt["id"], state: StationAt["state"], says: string): StationAt => ({
  ...{ id, state, says, left: 0, findings: [] },
  name: id.charAt(0).toUpperCase() + id.slice(1),
});
const ROW = [
  at("site", "done", "in order"),
  at("lines", "stop", "2 stops"),
  at("landings", "open", "3 open"),
  at("handover", "unknown", "not yet"),
];

test("a station is spoken with its state, and stops are seen", () => {
  page.show(<Stations install="7" stations={ROW} current="lines" />);
  expect(page.texts("ol a")).toEqual(["Site in order", "Lines 2 stops", "Landings 3 open", "Handover not yet"]);
  expect(page.texts("ol a .sr-only")).toEqual(["in order", "not yet"]);
});

test("the one at hand is marked, and each leads to its screen", () => {
  const host = page.show(<Stations install="7" stations={ROW} current="landings" />);
  expect([...host.querySelectorAll("[aria-current=page]")].map((link) => link.getAttribute("href"))).toEqual([
    "/installs/7/landings",
  ]);
  expect([...host.querySelectorAll("ol a")].map((link) => link.getAttribute("href"))).toEqual(
    ROW.map(({ id }) => `/installs/7/${id}`),
  );
});

test("on a phone the station at hand stands alone until the others are asked for", () => {
  const host = page.show(<Stations install="7" stations={ROW} current="lines" />);
  const list = host.querySelector("ol");
  expect(page.texts("button")).toEqual(["Lines2 stopsother stations"]);
  expect(list?.className).toContain("max-md:hidden");
  page.press("button");
  expect(list?.className).not.toContain("max-md:hidden");
  page.press("ol a");
  expect(list?.className).toContain("max-md:hidden");
});

test("a screen that belongs to no station leaves the row as it is", () => {
  const host = page.show(<Stations install="7" stations={ROW} current="open" />);
  expect(host.querySelectorAll("[aria-current]")).toHaveLength(0);
  expect(page.texts("button b")).toEqual(["Stations"]);
});
