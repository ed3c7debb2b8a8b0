import { useState } from "react";

/** Ticks that stay on this machine: they help the hands, the record is made at start-up. */
export function useTicks(key: string): [string[], (entry: string) => void] {
  const [ticks, setTicks] = useState(() => read(key));
  return [
    ticks,
    (entry) => {
      const next = ticks.includes(entry) ? ticks.filter((other) => other !== entry) : [...ticks, entry];
      setTicks(next);
      keep(key, next);
    },
  ];
}

function read(key: string): string[] {
  try {
    const kept: unknown = JSON.parse(localStorage.getItem(key) ?? "[]");
    return Array.isArray(kept) ? kept.filter((entry): entry is string => typeof entry === "string") : [];
  } catch {
    return [];
  }
}

function keep(key: string, ticks: readonly string[]): void {
  try {
    localStorage.setItem(key, JSON.stringify(ticks));
  } catch {
    // A full or closed store: the ticks last as long as the page.
  }
}
