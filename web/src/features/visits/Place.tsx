/** One place that is read on a visit: what it should be, what it was, and what is read as found and as left. */
import { type SubmitEvent, useState } from "react";

import type { PointOut, TrendOut } from "../../api/client";
import { TrendDrawing } from "../../drawing/TrendDrawing";
import { isWithin, OPEN_OHMS, sayRead } from "../../plan/course";
import { useMeters } from "../../plan/useMeters";
import type { FieldError, PlanHandle } from "../../plan/usePlan";
import { parse } from "../../ui/Edit";
import { Button, Mark } from "../../ui/parts";
import { Changes } from "./Changes";
import { type OpenVisit, placeOf, type ReadRow, type State } from "./visit";

const STATES: readonly State[] = ["found", "left"];
const field = "min-h-12 border-b-2 border-ink/50 bg-sheet px-2 text-lg focus:border-copper disabled:border-rule";

interface Props {
  point: PointOut;
  open: OpenVisit;
  trend: TrendOut | undefined;
  errors: PlanHandle["errors"];
  disabled: boolean;
  onRead: (body: { state: State; value: unknown; reason?: string; meter?: string }) => void;
}

export function Place({ point, open, trend, errors, disabled, onRead }: Props) {
  const standing = point.entries.at(-1);
  const drawn = trend && trend.taken.length > 1 && point.unit !== "Ω";
  return (
    <li className="border-t border-rule py-3">
      <div className="flex flex-wrap items-baseline justify-between gap-x-4">
        <b>{point.text}</b>
        <span className="text-soft">
          {[point.should && `should be ${point.should}`, standing && !point.void && `${standing.shown} at start-up`]
            .filter(Boolean)
            .join(", ") || "no bounds are known"}
        </span>
      </div>
      {drawn && <TrendDrawing trend={trend} />}
      <div className="mt-1 grid items-start gap-x-8 gap-y-2 sm:grid-cols-2">
        {STATES.map((state) => (
          <Value
            key={state}
            point={point}
            state={state}
            row={open.readings.find((one) => one.key === point.key && one.state === state)}
            entered={open.entered.get(placeOf(point.key, state))}
            error={errors[placeOf(point.key, state)]}
            disabled={disabled}
            onRead={onRead}
          />
        ))}
      </div>
    </li>
  );
}

interface ValueProps extends Omit<Props, "open" | "trend" | "errors"> {
  state: State;
  row: ReadRow | undefined;
  entered: number | undefined;
  error: FieldError | undefined;
}

function Value({ point, state, row, entered, error, disabled, onRead }: ValueProps) {
  const [again, setAgain] = useState(false);
  const { inHand } = useMeters();
  const name = state === "found" ? "As found" : "As left";
  function submit(event: SubmitEvent<HTMLFormElement>) {
    event.preventDefault();
    const form = new FormData(event.currentTarget);
    read(parse(form.get("value") as string, "number") ?? null, form.get("reason") as string | null);
    event.currentTarget.reset();
  }
  function read(value: unknown, reason: string | null) {
    onRead({
      state,
      value,
      ...(reason ? { reason } : {}),
      ...(inHand?.classes[point.unit] ? { meter: inHand.id } : {}),
    });
    setAgain(false);
  }
  if (entered !== undefined)
    return (
      <p>
        <span className="text-soft">{name}</span> <b className="text-xl">{sayRead(entered, point.unit)}</b>
        <span className={`block ${isWithin(point, entered) ? "text-soft" : "font-semibold text-stop"}`}>
          {isWithin(point, entered) ? "within" : "outside"} its bounds; kept here, not sent yet
        </span>
      </p>
    );
  if (row && !again)
    return (
      <div>
        <p className="flex flex-wrap items-baseline gap-x-2">
          <span className="text-soft">{name}</span> <b className="text-xl">{row.shown}</b>
          {row.earlier.map((old) => (
            <span key={old} className="text-sm text-soft line-through">
              {old}
            </span>
          ))}
        </p>
        <Said row={row} />
        <Changes row={row} />
        {!disabled && (
          <button
            type="button"
            className="min-h-11 text-soft underline decoration-faint underline-offset-4 hover:decoration-copper"
            onClick={() => setAgain(true)}
          >
            Read again
          </button>
        )}
      </div>
    );
  if (disabled) return <p className="text-soft">{name}: not read</p>;
  return (
    <form onSubmit={submit} className="flex flex-wrap items-center gap-2">
      <span className="w-17 text-soft sm:w-full">{name}</span>
      <input
        key={error?.typed}
        name="value"
        required
        aria-label={`${name}, ${point.text}, ${point.unit}`}
        aria-invalid={error !== undefined}
        defaultValue={error?.typed}
        inputMode="decimal"
        autoComplete="off"
        autoFocus={again}
        className={`${field} w-24 text-right`}
      />
      <span className="text-soft">{point.unit}</span>
      {row && (
        <input
          name="reason"
          required
          maxLength={200}
          aria-label="Why it is read again"
          placeholder="Why it is read again"
          className={`${field} min-w-36 grow`}
        />
      )}
      <Button type="submit" className="min-h-12">
        Record
      </Button>
      {point.unit === "Ω" && !row && <Button onClick={() => read(OPEN_OHMS, null)}>OL</Button>}
      {row && <Button onClick={() => setAgain(false)}>Leave it</Button>}
      {error && (
        <p role="alert" className="w-full text-stop">
          {error.message} {error.remedy}
        </p>
      )}
    </form>
  );
}

function Said({ row }: { row: ReadRow }) {
  const colour = row.verdict === "outside" ? "text-stop" : row.verdict === "within" ? "text-ink" : "text-warning";
  return (
    <p className={`flex items-start gap-2 ${row.verdict === "within" ? "" : "font-semibold"} ${colour}`}>
      {row.verdict !== "within" && <Mark severity={row.verdict === "outside" ? "stop" : "warning"} />}
      {row.said}
    </p>
  );
}
