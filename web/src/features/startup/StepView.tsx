/** One step: what to do, what it needs first, what is read, tried or set in it; the one at hand large. */
import { type ReactNode, type SubmitEvent, useState } from "react";
import { Link } from "react-router";

import type { StepOut } from "../../api/client";
import type { FieldError } from "../../plan/usePlan";
import { parse } from "../../ui/Edit";
import { Button, Mark } from "../../ui/parts";
import { when } from "../../ui/when";
import { firstSentence, runsUntil } from "../../plan/course";
import { useNow } from "./useNow";

interface Props {
  step: StepOut;
  done: boolean;
  atHand: boolean;
  waiting: boolean;
  disabled: boolean;
  missing: StepOut[];
  /** What the steps are called that an entry was made without. */
  named: (key: string) => string;
  /** Where a step is that belongs to another part of the work. */
  to: (step: StepOut) => string;
  error: FieldError | undefined;
  onTick: (done: boolean, more: { reason?: string; value?: number | null }) => void;
  /** Readings, tests, settings of the step, photos: shown where it is open. */
  children: (open: boolean) => ReactNode;
}

/** More than these are counted. */
const MOST_NAMED = 3;
const field = "min-h-12 border-b-2 border-ink/50 bg-sheet px-2 text-lg focus:border-copper";

export function StepView(props: Props) {
  const { step, done, atHand, waiting, missing, error } = props;
  const [opened, setOpened] = useState(false);
  const [asking, setAsking] = useState<"back" | "pass" | null>(null);
  const open = atHand || opened;
  const last = step.entries.at(-1);
  const ticked = !step.by_records;
  function press() {
    if (done && ticked) setAsking("back");
    else if (!ticked || step.asks) setOpened(!opened);
    else if (missing.length > 0) setAsking("pass");
    else props.onTick(true, {});
  }
  return (
    <li className="relative" aria-current={atHand ? "step" : undefined}>
      {/* The line of the work: heavy where it has been walked, hollow while what it leads to is dead. */}
      <span
        aria-hidden
        className={`absolute top-0 bottom-0 left-[21px] ${done ? "w-1 bg-ink" : step.live ? "w-0.5 translate-x-[1px] bg-faint" : "w-1 border-x border-faint bg-paper"}`}
      />
      <div className={atHand ? "relative border-2 border-copper bg-sheet py-2 pr-2" : "relative"}>
        <button
          type="button"
          role={ticked && !step.asks ? "checkbox" : undefined}
          aria-checked={ticked && !step.asks ? done : undefined}
          aria-expanded={ticked && !step.asks ? undefined : open}
          disabled={props.disabled && !done && ticked}
          onClick={press}
          className="flex min-h-12 w-full items-start gap-4 py-2 pr-1 text-left"
        >
          <Box done={done} atHand={atHand} hold={step.hold} />
          <span>
            <span className={atHand ? "text-xl leading-snug font-bold" : ""}>{step.text}</span>
            {step.caution && !done && (
              <span className="mt-1 flex items-start gap-2 font-semibold text-warning">
                <Mark severity="warning" />
                {step.caution}
              </span>
            )}
            {last && <Entry last={last} named={props.named} />}
            {waiting && <span className="block text-sm text-soft">kept here, not sent yet</span>}
          </span>
        </button>
        <div className="ml-[50px]">
          <Runs step={step} />
          {open && step.stop && (
            <p className="mb-2 flex gap-2 font-semibold text-stop">
              <Mark severity="stop" />
              The plan says stop: {step.stop}
            </p>
          )}
          {open && !done && missing.length > 0 && (
            <p className="mb-2 text-soft">
              First:{" "}
              {missing.slice(0, MOST_NAMED).map((other, place) => (
                <span key={other.key}>
                  {place > 0 && " "}
                  {other.about === step.about ? (
                    firstSentence(other.text)
                  ) : (
                    <Link className="underline" to={props.to(other)}>
                      {other.about.split("/")[1]}: {firstSentence(other.text)}
                    </Link>
                  )}
                </span>
              ))}
              {missing.length > MOST_NAMED && ` And ${String(missing.length - MOST_NAMED)} more.`}
            </p>
          )}
          {open && ticked && step.asks && !done && (
            <Value
              asks={step.asks}
              disabled={props.disabled}
              passes={missing.length > 0}
              error={error}
              onValue={(value, reason) => props.onTick(true, { value, ...(reason ? { reason } : {}) })}
            />
          )}
          {atHand && ticked && !step.asks && (
            <Button
              kind="main"
              className="mt-1 mb-2 min-h-16 w-full text-lg md:w-auto md:min-w-48"
              disabled={props.disabled}
              onClick={press}
            >
              {step.does === "open" ? "It is off" : step.does === "close" ? "It is on" : "Done"}
            </Button>
          )}
          {!step.asks && error && (
            <p role="alert" className="text-stop">
              {error.message} {error.remedy}
            </p>
          )}
          {props.children(open)}
        </div>
      </div>
      {asking && (
        <Reason
          says={asking === "back" ? "Why is it taken back" : "Why is it done before what it needs"}
          button={asking === "back" ? "Take back" : "Pass it over"}
          needs={asking === "pass" ? missing : []}
          onLeave={() => setAsking(null)}
          onReason={(reason) => {
            props.onTick(asking === "pass", { reason });
            setAsking(null);
          }}
        />
      )}
    </li>
  );
}

