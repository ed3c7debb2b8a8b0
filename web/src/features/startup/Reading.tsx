/** One reading: what it should be, what was read, its verdict; entered, corrected with a reason. */
import { type SubmitEvent, useRef, useState } from "react";

import type { PointOut, RecordOut } from "../../api/client";
import { say } from "../../drawing/parts";
import { ReadingScale } from "../../drawing/ReadingScale";
import type { FieldError } from "../../plan/usePlan";
import { parse } from "../../ui/Edit";
import { Button, Mark } from "../../ui/parts";
import { PhotoStrip } from "../../ui/PhotoStrip";
import { when } from "../../ui/when";
import { Leads } from "./Leads";
import { taken, useMeters } from "../../plan/useMeters";
import { isWithin, meaningOf, OPEN_OHMS, sayRead } from "../../plan/course";

// Why a reading is taken again, where that needs no word of anybody.
const REWIRED = "wired otherwise since";

interface ReadingProps {
  install: string;
  record: RecordOut;
  point: PointOut;
  error: FieldError | undefined;
  waiting: boolean;
  /** What was read and is not sent yet. */
  entered: number | undefined;
  disabled: boolean;
  /** Something that its step needs is not done: the reading needs a reason. */
  passes: boolean;
  /** The field is gone to at once: the one before it was just entered. */
  goTo?: boolean;
  onRead: (body: { value: unknown; corrects?: string; reason?: string; meter?: string }) => void;
}

