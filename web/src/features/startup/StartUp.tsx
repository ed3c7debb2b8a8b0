/** Start-up in the order of the work: each step on one line, each reading against what the plan says it should be. */
import { type ReactNode, type SubmitEvent, useState } from "react";
import { Link, useSearchParams } from "react-router";

import { type PhaseOfWork, type PointOut, type RecordOut, type StepOut } from "../../api/client";
import { say } from "../../drawing/parts";
import type { FieldError, PlanHandle } from "../../plan/usePlan";
import { useRecord } from "../../plan/useRecord";
import { waitingFor } from "../../plan/waiting";
import { parse } from "../../ui/Edit";
import { PhotoStrip } from "../../ui/PhotoStrip";
import { Button, Mark, Message } from "../../ui/parts";
import { when } from "../../ui/when";
import { LockedOut } from "./LockedOut";

interface Props {
  plan: PlanHandle;
  id: string;
  canRecord: boolean;
}

export function StartUp({ plan, id, canRecord }: Props) {
  const query = useRecord(id);
  const [asked] = useSearchParams();
  const record = query.data;
  if (query.isError && !record)
    return (
      <Message title="The record cannot be shown">
        <p>Leitung does not answer. Nothing is lost.</p>
        <Button className="mt-4" onClick={() => void query.refetch()}>
          Try again
        </Button>
      </Message>
    );
  if (!record) return <p className="p-7 text-soft">Reading the record …</p>;
  if (record.steps.length === 0)
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
  const line = lineAt(record, asked.get("line"));
  const mine = line === null ? record : forLine(record, line.circuit);
  const stop = line === null ? record.stops[0]?.message : line.stop;
  const next = mine.steps.find((step) => !step.done && !waitingFor(plan, step.key))?.key;
  return (
    <main className="mt-2 grow border-t border-rule">
      <div className="mx-auto grid max-w-6xl gap-x-14 px-5 pb-16 md:px-7 lg:grid-cols-[minmax(0,1fr)_minmax(0,1fr)]">
        <div>
          {line && <LinePicker record={record} current={line.circuit} id={id} />}
          {stop && <Blocked message={stop} id={id} landing={isLanding(record, stop)} />}
          {record.phases.map((phase: PhaseOfWork) => {
            const steps = mine.steps.filter((step) => step.phase === phase.id);
            if (steps.length === 0) return null;
            return (
              <section key={phase.id} aria-label={phase.name}>
                <h2 className="mt-6 mb-1 text-xl font-bold">{phase.name}</h2>
                {phase.id === "lock_out" && steps[0] && (
                  <LockedOut
                    install={id}
                    revision={record.install.revision}
                    line={steps[0].circuit}
                    document={plan.document}
                  />
                )}
                <ol>
                  {steps.map((step) => (
                    <Step
                      key={step.key}
                      step={step}
                      next={step.key === next}
                      waiting={waitingFor(plan, step.key)}
                      disabled={!canRecord || (phase.live && Boolean(stop))}
                      onTick={(done, reason) => plan.record("steps", { key: step.key, done, reason }, step.text)}
                      photos={
                        <PhotoStrip
                          install={id}
                          about={`steps/${step.key}`}
                          name={step.text}
                          readOnly={!canRecord || step.key !== next}
                        />
                      }
                    />
                  ))}
                </ol>
              </section>
            );
          })}
        </div>
        <section aria-label="Readings">
          <h2 className="mt-6 text-xl font-bold">Readings</h2>
          <p className="text-soft">What the plan says each should be, and what you read.</p>
          <ol className="mt-2">
            {mine.readings.map((point) => (
              <Reading
                key={point.key}
                point={point}
                error={plan.errors[`reading ${point.key}`]}
                waiting={waitingFor(plan, point.key)}
                disabled={!canRecord || Boolean(stop)}
                onRead={(body) =>
                  plan.record("readings", { key: point.key, ...body }, point.text, `reading ${point.key}`)
                }
              />
            ))}
          </ol>
          <p className="mt-6 border-t border-rule pt-3 text-sm text-soft">{record.caution}</p>
        </section>
      </div>
    </main>
  );
}

type StartLine = RecordOut["lines"][number];

/** The line at hand where there are several: the one asked for, else the first with something left to do. */
function lineAt(record: RecordOut, asked: string | null): StartLine | null {
  if (record.lines.length < 2) return null;
  const open = (line: StartLine) => !line.stop && leftOf(record, line.circuit) > 0;
  return record.lines.find((line) => line.circuit === asked) ?? record.lines.find(open) ?? record.lines[0] ?? null;
}

function forLine(record: RecordOut, circuit: string) {
  return {
    steps: record.steps.filter((step) => step.circuit === circuit),
    readings: record.readings.filter((point) => point.circuit === circuit),
  };
}

/** Steps and readings of a line that nobody has recorded. */
function leftOf(record: RecordOut, circuit: string): number {
  const mine = forLine(record, circuit);
  return mine.steps.filter((step) => !step.done).length + mine.readings.filter((point) => !point.entries.length).length;
}

