import { renderToStaticMarkup } from "react-dom/server";
import { describe, expect, it } from "vitest";

import { TrendDrawing } from "./TrendDrawing";

function drawn(unit: string, low: number, high: number, ...values: number[]): string {
  const taken = values.map((value, index) => ({
    at: `202${String(index)}-05-01T08:00:00Z`,
    of: index ? ("found" as const) : ("start-up" as const),
    value,
    shown: `${String(value)} ${unit}`,
  }));
  return renderToStaticMarkup(<TrendDrawing trend={{ key: "x", unit, low, high, taken }} />);
}

/** The heights of the line from value to value. */
function heights(svg: string): number[] {
  const line = /d="(M[^"]*L[^"]*)"/.exec(svg)?.[1] ?? "";
  return [...line.matchAll(/[ML][\d.]+ ([\d.]+)/g)].map((at) => Number(at[1]));
}

describe("a trend", () => {
  it("falls where the values fall, and says all of them", () => {
    const svg = drawn("A", 0, 11, 7, 9, 8);
    const [first = 0, second = 0, third = 0] = heights(svg);
    expect(second).toBeLessThan(third);
    expect(third).toBeLessThan(first);
    expect(svg).toContain('aria-label="start-up 2020-05-01: 7 A, found 2021-05-01: 9 A, found 2022-05-01: 8 A"');
  });

  it("keeps start-up and the newest where there are many", () => {
    const svg = drawn("V", 216, 264, 240, 239, 238, 237, 236, 235, 234, 233);
    expect(heights(svg)).toHaveLength(6);
    expect(svg).toContain("start-up 2020-05-01: 240 V, found 2023-05-01: 237 V");
    expect(svg).toContain("found 2027-05-01: 233 V");
  });

  it("stays on the paper where all values are one", () => {
    for (const height of heights(drawn("MΩ", 1, 1, 1, 1))) expect(height).toBeGreaterThan(0);
  });

  it("does not let an insulation without a ceiling press the values down", () => {
    const [first = 0, second = 0] = heights(drawn("MΩ", 2, 1e9, 20, 5));
    expect(second - first).toBeGreaterThan(20);
  });
});
