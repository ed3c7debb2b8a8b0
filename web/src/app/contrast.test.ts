/** Both looks: key text stands at 7 : 1 or more on every ground, and the drawings turn with the page. */
import { readFileSync } from "node:fs";
import { dirname, join } from "node:path";
import { fileURLToPath } from "node:url";

import { describe, expect, test } from "vitest";

import { ink } from "../drawing/ink";

const here = dirname(fileURLToPath(import.meta.url));
const read = (file: string) => readFileSync(join(here, file), "utf8");
type Palette = Partial<Record<string, string>>;

function palette(css: string): Palette {
  const found: Palette = {};
  for (const [, name = "", value] of css.matchAll(/--color-([a-z-]+): (#[0-9a-f]{6});/g)) found[name] = value;
  return found;
}

const light = palette(read("style.css"));
const dark = palette(read("dark.css"));

/** Relative luminance (WCAG 2.2). */
function luminance(hex: string): number {
  const [r = 0, g = 0, b = 0] = [1, 3, 5].map((at) => {
    const part = parseInt(hex.slice(at, at + 2), 16) / 255;
    return part <= 0.04045 ? part / 12.92 : ((part + 0.055) / 1.055) ** 2.4;
  });
  return 0.2126 * r + 0.7152 * g + 0.0722 * b;
}

function contrast(one = "", two = ""): number {
  const [high = 0, low = 0] = [luminance(one), luminance(two)].sort((a, b) => b - a);
  return (high + 0.05) / (low + 0.05);
}

test("contrast is reckoned as the standard has it", () => {
  expect(contrast("#000000", "#ffffff")).toBeCloseTo(21, 5);
  expect(contrast("#777777", "#ffffff")).toBeCloseTo(4.48, 2);
});

describe.each([
  ["light", light],
  ["dark", dark],
])("%s", (_, colours) => {
  test.each(["paper", "sheet"])("on %s", (ground) => {
    for (const text of ["ink", "soft", "stop", "warning"])
      expect(contrast(colours[text], colours[ground]), text).toBeGreaterThanOrEqual(7);
    for (const accent of ["copper", "copper-deep"])
      expect(contrast(colours[accent], colours[ground]), accent).toBeGreaterThanOrEqual(4.5);
  });
});

test("every colour of the drawings turns dark, as fill and as stroke, into its own", () => {
  const css = read("dark.css");
  for (const [name, hex] of Object.entries(ink)) {
    expect(light[name]).toBe(hex);
    for (const attribute of ["fill", "stroke"])
      expect(css.replace(/\s+/g, " ")).toContain(`[${attribute}="${hex}" i] { ${attribute}: var(--color-${name}); }`);
  }
});
