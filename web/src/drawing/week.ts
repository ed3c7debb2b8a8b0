/** Where a week's tasks lie on its drawing: days side by side, each person a line, hours from left to right. */
import type { WeekOut, WeekPart } from "../api/client";

export const WEEK = { gutter: 116, row: 58, head: 44, gap: 14, pad: 10 } as const;

export interface WeekScale {
  days: readonly string[];
  from: number;
  to: number;
  width: number;
  column: number;
  x: (day: string, minute: number) => number;
  /** Which day and minute lie at a place; the nearest quarter of an hour. */
  at: (x: number) => { day: string; minute: number };
}

/** Minutes since midnight of an hour as 07:30 or 07:30:00. */
export function minuteOf(clock: string): number {
  const [hours = 0, minutes = 0] = clock.split(":").map(Number);
  return hours * 60 + minutes;
}

export function clockOf(minute: number): string {
  return `${String(Math.floor(minute / 60)).padStart(2, "0")}:${String(minute % 60).padStart(2, "0")}`;
}

export function scaleOf(week: Pick<WeekOut, "wishes">, days: readonly string[], width: number): WeekScale {
  const from = minuteOf(week.wishes.from);
  const to = minuteOf(week.wishes.to);
  const column = (width - WEEK.gutter) / days.length;
  const inner = column - WEEK.gap;
  return {
    days,
    from,
    to,
    width,
    column,
    x: (day, minute) => WEEK.gutter + days.indexOf(day) * column + ((minute - from) / (to - from)) * inner,
    at(x) {
      const number = Math.min(days.length - 1, Math.max(0, Math.floor((x - WEEK.gutter) / column)));
      const within = (x - WEEK.gutter - number * column) / inner;
      const minute = Math.round((from + within * (to - from)) / 15) * 15;
      return { day: days[number] ?? "", minute: Math.min(to, Math.max(from, minute)) };
    },
  };
}

export interface Stay {
  site: string;
  day: string;
  from: number;
  to: number;
}

/** Somebody's stays at sites, one after the other: what is worked there without going elsewhere between. */
export function staysOf(parts: readonly WeekPart[], person: string): Stay[] {
  const mine = parts
    .filter((part) => part.people.includes(person))
    .toSorted((a, b) => a.day.localeCompare(b.day) || minuteOf(a.from) - minuteOf(b.from));
  const found: Stay[] = [];
  for (const part of mine) {
    const last = found.at(-1);
    if (last && last.site === part.site && last.day === part.day) last.to = minuteOf(part.to);
    else found.push({ site: part.site, day: part.day, from: minuteOf(part.from), to: minuteOf(part.to) });
  }
  return found;
}
