/** Start-up as the path of the work: part by part, step by step, with what each needs, reads and proves. */
import { Link, useSearchParams } from "react-router";

import type { Person, RecordOut, StepOut } from "../../api/client";
import type { PlanHandle } from "../../plan/usePlan";
import { idOf } from "../../plan/workPart";
import { useOthers, useRecord } from "../../plan/useRecord";
import { Button, Mark, Message, NotShown } from "../../ui/parts";
import { PhotoStrip } from "../../ui/PhotoStrip";
import { SettingRow } from "../../ui/SettingRow";
import { Keep } from "./Keep";
import { Lights } from "./Lights";
import { LockedOut } from "./LockedOut";
import { type Part, partAt, Parts, stepsOf } from "./Parts";
import { Proofs } from "./Proofs";
import { Readings } from "./Readings";
import { atHand, type Course, courseOf } from "../../plan/course";
import { StepView } from "./StepView";
import { Temporary } from "./Temporary";

interface Props {
  plan: PlanHandle;
  id: string;
  person: Person;
}

export function StartUp({ plan, id, person }: Props) {
  const canRecord = person.may.includes("record");
  const query = useRecord(id);
  useOthers(id);
  const [asked] = useSearchParams();
  const record = query.data;
  if (query.isError && !record)
    return (
      <NotShown what="The record">
        <Button className="mt-4" onClick={() => void query.refetch()}>
          Try again
        </Button>
      </NotShown>
    );
  if (!record) return <p className="p-7 text-soft">Reading the record …</p>;
  const course = courseOf(record, plan);
  const part = partAt(course, asked.get("part") ?? asked.get("line"));
  if (!part || record.steps.length === 0)
    return (
      <Message title="Nothing to start up yet">
        <p>
          Start-up follows from the plan.{" "}
          <Link className="underline" to={`/installs/${id}/lines`}>
            Draw a line first
          </Link>
          : its source and its unit.
        </p>
      </Message>
    );
  return (
    <main className="mt-2 grow border-t border-rule">
      <div className="mx-auto grid max-w-6xl gap-x-14 px-5 pb-16 md:px-7 lg:grid-cols-[minmax(0,1.35fr)_minmax(0,1fr)]">
        <div>
          <Parts key={part.about} course={course} current={part} id={id} />
          {part.stop && <Blocked message={part.stop} id={id} landing={isLanding(part)} />}
          <Path key={`path ${part.about}`} course={course} part={part} plan={plan} id={id} canRecord={canRecord} />
          <Temporary record={record} about={part.about} plan={plan} person={person.name} canRecord={canRecord} />
        </div>
        <aside>
          <Figures course={course} part={part} />
          <Lights record={record} about={part.about} />
          <Time record={record} />
          <Keep id={id} record={record} />
          <p className="mt-6 border-t border-rule pt-3 text-sm text-soft">{record.caution}</p>
        </aside>
      </div>
    </main>
  );
}

interface PathProps {
  course: Course;
  part: Part;
  plan: PlanHandle;
  id: string;
  canRecord: boolean;
}

