/**
 * An answer judged from its round, where there may be no signal: the rules of `core/leitung_core/practice/judge.py` in
 * the browser. Both are held to the same cases (`cases.json`).
 */
import { sentence } from "../../ui/text";
import type { PracticeRound, PracticeTold, PracticeVerdict } from "../../api/client";

export type Task = PracticeRound["task"];
export type TaskOf<Level extends Task["level"]> = Extract<Task, { level: Level }>;
type Mend = TaskOf<"fault">["mend"];
type Figure = TaskOf<"size">["asked"][number];
type Choice = TaskOf<"order">["steps"][number];
export type Reading = [number, number];

export interface Given {
  figures: Record<string, number | string>;
  landed: Record<string, { a?: string | null; b?: string | null }>;
  chosen: readonly string[];
  readings: readonly Reading[];
  named: number | null;
  opened: readonly string[];
  order: readonly string[];
}

export const NOTHING: Given = {
  figures: {},
  landed: {},
  chosen: [],
  readings: [],
  named: null,
  opened: [],
  order: [],
};

/** A figure is right within half a per cent: nobody is tested in rounding. */
const WITHIN = 0.005;

export function judge(task: Task, given: Given): PracticeVerdict {
  const told = tell(task, given);
  return { right: told.every((row) => row.right === true), told };
}

function tell(task: Task, given: Given): PracticeTold[] {
  switch (task.level) {
    case "size":
      return task.asked.map((figure) => figureTold(figure, given.figures[figure.id]));
    case "land":
      return landed(task, given.landed);
    case "runs":
      return task.watched.map(({ id, says }) => {
        const runs = task.runs.includes(id);
        const words = `${says} ${runs ? "runs" : "does not run"}. ${task.why[id] ?? ""}`;
        return { right: given.chosen.includes(id) === runs, says: sentence(words) };
      });
    case "fault":
      return [namedTold(task, given.readings, given.named), openedTold(task.mend, given.opened)];
    case "dead":
      return [openedTold(task.mend, given.opened), ...ordered(task.steps, task.needs, given.order)];
    case "order":
      return ordered(task.steps, task.needs, given.order);
  }
}

function figureTold({ says, right, unit }: Figure, given: number | string | undefined): PracticeTold {
  const shown = (value: number | string) => `${typeof value === "number" ? plain(value) : value}${unit && ` ${unit}`}`;
  if (given === undefined) return { right: false, says: `${says}: nothing entered. It is ${shown(right)}.` };
  const fits =
    typeof right === "number" && typeof given === "number"
      ? Math.abs(given - right) <= WITHIN * right
      : given === right;
  return { right: fits, says: `${says}: ${shown(given)}${fits ? "" : `, not so. It is ${shown(right)}`}.` };
}

function landed(task: TaskOf<"land">, given: Given["landed"]): PracticeTold[] {
  const off = new Map<string, string>();
  for (const wire of task.wires)
    for (const end of ["a", "b"] as const) {
      const there = given[wire.id]?.[end] ?? "";
      if (there !== wire[end]) off.set(`${wire.id} ${end}`, there);
    }
  const told: PracticeTold[] = [];
  for (const { id } of task.wires)
    if (!off.has(`${id} a`) && !off.has(`${id} b`)) told.push({ right: true, says: task.why[id] ?? "" });
  if (off.size === 0) return told;
  const known =
    task.slips[
      [...off]
        .map(([key, there]) => `${key}=${there}`)
        .sort(byCode)
        .join(";")
    ];
  if (known) told.push({ right: false, says: known });
  for (const { id, colour } of task.wires) {
    const ends = ["a", "b"].map((end) => off.get(`${id} ${end}`)).filter((there) => there !== undefined);
    if (!ends.length) continue;
    const what = ends.every((there) => there === "") ? "is not landed" : "is elsewhere";
    told.push({ right: false, says: sentence(`${colour} ${what}. ${task.why[id] ?? ""}`) });
  }
  return told;
}

const byCode = (one: string, other: string) => (one < other ? -1 : one > other ? 1 : 0);

/** The suspects that some readings rule out together, bit i for suspect i. */
export function ruledBy(task: TaskOf<"fault">, readings: readonly Reading[]): bigint {
  return readings.reduce((all, [state, lead]) => all | setOf(task, state, lead), 0n);
}

