/** Where everything of a start's picture stands: time to the right, amperes up. */
import type { StartPicture } from "../api/client";

type Leg = StartPicture["legs"][number];

export const START = { width: 860, left: 66, right: 24, top: 18, chart: 250, heat: 34, row: 48 } as const;

export interface StartScale {
  until: number;
  most: number;
  x: (seconds: number) => number;
  y: (amps: number) => number;
  seconds: number[];
  amps: number[];
}

/** The scale in which every leg, its rating and the beginning of its magnetic trip can be seen. */
export function scaleOf(pictures: readonly StartPicture[], seen = 0): StartScale {
  const legs = pictures.flatMap((picture) => picture.legs);
  const until = Math.max(...pictures.map((picture) => picture.until_s));
  const peak = Math.max(1, seen, ...legs.flatMap((leg) => leg.steps.map(({ a }) => a)));
  const most = Math.max(peak * 1.1, ...legs.map((leg) => (leg.rating_a ?? 0) * 1.5));
  const { width, left, right, top, chart } = START;
  const step = tidy(until / 8);
  return {
    until,
    most,
    x: (seconds) => left + (Math.min(seconds, until) / until) * (width - left - right),
    y: (amps) => top + chart - (Math.min(amps, most) / most) * chart,
    seconds: ticks(until, step),
    amps: ticks(most, tidy(most / 5)),
  };
}

function ticks(most: number, step: number): number[] {
  return Array.from({ length: Math.floor(most / step) + 1 }, (_, index) => index * step);
}

/** 1, 2 or 5 times a power of ten, not below what is asked for. */
function tidy(least: number): number {
  const power = 10 ** Math.floor(Math.log10(least));
  return ([1, 2, 5, 10].find((times) => times * power >= least) ?? 10) * power;
}

/** How far into a start: 3.0 s, 56 min. */
export function moment(seconds: number): string {
  return seconds < 90 ? `${seconds.toFixed(1)} s` : `${(seconds / 60).toFixed(0)} min`;
}

/** A leg's current as a line of steps. */
export function steps(leg: Leg, scale: StartScale): string {
  const points = leg.steps.map(({ t_s, a }) => `${String(scale.x(t_s))},${String(scale.y(a))}`);
  const path = leg.steps.reduce((found, { t_s, a }, index) => {
    const corner = index ? `H${String(scale.x(t_s))}V${String(scale.y(a))}` : `M${points[0] ?? ""}`;
    return found + corner;
  }, "");
  return `${path}H${String(scale.x(scale.until))}`;
}
