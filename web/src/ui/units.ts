/** US units by default, metric by a switch. Entered figures stay in the units in which they are kept. */
import { useSyncExternalStore } from "react";

const KEY = "leitung:metric";
const listeners = new Set<() => void>();
let metric = typeof localStorage !== "undefined" && localStorage.getItem(KEY) === "yes";

export function isMetric(): boolean {
  return metric;
}

export function setMetric(wanted: boolean): void {
  metric = wanted;
  localStorage.setItem(KEY, wanted ? "yes" : "no");
  for (const listener of listeners) listener();
}

function subscribe(listener: () => void) {
  listeners.add(listener);
  return () => listeners.delete(listener);
}

/** Whether metric is chosen; the component is drawn again when that changes. */
export function useMetric(): boolean {
  return useSyncExternalStore(subscribe, isMetric, () => false);
}

const METRIC: Record<string, [string, (value: number) => number]> = {
  ft: ["m", (value) => value * 0.3048],
  in: ["mm", (value) => value * 25.4],
  "ft²": ["m²", (value) => value * 0.09290304],
  "ft³": ["m³", (value) => value * 0.0283168466],
  "°F": ["°C", (value) => ((value - 32) * 5) / 9],
  "gal/day": ["L/day", (value) => value * 3.785411784],
  lb: ["kg", (value) => value * 0.45359237],
};

/** A figure and its unit as they are shown. */
export function shown(value: number, unit: string): [number, string] {
  const [name, convert] = (metric && METRIC[unit]) || [unit, (figure: number) => figure];
  return [convert(value), name];
}

/** The metric figure beside an entered one, or nothing where US units are shown. */
export function beside(value: number | null | undefined, unit: string | undefined): string {
  if (!metric || value == null || !unit || !METRIC[unit]) return "";
  const [figure, name] = shown(value, unit);
  return `${figure.toFixed(figure < 10 ? 2 : 1)} ${name}`;
}