/** The lines one under the other, each as far as its start-up has come. */
function LinePicker({ record, current, id }: { record: RecordOut; current: string; id: string }) {
  return (
    <nav aria-label="Lines" className="mt-5">
      <ol className="border-y border-rule">
        {record.lines.map((line) => {
          const here = line.circuit === current;
          const mine = forLine(record, line.circuit);
          const all = mine.steps.length + mine.readings.length;
          const left = leftOf(record, line.circuit);
          return (
            <li key={line.circuit} className="border-t border-rule first:border-0">
              <Link
                to={`/installs/${id}/start-up?line=${line.circuit}`}
                aria-current={here ? "true" : undefined}
                className={`flex min-h-11 items-center gap-3 px-2 ${here ? "border-l-4 border-copper bg-sheet" : "border-l-4 border-transparent hover:bg-sheet"}`}
              >
                <b>{line.circuit}</b>
                <span className="min-w-0 flex-1 truncate text-soft">{line.name}</span>
                {line.stop ? (
                  <span className="flex items-center gap-2 font-semibold text-stop">
                    <Mark severity="stop" /> stop
                  </span>
                ) : (
                  <span className={left ? "text-soft" : "font-semibold"}>
                    {left ? `${all - left} of ${all}` : "done"}
                  </span>
                )}
              </Link>
            </li>
          );
        })}
      </ol>
    </nav>
  );
}

