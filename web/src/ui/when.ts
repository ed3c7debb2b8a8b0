/** A moment as people read it. */
export function when(at: string): string {
  return new Date(at).toLocaleString("en-US", {
    month: "short",
    day: "numeric",
    hour: "2-digit",
    minute: "2-digit",
    hour12: false,
  });
}

/** A day of the calendar, as 2026-12-07, in words: the parts of it that are asked for. */
export function sayDay(day: string, parts: Intl.DateTimeFormatOptions): string {
  return noon(day).toLocaleDateString("en", parts);
}

/** A moment that lies in a day of the calendar wherever one is. */
export function noon(day: string): Date {
  return new Date(`${day}T12:00:00`);
}