/** The mark at the line: open, at hand, done; what holds the work is drawn heavier. */
function Box({ done, atHand, hold }: { done: boolean; atHand: boolean; hold: boolean }) {
  return (
    <span
      aria-hidden
      className={`z-1 ml-[11px] flex size-6 shrink-0 items-center justify-center border-2 ${done ? "border-ink bg-ink text-sheet" : atHand ? "border-[3px] border-copper bg-sheet" : hold ? "border-[3px] border-ink bg-paper" : "border-faint bg-paper"}`}
    >
      {done && (
        <svg viewBox="0 0 16 16" width="14" height="14">
          <path d="M2 8l4 5 8-10" fill="none" stroke="currentColor" strokeWidth="2.6" />
        </svg>
      )}
    </span>
  );
}

function Entry({ last, named }: { last: StepOut["entries"][number]; named: (key: string) => string }) {
  return (
    <span className="block text-sm text-soft">
      {last.value != null && <b>{`${String(last.value)} ${last.unit} · `}</b>}
      {last.done ? "" : `taken back: ${last.reason} · `}
      {last.author}, {when(last.noted_at ?? last.at)}
      {last.passed.length > 0 && (
        <span className="block font-semibold text-warning">
          before: {last.passed.slice(0, MOST_NAMED).map(named).join(" ")}
          {last.passed.length > MOST_NAMED && ` And ${String(last.passed.length - MOST_NAMED)} more.`} Reason:{" "}
          {last.reason}
        </span>
      )}
    </span>
  );
}

/** What runs by itself after a step, counted down; nobody has to stand by it. */
function Runs({ step }: { step: StepOut }) {
  const until = runsUntil(step);
  const now = useNow(until !== null);
  if (until === null || now >= until) return null;
  const left = Math.min(step.wait_s, Math.ceil((until - now) / 1000));
  return (
    <p className="mb-2 font-semibold" role="timer">
      runs by itself: {Math.floor(left / 60)}:{String(left % 60).padStart(2, "0")} left
    </p>
  );
}

interface ValueProps {
  asks: NonNullable<StepOut["asks"]>;
  disabled: boolean;
  passes: boolean;
  error: FieldError | undefined;
  onValue: (value: number | null, reason: string) => void;
}

/** A value that is written down with its step. */
function Value({ asks, disabled, passes, error, onValue }: ValueProps) {
  const [typed, setTyped] = useState("");
  const [reason, setReason] = useState("");
  function submit(event: SubmitEvent<HTMLFormElement>) {
    event.preventDefault();
    onValue((parse(typed, "number") as number | null | undefined) ?? null, reason.trim());
  }
  return (
    <form onSubmit={submit} className="mb-2">
      <div className="flex flex-wrap items-center gap-2">
        <input
          aria-label={`What the meter reads, ${asks.unit}`}
          inputMode="decimal"
          autoComplete="off"
          required
          disabled={disabled}
          className={`${field} min-h-16 w-32 text-right text-2xl`}
          value={typed || (error?.typed ?? "")}
          onChange={(event) => setTyped(event.target.value)}
        />
        <span className="text-lg text-soft">
          {asks.unit}, at most {asks.most}
        </span>
        {passes && (
          <input
            aria-label="Why is it done before what it needs"
            placeholder="Why before what it needs"
            required
            className={`${field} min-w-40 grow`}
            value={reason}
            onChange={(event) => setReason(event.target.value)}
          />
        )}
        <Button type="submit" kind="main" className="min-h-16 px-6 text-lg" disabled={disabled}>
          Write it down
        </Button>
      </div>
      {error && (
        <p role="alert" className="mt-1 text-stop">
          {error.message} {error.remedy}
        </p>
      )}
    </form>
  );
}

interface ReasonProps {
  says: string;
  button: string;
  needs: StepOut[];
  onReason: (reason: string) => void;
  onLeave: () => void;
}

function Reason({ says, button, needs, onReason, onLeave }: ReasonProps) {
  function submit(event: SubmitEvent<HTMLFormElement>) {
    event.preventDefault();
    onReason(new FormData(event.currentTarget).get("reason") as string);
  }
  return (
    <form onSubmit={submit} className="relative ml-[50px] pb-3">
      {needs.length > 0 && (
        <p className="mb-1 flex gap-2 font-semibold text-warning">
          <Mark severity="warning" />
          Not done:{" "}
          {needs
            .slice(0, MOST_NAMED)
            .map((other) => firstSentence(other.text))
            .join(" ")}
          {needs.length > MOST_NAMED && ` And ${String(needs.length - MOST_NAMED)} more.`}
        </p>
      )}
      <div className="flex flex-wrap gap-2">
        <input
          name="reason"
          required
          autoFocus
          aria-label={says}
          placeholder={says}
          className={`${field} min-w-48 grow`}
        />
        <Button type="submit" kind="main">
          {button}
        </Button>
        <Button onClick={onLeave}>Leave it</Button>
      </div>
    </form>
  );
}