/** Whether what stops is a landing: it is cleared there, not on the line. */
function isLanding(record: RecordOut, message: string): boolean {
  const about = record.stops.find((finding) => finding.message === message)?.about ?? "";
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

interface StepProps {
  step: StepOut;
  next: boolean;
  waiting: boolean;
  disabled: boolean;
  onTick: (done: boolean, reason?: string) => void;
  photos: ReactNode;
}

function Step({ step, next, waiting, disabled, onTick, photos }: StepProps) {
  const [asking, setAsking] = useState(false);
  const last = step.entries.at(-1);
  const done = step.done || waiting;
  function takeBack(event: SubmitEvent<HTMLFormElement>) {
    event.preventDefault();
    onTick(false, new FormData(event.currentTarget).get("reason") as string);
    setAsking(false);
  }
  return (
    <li className="relative">
      {/* The line of the work: heavy where it has been walked. */}
      <span
        aria-hidden
        className={`absolute top-0 bottom-0 left-[21px] ${done ? "w-1 bg-ink" : "w-0.5 translate-x-[1px] bg-faint"}`}
      />
      <button
        type="button"
        role="checkbox"
        aria-checked={step.done}
        disabled={disabled}
        onClick={() => (step.done ? setAsking(true) : onTick(true))}
        className={`relative flex min-h-12 w-full items-start gap-4 py-2 pr-1 text-left ${next ? "bg-sheet" : ""}`}
      >
        <span
          aria-hidden
          className={`z-1 ml-[11px] flex size-6 shrink-0 items-center justify-center border-2 ${done ? "border-ink bg-ink text-sheet" : next ? "border-[3px] border-copper bg-sheet" : "border-faint bg-paper"}`}
        >
          {done && (
            <svg viewBox="0 0 16 16" width="14" height="14">
              <path d="M2 8l4 5 8-10" fill="none" stroke="currentColor" strokeWidth="2.6" />
            </svg>
          )}
        </span>
        <span>
          <span className={next ? "font-bold" : done ? "" : "text-ink"}>{step.text}</span>
          {step.caution && !step.done && (
            <span className="mt-0.5 flex items-start gap-2 font-semibold text-warning">
              <Mark severity="warning" />
              {step.caution}
            </span>
          )}
          {last && (
            <span className="block text-sm text-soft">
              {last.done ? "" : `taken back: ${last.reason} · `}
              {last.author}, {when(last.at)}
            </span>
          )}
          {waiting && <span className="block text-sm text-soft">kept here, not sent yet</span>}
        </span>
      </button>
      <div className="relative ml-[50px]">{photos}</div>
      {asking && (
        <form onSubmit={takeBack} className="relative ml-[50px] flex flex-wrap gap-2 pb-3">
          <input
            name="reason"
            required
            autoFocus
            aria-label="Why is it taken back"
            placeholder="Why is it taken back"
            className="min-h-11 grow border-b-2 border-ink/50 bg-sheet px-2"
          />
          <Button type="submit" kind="main">
            Take back
          </Button>
          <Button onClick={() => setAsking(false)}>Leave it</Button>
        </form>
      )}
    </li>
  );
}

interface ReadingProps {
  point: PointOut;
  error: FieldError | undefined;
  waiting: boolean;
  disabled: boolean;
  onRead: (body: { value: unknown; corrects?: string; reason?: string }) => void;
}

function Reading({ point, error, waiting, disabled, onRead }: ReadingProps) {
  const standing = point.entries.at(-1);
  const [correcting, setCorrecting] = useState(false);
  const [typed, setTyped] = useState("");
  const entering = !standing || correcting;
  function submit(event: SubmitEvent<HTMLFormElement>) {
    event.preventDefault();
    const reason = new FormData(event.currentTarget).get("reason") as string | null;
    onRead({
      value: parse(typed, "number") ?? null,
      ...(standing ? { corrects: standing.id, reason: reason ?? "" } : {}),
    });
    setCorrecting(false);
    setTyped("");
  }
  const field =
    "min-h-12 border-b-2 border-ink/50 bg-sheet px-2 text-lg focus:border-copper disabled:border-rule disabled:bg-transparent";
  return (
    <li className="border-t border-rule py-3 first:border-0">
      <div className="flex flex-wrap items-baseline justify-between gap-x-4">
        <b>{point.text}</b>
        {standing && (
          <span className="text-2xl font-bold">
            {standing.value} {standing.unit}
          </span>
        )}
      </div>
      <Scale point={point} value={standing?.value} />
      {standing && (
        <p
          className={`flex items-start gap-2 font-semibold ${standing.verdict === "outside" ? "text-stop" : standing.verdict !== "within" ? "text-warning" : "text-ink"}`}
        >
          {standing.verdict !== "within" && <Mark severity={standing.verdict === "outside" ? "stop" : "warning"} />}
          {standing.said}
        </p>
      )}
      {point.entries.map((entry, index) => (
        <p key={entry.id} className="text-sm text-soft">
          <span className={index < point.entries.length - 1 ? "line-through" : ""}>
            {entry.value} {entry.unit}
          </span>{" "}
          {entry.author}, {when(entry.at)}
          {entry.reason && `: ${entry.reason}`}
        </p>
      ))}
      {waiting && <p className="text-sm text-soft">kept here, not sent yet</p>}
      {error && (
        <p role="alert" className="text-stop">
          {error.message} {error.remedy}
        </p>
      )}
      {entering && !waiting && (
        <form onSubmit={submit} className="mt-1 flex flex-wrap items-center gap-2">
          <input
            aria-label={`${point.text}, ${point.unit}`}
            inputMode="decimal"
            autoComplete="off"
            required
            disabled={disabled}
            autoFocus={correcting}
            className={`${field} w-28 text-right`}
            value={typed || (error?.typed ?? "")}
            onChange={(event) => setTyped(event.target.value)}
          />
          <span className="text-soft">{point.unit}</span>
          {standing && (
            <input
              name="reason"
              required
              aria-label="Reason of the correction"
              placeholder="Why is it corrected"
              className={`${field} min-w-40 grow`}
            />
          )}
          <Button type="submit" kind="main" disabled={disabled}>
            {standing ? "Correct" : "Record"}
          </Button>
          {standing && <Button onClick={() => setCorrecting(false)}>Leave it</Button>}
        </form>
      )}
      {standing && !correcting && !waiting && !disabled && (
        <Button className="mt-1" onClick={() => setCorrecting(true)}>
          Correct it
        </Button>
      )}
    </li>
  );
}

/** The range as a stretch of line between its bounds, with what was read as a mark on it. */
function Scale({ point, value }: { point: PointOut; value: number | undefined }) {
  const { low, high, unit, expected } = point;
  if (low == null || high == null) return <p className="my-1 text-soft">Cannot be judged: {point.basis}.</p>;
  const place = (figure: number) => Math.min(98, Math.max(2, 20 + ((figure - low) / (high - low || 1)) * 60));
  const outside = value !== undefined && (value < low || value > high);
  return (
    <div
      className="relative my-1 h-11 max-w-md"
      role="img"
      aria-label={`should read ${expected == null ? "" : `about ${say(expected, unit)}, `}${say(low, unit)} to ${say(high, unit)}: ${point.basis}`}
    >
      <span aria-hidden className="absolute top-2.5 right-0 left-0 h-px bg-faint" />
      <span aria-hidden className="absolute top-2 right-[20%] left-[20%] h-1 bg-ink" />
      {[low, high].map((figure, index) => (
        <span
          key={index}
          aria-hidden
          className={`absolute top-5 text-sm text-soft ${index ? "left-[80%]" : "left-[20%]"} -translate-x-1/2 whitespace-nowrap`}
        >
          {say(figure, unit)}
        </span>
      ))}
      {expected != null && expected > low && expected < high && (
        <span
          aria-hidden
          className="absolute top-1 text-sm whitespace-nowrap text-ink"
          style={{ left: `${place(expected)}%` }}
        >
          <span className="absolute h-3 w-0.5 bg-ink" />
          {Math.abs(place(expected) - 50) < 14 && (
            <span className="absolute top-4 -translate-x-1/2">{say(expected, unit)}</span>
          )}
        </span>
      )}
      {value !== undefined && (
        <span
          aria-hidden
          className={`absolute top-0 h-5 w-1.5 -translate-x-1/2 ${outside ? "bg-stop" : "bg-copper"}`}
          style={{ left: `${place(value)}%` }}
        />
      )}
    </div>
  );
}