export function Reading({
  install,
  record,
  point,
  error,
  waiting,
  entered,
  disabled,
  passes,
  goTo,
  onRead,
}: ReadingProps) {
  const standing = point.entries.at(-1);
  const meaning = entered === undefined ? standing?.meaning : meaningOf(record, point, entered);
  const [correcting, setCorrecting] = useState(false);
  const [typed, setTyped] = useState("");
  const entering = !standing || correcting || point.void;
  const form = useRef<HTMLFormElement>(null);
  const { inHand } = useMeters();
  const [noValue, setNoValue] = useState("");
  async function take(meter: string) {
    const found = await taken(install, point.key, meter);
    setNoValue(found.says ?? "");
    if (found.value !== undefined) setTyped(String(found.value));
  }
  function submit(event: SubmitEvent<HTMLFormElement>) {
    event.preventDefault();
    read(parse(typed, "number") ?? null);
  }
  function read(value: unknown) {
    const typedReason = form.current ? (new FormData(form.current).get("reason") as string | null) : null;
    const reason = typedReason ?? (point.void ? REWIRED : null);
    onRead({
      value,
      ...(inHand?.classes[point.unit] ? { meter: inHand.id } : {}),
      ...(standing ? { corrects: standing.id } : {}),
      ...(reason === null ? {} : { reason }),
    });
    setCorrecting(false);
    setTyped("");
  }
  const field =
    "min-h-12 border-b-2 border-ink/50 bg-sheet px-2 text-lg focus:border-copper disabled:border-rule disabled:bg-transparent";
  const ohms = point.unit === "Ω";
  const megohms = point.unit === "MΩ";
  return (
    <li className="border-t border-rule py-3 first:border-0">
      <div className="flex flex-wrap items-baseline justify-between gap-x-4">
        <b>{point.text}</b>
        {standing ? (
          <span className="text-2xl font-bold">{standing.shown}</span>
        ) : ohms ? (
          <span className="font-semibold">
            {point.expected === 0 ? "joined" : "apart"}: {point.should}
          </span>
        ) : point.expected != null ? (
          <span className="text-soft">about {say(point.expected, point.unit)}</span>
        ) : (
          megohms && <span className="font-semibold">{point.should}</span>
        )}
      </div>
      {entering && !waiting && (
        <Leads from={point.terminal_from} to={point.terminal_to} unit={point.unit} dc={point.dc} />
      )}
      {!ohms && !megohms && <Scale point={point} value={entered ?? standing?.value} />}
      {point.void && (
        <p className="flex items-start gap-2 font-semibold text-warning">
          <Mark severity="warning" />
          The wiring was changed since: read it again.
        </p>
      )}
      {standing && !point.void && (
        <p
          className={`flex items-start gap-2 font-semibold ${standing.verdict === "outside" ? "text-stop" : standing.verdict !== "within" ? "text-warning" : "text-ink"}`}
        >
          {standing.verdict !== "within" && <Mark severity={standing.verdict === "outside" ? "stop" : "warning"} />}
          {standing.said}
        </p>
      )}
      {meaning && (
        <p className="mt-1">
          {meaning.says} <b>Next:</b> {meaning.then}
        </p>
      )}
      {point.entries.map((entry, index) => (
        <p key={entry.id} className="text-sm text-soft">
          <span className={index < point.entries.length - 1 ? "line-through" : ""}>{entry.shown}</span> {entry.author},{" "}
          {when(entry.noted_at ?? entry.at)}
          {entry.meter && `, ${`${entry.meter.name} ${entry.meter.serial}`.trim()}, ${entry.meter.says}`}
          {entry.reason && `: ${entry.reason}`}
          {entry.meter?.doubt && <b className="block text-warning">{entry.meter.doubt}</b>}
        </p>
      ))}
      {waiting && entered !== undefined && (
        <p className={isWithin(point, entered) ? "" : "font-semibold text-stop"}>
          {sayRead(entered, point.unit)}: {isWithin(point, entered) ? "within" : "outside"} its bounds; kept here, not
          sent yet
        </p>
      )}
      {error && (
        <p role="alert" className="text-stop">
          {error.message} {error.remedy}
        </p>
      )}
      {entering && !waiting && (
        <form ref={form} onSubmit={submit} className="mt-1 flex flex-wrap items-center gap-2">
          <input
            aria-label={`${point.text}, ${point.unit}`}
            inputMode="decimal"
            autoComplete="off"
            required
            disabled={disabled}
            autoFocus={correcting || goTo}
            className={`${field} min-h-16 w-32 text-right text-2xl`}
            value={typed || (error?.typed ?? "")}
            onChange={(event) => setTyped(event.target.value)}
          />
          <span className="text-soft">{point.unit}</span>
          {inHand?.reached && inHand.classes[point.unit] && (
            <Button className="min-h-16 px-5 text-lg" disabled={disabled} onClick={() => void take(inHand.id)}>
              Take it from the meter
            </Button>
          )}
          {(point.void ? passes : (standing ?? passes)) && (
            <input
              name="reason"
              required
              aria-label={standing && !point.void ? "Reason of the correction" : "Why is it done before what it needs"}
              placeholder={standing && !point.void ? "Why is it corrected" : "Why before what it needs"}
              className={`${field} min-w-40 grow`}
            />
          )}
          <Button type="submit" kind="main" className="min-h-16 px-6 text-lg" disabled={disabled}>
            {standing && !point.void ? "Correct" : "Record"}
          </Button>
          {ohms && (
            <Button
              className="min-h-16 px-5 text-lg"
              disabled={disabled}
              onClick={() => {
                if (form.current?.elements.namedItem("reason") && !form.current.reportValidity()) return;
                read(OPEN_OHMS);
              }}
            >
              OL, no reading
            </Button>
          )}
          {standing && !point.void && <Button onClick={() => setCorrecting(false)}>Leave it</Button>}
          {noValue && (
            <p role="alert" className="w-full text-stop">
              {noValue}
            </p>
          )}
        </form>
      )}
      {standing && (
        <PhotoStrip
          install={install}
          about={`readings/${point.key}`}
          name={point.text}
          // What reads as it should needs no picture; one that is there is shown.
          readOnly={disabled || standing.verdict === "within"}
        />
      )}
      {standing && !point.void && !correcting && !waiting && !disabled && (
        <Button className="mt-1" onClick={() => setCorrecting(true)}>
          Correct it
        </Button>
      )}
    </li>
  );
}

function Scale({ point, value }: { point: PointOut; value: number | undefined }) {
  const { low, high } = point;
  if (low == null || high == null) return <p className="my-1 text-soft">Cannot be judged: {point.basis}.</p>;
  return <ReadingScale point={{ ...point, low, high }} value={value} />;
}