/** The steps of a part, phase by phase: a phase that is behind is one line that opens. */
function Path({ course, part, plan, id, canRecord }: PathProps) {
  const steps = stepsOf(course, part.about);
  const now = atHand(course, steps);
  const rest = now === undefined ? elsewhere(course, part) : undefined;
  const allDone = course.record.steps.every((step) => course.done(step));
  return (
    <>
      {course.record.phases.map((phase) => {
        const mine = steps.filter((step) => step.phase === phase.id);
        if (mine.length === 0) return null;
        const behind = mine.every((step) => course.done(step));
        const list = (
          <ol>
            {mine.map((step) => (
              <One key={step.key} step={step} now={step === now} {...{ course, part, plan, id, canRecord }} />
            ))}
          </ol>
        );
        return (
          <section key={phase.id} aria-label={phase.name}>
            {behind ? (
              <details className="mt-4">
                <summary className="min-h-11 cursor-pointer py-2">
                  <h2 className="inline text-xl font-bold">{phase.name}</h2>{" "}
                  <span className="text-soft">all {mine.length} done</span>
                </summary>
                {list}
              </details>
            ) : (
              <>
                <h2 className="mt-6 mb-1 text-xl font-bold">
                  {phase.name} {phase.id !== "survey" && phase.id !== "leave" && <Alive live={phase.live} />}
                </h2>
                {phase.id === "lock_out" && part.about.startsWith("circuits/") && (
                  <LockedOut
                    install={id}
                    revision={course.record.install.revision}
                    line={idOf(part)}
                    document={plan.document}
                  />
                )}
                {list}
              </>
            )}
          </section>
        );
      })}
      {now === undefined && (
        <p className="mt-6 text-lg">
          {rest ? "This part is done. Next: " : allDone ? "Everything is done. " : "This part is done. "}
          <Link
            className="inline-flex min-h-11 items-center font-semibold underline"
            to={rest ? `/installs/${id}/start-up?part=${encodeURIComponent(rest.about)}` : `/installs/${id}/handover`}
          >
            {rest ? `${idOf(rest)} ${rest.name}` : "Hand it over"}
          </Link>
        </p>
      )}
    </>
  );
}

/** Whether what is worked on is dead or live: a conductor drawn hollow, or solid with its spark. */
function Alive({ live }: { live: boolean }) {
  return (
    <span className={`ml-1 text-base font-semibold ${live ? "text-stop" : "text-soft"}`}>
      <svg viewBox="0 0 34 12" width="34" height="12" aria-hidden className="mr-1 inline">
        {live ? (
          <path d="M0 6h12l3-5 4 10 3-5h12" fill="none" stroke="currentColor" strokeWidth="2.6" />
        ) : (
          <path d="M0 3h34M0 9h34" stroke="currentColor" strokeWidth="1.4" />
        )}
      </svg>
      {live ? "live" : "dead"}
    </span>
  );
}

/** A part where something can be done now. */
function elsewhere(course: Course, part: Part): Part | undefined {
  return course.record.parts.find((other) => {
    if (other.about === part.about || other.stop) return false;
    const step = atHand(course, stepsOf(course, other.about));
    return step !== undefined && course.missing(step).length === 0;
  });
}

function One({ step, now, course, plan, id, canRecord }: PathProps & { step: StepOut; now: boolean }) {
  const { record } = course;
  const disabled = !canRecord || step.stop !== undefined;
  const missing = course.missing(step);
  const field = `step ${step.key}`;
  const points = record.readings.filter((point) => step.reads.includes(point.key));
  const settings = record.set_up.filter((row) => step.settings.includes(row.key));
  const tests = record.tests.filter((test) => step.tests.includes(test.key));
  return (
    <StepView
      step={step}
      done={course.done(step)}
      atHand={now}
      waiting={course.waiting.has(step.key)}
      disabled={disabled}
      missing={missing}
      named={course.named}
      to={(other) => `/installs/${id}/start-up?part=${encodeURIComponent(other.about)}`}
      error={plan.errors[field]}
      onTick={(done, more) => plan.record("steps", { key: step.key, done, ...more }, step.text, field)}
    >
      {(open) => (
        <>
          {open && points.length > 0 && (
            <Readings
              install={id}
              points={points}
              course={course}
              plan={plan}
              disabled={disabled}
              passes={missing.length > 0}
            />
          )}
          {open && settings.length > 0 && (
            <ul>
              {settings.map((row) => (
                <SettingRow key={row.key} row={row} plan={plan} canRecord={canRecord} />
              ))}
            </ul>
          )}
          {open && step.landings.length > 0 && <Landings step={step} course={course} id={id} />}
          {open && step.trials.length > 0 && (
            <p className="mb-2">
              <Link
                className="inline-flex min-h-11 items-center font-semibold underline"
                to={`/installs/${id}/supply?source=${step.trials[0] ?? ""}`}
              >
                Record it at Supply
              </Link>
            </p>
          )}
          {open && tests.length > 0 && (
            <Proofs
              tests={tests}
              waiting={(key) => course.waiting.has(key)}
              disabled={disabled}
              passes={missing.length > 0}
              onTried={(keys, outcome, reason) => {
                for (const key of keys) plan.record("tests", { key, outcome, reason }, step.text);
              }}
            />
          )}
          <PhotoStrip install={id} about={`steps/${step.key}`} name={step.text} readOnly={!canRecord || !now} />
        </>
      )}
    </StepView>
  );
}

