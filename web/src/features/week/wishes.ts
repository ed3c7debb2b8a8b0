/** Changes of what is wished of a week, each a new one. */
import type { WeekPart, WeekWishes } from "../../api/client";

export type Hand = WeekWishes["people"][number];

/** A short id that nobody has yet: of a first name, with a figure where it is taken. */
export function idOf(name: string, taken: readonly string[]): string {
  const first = name.trim().split(/\s+/)[0] ?? "";
  const plain =
    first
      .normalize("NFKD")
      .replace(/[^A-Za-z0-9]/g, "")
      .toLowerCase()
      .slice(0, 24) || "hand";
  let found = plain;
  for (let number = 2; taken.includes(found); number += 1) found = `${plain}-${String(number)}`;
  return found;
}

export function withHand(wishes: WeekWishes, hand: Hand): WeekWishes {
  const there = wishes.people.some((one) => one.id === hand.id);
  return {
    ...wishes,
    people: there ? wishes.people.map((one) => (one.id === hand.id ? hand : one)) : [...wishes.people, hand],
  };
}

/** Somebody who is not there: what was held for them is let go. */
export function withoutHand(wishes: WeekWishes, id: string): WeekWishes {
  return {
    ...wishes,
    people: wishes.people.filter((one) => one.id !== id),
    held: wishes.held.filter((one) => !one.people?.includes(id)),
  };
}

/** A task held on a day at an hour; `people`: by whom, left out: whoever can. */
export function holding(wishes: WeekWishes, task: string, day: string, from: string, people?: string[]): WeekWishes {
  const held = wishes.held.filter((one) => one.task !== task);
  return { ...wishes, held: [...held, { task, day, from, ...(people ? { people } : {}) }] };
}

export function letGo(wishes: WeekWishes, task: string): WeekWishes {
  return { ...wishes, held: wishes.held.filter((one) => one.task !== task) };
}

/** The people of a task once it was drawn from the line of one to that of another. */
export function handedOver(part: WeekPart, from: string, to: string): string[] | undefined {
  if (from === to) return undefined;
  if (part.people.includes(to)) return undefined;
  return part.people.map((one) => (one === from ? to : one));
}

/** The Monday of a day's week, and one some weeks on: as 2026-12-07. */
export function mondayOf(day: Date, weeks = 0): string {
  const found = new Date(Date.UTC(day.getFullYear(), day.getMonth(), day.getDate()));
  found.setUTCDate(found.getUTCDate() - ((found.getUTCDay() + 6) % 7) + 7 * weeks);
  return found.toISOString().slice(0, 10);
}
