/** Steps: the value with its unit, the inputs in words, and a table leads to its figures. */
import { afterEach, beforeEach, expect, test } from "vitest";

import type { Step } from "../api/client";
import { Mounted } from "./mounted.test.helper";
import { Steps } from "./Steps";

let page: Mounted;
beforeEach(() => (page = new Mounted()));
afterEach(() => page.leave());

const step = (more: Partial<Step>): Step => ({
  ...{ part: "load", what: "Ambient", formula: "by the table", inputs: {}, value: 27.3, unit: "A", article: "310.16" },
  ...more,
});

test.each([
  ["Table 310.16", ["/rulebook?table=Table%20310.16"]],
  ["Tables 310.15(B)(1)(1), 310.15(C)(1)", []],
  ["110.3(B), Table 240.6(A)", ["/rulebook?table=Table%20240.6(A)"]],
  ["Chapter 9 Table 8", ["/rulebook?table=Table%208"]],
  ["440.22(C)", []],
])("%s leads to %j", (article, links) => {
  const host = page.show(<Steps rows={[step({ article })]} />);
  expect([...host.querySelectorAll("a")].map((link) => link.getAttribute("href"))).toEqual(links);
  expect(page.texts("p")[1]).toBe(`by the table: ${article}`);
});

test("inputs carry their units, and one alone is not repeated", () => {
  page.show(
    <Steps
      rows={[
        step({ inputs: { ambient_c: 40, adjustment: 0.8 } }),
        step({ inputs: { length_ft: 38 } }),
        step({ value: "10 AWG", unit: "", inputs: { ohm_per_kft: 1.24, volts: 240 } }),
      ]}
    />,
  );
  const lines = page.texts("p");
  expect(lines).toContain("ambient 40 °C, adjustment 0.8");
  expect(lines).toContain("resistance 1.24 Ω/kft, supply 240 V");
  expect(lines.some((line) => line.includes("length"))).toBe(false);
  expect(page.texts("b")).toEqual(["27.3 A", "27.3 A", "10 AWG"]);
});