/** How many terminals are ticked, device by device, and the way to their sheet. */
function Landings({ step, course, id }: { step: StepOut; course: Course; id: string }) {
  const devices = [...new Set(step.landings.map((key) => key.split(".")[0] ?? ""))];
  const ticked = new Set(course.record.landings.flatMap((row) => row.ticked));
  return (
    <ul className="mb-2">
      {devices.map((device) => {
        const mine = step.landings.filter((key) => key.startsWith(`${device}.`));
        const done = mine.filter((key) => ticked.has(key) || course.waiting.get(key)?.done).length;
        return (
          <li key={device} className="border-t border-rule">
            <Link
              className="flex min-h-11 items-center justify-between gap-3 hover:bg-paper"
              to={`/installs/${id}/sheet?device=${device}`}
            >
              <span className="underline">{device}</span>
              <span className={done < mine.length ? "text-soft" : "font-semibold"}>
                {done} of {mine.length} ticked
              </span>
            </Link>
          </li>
        );
      })}
    </ul>
  );
}

/** Every reading of a part beside what it should be. */
function Figures({ course, part }: { course: Course; part: Part }) {
  const mine = course.record.readings.filter((point) => point.about === part.about);
  // What the ohmmeter finds is no figure to compare: it is joined or apart.
  const points = mine.filter((point) => point.unit !== "Ω");
  if (points.length === 0) return null;
  return (
    <section aria-label="What is read" className="mt-6">
      <h2 className="font-bold">What is read</h2>
      <table className="w-full text-sm">
        <tbody>
          {points.map((point) => {
            const last = point.entries.at(-1);
            return (
              <tr key={point.key} className="border-t border-rule">
                <td className="py-1 pr-2">{point.text}</td>
                <td className="py-1 text-right whitespace-nowrap text-soft">
                  {point.expected == null
                    ? (point.should ?? "not known")
                    : `about ${String(Math.round(point.expected * 10) / 10)} ${point.unit}`}
                </td>
                <td
                  className={`py-1 pl-2 text-right font-bold whitespace-nowrap ${last?.verdict === "outside" && !point.void ? "text-stop" : last && (point.void || last.verdict !== "within") ? "text-warning" : ""}`}
                >
                  {point.void ? "read again" : (last?.shown ?? "·")}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </section>
  );
}

function Time({ record }: { record: RecordOut }) {
  const { one_after_another_min: whole, interleaved_min: used } = record.clock;
  if (used >= whole) return null;
  return (
    <p className="mt-6 text-soft">
      The whole start-up: about {hours(used)} with the waits of one unit used for another, {hours(whole)} one after
      another.
    </p>
  );
}

function hours(minutes: number): string {
  const whole = Math.round(minutes / 5) * 5;
  return whole < 60
    ? `${String(whole)} min`
    : `${String(Math.floor(whole / 60))} h ${String(whole % 60).padStart(2, "0")}`;
}

/** Whether what stops is a landing: it is cleared there, not on the line. */
function isLanding(part: Part): boolean {
  const about = part.stop_about ?? "";
  return about.startsWith("cables/") || about.startsWith("devices/");
}

function Blocked({ message, id, landing }: { message: string; id: string; landing: boolean }) {
  return (
    <div className="mt-6 flex gap-3 border-l-4 border-stop bg-sheet p-4 text-stop">
      <Mark severity="stop" />
      <div>
        <b className="block text-lg">Do not energise</b>
        <p>{message}</p>
        <Link
          className="mt-2 inline-flex min-h-11 items-center font-semibold underline"
          to={`/installs/${id}/${landing ? "landings" : "lines"}`}
        >
          {landing ? "Clear it on the landings" : "Clear it on the line"}
        </Link>
      </div>
    </div>
  );
}
