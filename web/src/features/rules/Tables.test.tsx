/** Tables of the rulebook: closed until one is asked for; who comes by a citation finds it open. */
import { afterEach, beforeEach, expect, test, vi } from "vitest";

import type { TableOut } from "../../api/client";
import { Mounted } from "../../ui/mounted.test.helper";
import { Tables } from "./Tables";

let page: Mounted;
beforeEach(() => {
  page = new Mounted();
  Element.prototype.scrollIntoView = vi.fn();
});
afterEach(() => page.leave());

const table = (id: string, number: string, rows: TableOut["rows"]): TableOut => ({
  ...{ id, table: number, title: `Figures of ${number}`, edition: "2023", range: "to 2000 V" },
  ...{ columns: ["size", "amps_60", "uncertain"], rows },
});
const TABLES = [
  table("a", "310.16", [["14", "15", ""]]),
  table("b", "Chapter 9 Table 8", [["14", "3.07", "?"]]),
  table("c", "240.6(A)", []),
];

test("nothing is open at first, and a press opens one and closes it", () => {
  page.show(<Tables tables={TABLES} />);
  expect(page.texts("table")).toEqual([]);
  page.press("[data-table=a] button");
  expect(page.texts("th")).toEqual(["size", "amps 60"]);
  page.press("[data-table=a] button");
  expect(page.texts("table")).toEqual([]);
});

test.each([
  ["Table 310.16", "a"],
  ["Table 8", "b"],
  ["Table 240.6(A)", "c"],
])("%s opens %s", (cited, id) => {
  const host = page.show(<Tables tables={TABLES} cited={cited} />);
  expect([...host.querySelectorAll("[aria-expanded=true]")].map((row) => row.closest("li")?.dataset.table)).toEqual([
    id,
  ]);
});

test("a citation that is no table here opens nothing", () => {
  const host = page.show(<Tables tables={TABLES} cited="Table 1.1" />);
  expect(host.querySelectorAll("[aria-expanded=true]")).toHaveLength(0);
});

test("rows that are not certain say so", () => {
  page.show(<Tables tables={TABLES} cited="Table 8" />);
  expect(page.texts("[data-table=b] p")[0]).toContain("Rows marked ? are not certain");
  expect(page.texts("td")).toEqual(["14", "3.07", "?"]);
});
