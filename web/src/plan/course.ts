/** How far a start-up has come on this device: what is recorded, and what is entered and still on its way. */
import type { Meaning, PointOut, RecordOut, StepOut } from "../api/client";
import type { PlanHandle } from "./usePlan";

export interface Course {
  record: RecordOut;
  /** Keys of everything entered here that is not sent yet, with what was entered. */
  waiting: ReadonlyMap<string, Entered>;
  done: (step: StepOut) => boolean;
  /** What a step is called, by its key. */
  named: (key: string) => string;
  /** What a step needs and nobody has done, here or elsewhere. */
  missing: (step: StepOut) => StepOut[];
}

export interface Entered {
  done?: boolean;
  value?: number;
  outcome?: string;
}

export function courseOf(record: RecordOut, plan: PlanHandle): Course {
  const waiting = new Map<string, Entered>();
  for (const write of plan.outbox.waiting) {
    const body = write.body as ({ key?: string } & Entered) | undefined;
    if (body?.key !== undefined) waiting.set(body.key, body);
  }
  const steps = new Map(record.steps.map((step) => [step.key, step]));
  const points = new Map(record.readings.map((point) => [point.key, point]));
  const passed = new Set(record.tests.filter((test) => test.outcome === "passed").map((test) => test.key));
  const set = new Set(record.set_up.filter((row) => row.done).map((row) => row.key));
  const landed = new Set(record.landings.flatMap((row) => row.ticked));
  const started = new Set(
    record.trials.filter((trial) => trial.entries.at(-1)?.outcome === "started").map((trial) => trial.key),
  );
  const done = (step: StepOut): boolean => {
    const entered = waiting.get(step.key);
    if (entered?.done !== undefined) return entered.done;
    if (step.done || !step.by_records || waiting.size === 0) return step.done;
    return (
      step.reads.every((key) => readAsItShould(points.get(key), waiting.get(key))) &&
      step.tests.every((key) => passed.has(key) || waiting.get(key)?.outcome === "passed") &&
      step.settings.every((key) => set.has(key) || waiting.get(key)?.done) &&
      step.landings.every((key) => landed.has(key) || waiting.get(key)?.done) &&
      step.trials.every((key) => started.has(key) || waiting.get(key)?.outcome === "started")
    );
  };
  const missing = (step: StepOut) =>
    step.missing.flatMap((key) => {
      const other = steps.get(key);
      return other && !done(other) ? [other] : [];
    });
  const named = (key: string) => firstSentence(steps.get(key)?.text ?? key);
  return { record, waiting, done, named, missing };
}

/** What a step is called where it is only referred to. */
export function firstSentence(text: string): string {
  return `${(text.split(". ")[0] ?? text).replace(/\.$/, "")}.`;
}

function readAsItShould(point: PointOut | undefined, entered: Entered | undefined): boolean {
  if (entered?.value !== undefined) return point !== undefined && isWithin(point, entered.value);
  const last = point?.entries.at(-1);
  return last !== undefined && last.verdict !== "outside";
}

/** Whether a value lies within a reading's own bounds; where there are none, nothing is said against it. */
export function isWithin(point: PointOut, value: number): boolean {
  return (point.low == null || value >= point.low) && (point.high == null || value <= point.high);
}

/** What a reading outside its bounds usually means, before the server has it. */
export function meaningOf(record: RecordOut, point: PointOut, value: number): Meaning | undefined {
  if (!point.tells || !point.expected || isWithin(point, value)) return undefined;
  const share = value / point.expected;
  return record.meanings.find((row) => row.kind === point.tells && row.least <= share && share < row.below);
}

/** The step at hand among some: the first not done that nothing is missing for, else the first not done. */
export function atHand(course: Course, steps: readonly StepOut[]): StepOut | undefined {
  const open = steps.filter((step) => !course.done(step));
  return open.find((step) => course.missing(step).length === 0) ?? open[0];
}

/** When what a step started is over, by the clock of whoever ticked it; null where nothing runs. */
export function runsUntil(step: StepOut): number | null {
  if (!step.wait_s || !step.done) return null;
  const last = step.entries.at(-1);
  if (!last?.done) return null;
  return Date.parse(last.noted_at ?? last.at) + step.wait_s * 1000;
}

/** What is entered where an ohmmeter shows that nothing is between. */
export const OPEN_OHMS = 1e6;

/** What was read, as it is entered and before the server has it. */
export function sayRead(value: number, unit: string): string {
  return unit === "Ω" && value >= OPEN_OHMS ? "OL" : `${String(value)} ${unit}`;
}