function setOf(task: TaskOf<"fault">, state: number, lead: number): bigint {
  const row = task.rules[state];
  const set = task.sets[row?.[lead < 0 ? task.leads.length : lead] ?? -1];
  return set === undefined ? 0n : BigInt(`0x${set}`);
}

const bits = (set: bigint) => set.toString(2).replaceAll("0", "").length;

function namedTold(task: TaskOf<"fault">, readings: readonly Reading[], named: number | null): PracticeTold {
  const suspect = named === null ? undefined : task.suspects[named];
  if (named === null || !suspect) return { right: false, says: "No mistake was named." };
  const says = sentence(suspect.says);
  const all = (1n << BigInt(task.suspects.length)) - 1n;
  const out = ruledBy(task, readings);
  const alike = ~task.sets.reduce((every, set) => every | BigInt(`0x${set}`), 0n) & all;
  const holds = (set: bigint) => ((set >> BigInt(named)) & 1n) === 1n;
  const first = holds(out) && readings.find((reading) => holds(ruledBy(task, [reading])));
  if (first) return { right: false, says: `${says} That cannot be: ${readingWords(task, first)} rules it out.` };
  const left = bits(~out & ~alike & all);
  if (left > 0 || !holds(alike)) {
    const others = left - (holds(alike) ? 0 : 1) + bits(alike) - (holds(alike) ? 1 : 0);
    const also = others === 1 ? "one other thing" : `${others} other things`;
    return { right: null, says: `${says} It explains all that was read; so would ${also}. Read on.` };
  }
  const taken = new Set(readings.map(String)).size;
  const least = task.exact ? `cannot be done with fewer than ${task.least}` : `can be done with ${task.least}`;
  const count = taken === 1 ? "one reading" : `${taken} readings`;
  const usual = `who reads where most is told apart takes ${task.usual}, and it ${least}`;
  return { right: true, says: `${says} Proved with ${count}; ${usual}.` };
}

/** `with cool called, R of AH-1 to C of AH-1 at 24 V`. */
export function readingWords(task: TaskOf<"fault">, [state, lead]: Reading): string {
  const where = `with ${task.states[state]?.says ?? ""}`;
  if (lead < 0) return `${where}, what runs (${running(task, state).join(", ") || "nothing"})`;
  return `${where}, ${task.leads[lead]?.says ?? ""} at ${plain(task.volts[state]?.[lead] ?? 0)} V`;
}

/** What one sees run in a state. */
export function running(task: TaskOf<"fault">, state: number): string[] {
  return [...new Set((task.runs[state] ?? []).map((at) => task.watched[at] ?? ""))];
}

function openedTold(mend: Mend, opened: readonly string[]): PracticeTold {
  const says = (ids: readonly string[]) =>
    mend.options
      .filter(({ id }) => ids.includes(id))
      .map((each) => each.says)
      .join(" and ");
  if (mend.safe.some((least) => least.every((id) => opened.includes(id))))
    return { right: true, says: `${mend.device} is dead with ${says(opened)} open. Now prove it.` };
  const shown = says(opened) ? `With ${says(opened)} open` : "With nothing open";
  return { right: false, says: `${shown} it is not safe. ${mend.harm} Open ${says(mend.safe[0] ?? [])}.` };
}

function ordered(
  steps: readonly Choice[],
  needs: Readonly<Record<string, readonly string[]>>,
  order: readonly string[],
): PracticeTold[] {
  const says = new Map(steps.map((step) => [step.id, step.says]));
  if (order.length !== says.size || !order.every((id) => says.has(id)) || new Set(order).size !== order.length)
    return [{ right: false, says: "Not every step was put in order." }];
  const done = new Set<string>();
  return order.map((id) => {
    const missing = (needs[id] ?? []).find((other) => !done.has(other));
    done.add(id);
    const first = missing ? ` First: ${says.get(missing) ?? ""}` : "";
    return { right: !missing, says: `${says.get(id) ?? ""}${first}` };
  });
}

/** A figure to six digits, as it is said. */
function plain(value: number): string {
  return String(Number(value.toPrecision(6)));
}
