/** A log dropped beside the prediction: what happened in it, what nobody can know from it, and what an aid took off. */
import { useState } from "react";

import { freshKey, type LogColumn, type LogOut, post } from "../api/client";
import { LogDrawing } from "../drawing/LogDrawing";
import { inWords } from "./inWords";
import { Mark } from "./parts";

const NAMES: Record<string, string> = { step_up: "step up", step_down: "step down" };
const MOST_ROWS = 40;

export type LogEvent = LogColumn["events"][number];
type Rise = LogColumn["rises"][number];

interface Props {
  rating: number | null;
  /** Where it is read: of a source in a plan, its loads are recognised. */
  path?: string;
  /** A rise is to be laid over the prediction. */
  onLay?: (rise: Rise, event: LogEvent) => void;
}

export function LoggedCurrent({ rating, path = "/api/logs", onLay }: Props) {
  const [logs, setLogs] = useState<{ csv?: string; before_csv?: string }>({});
  const [found, setFound] = useState<LogOut | null>(null);
  const [said, setSaid] = useState("");
  async function take(which: "csv" | "before_csv", file: File | undefined) {
    if (!file) return;
    const now = { ...logs, [which]: await file.text() };
    setLogs(now);
    if (!now.csv) return;
    setSaid("Reading the log …");
    const sent = await post<LogOut>(path, freshKey(), { ...now, ...(rating === null ? {} : { rating_a: rating }) });
    setFound(sent.kind === "done" ? sent.body : null);
    setSaid(sent.kind === "done" ? "" : inWords(sent));
    const first = sent.kind === "done" ? sent.body.columns[0] : undefined;
    const rise = first?.rises[0];
    const event = first?.events.find(({ at_s }) => at_s === rise?.at_s);
    if (rise && event) onLay?.(rise, event);
  }
  return (
    <section aria-label="A logged current" className="mt-6 border-t-2 border-ink pt-3">
      <h2 className="text-lg font-bold">What a logger saw</h2>
      <p className="mt-1 text-soft">
        A log as CSV, with a column t_s or time, and a or one that ends in _a; up to 12 MB.
      </p>
      <LogFile label="A log as a file" onFile={(file) => void take("csv", file)} />
      {logs.csv && (
        <p className="text-soft">
          And, to see what an aid takes off: a log of the same loads from before.
          <LogFile label="An earlier log as a file" onFile={(file) => void take("before_csv", file)} />
        </p>
      )}
      {said && (
        <p role="status" className="mt-1 font-semibold">
          {said}
        </p>
      )}
      {found && found.taken.length > 0 && (
        <ul aria-label="What is gone of each start">
          {found.taken.map((row) => (
            <li key={row.after_at_s} className="border-t border-rule py-1">
              <b>{row.after_at_s.toFixed(1)} s</b>, {row.before_at_s.toFixed(1)} s in the earlier log: {row.says}
            </li>
          ))}
        </ul>
      )}
      {found?.columns.map((column) => (
        <Column key={column.column} column={column} onLay={onLay} />
      ))}
    </section>
  );
}

function LogFile({ label, onFile }: { label: string; onFile: (file: File | undefined) => void }) {
  return (
    <input
      type="file"
      accept=".csv,text/csv"
      aria-label={label}
      className="block min-h-11"
      onChange={(event) => onFile(event.target.files?.[0])}
    />
  );
}

function Column({ column, onLay }: { column: LogColumn; onLay: Props["onLay"] }) {
  return (
    <div className="mt-3">
      <LogDrawing column={column} />
      <ul aria-label={`Changes in ${column.column}`}>
        {column.events.slice(0, MOST_ROWS).map((event) => {
          const rise = column.rises.find(({ at_s }) => at_s === event.at_s);
          return (
            <li
              key={event.at_s}
              className="flex flex-wrap items-baseline gap-x-3 border-t border-rule py-1 tabular-nums"
            >
              <span>
                <b>{event.at_s.toFixed(1)} s</b> {NAMES[event.kind] ?? event.kind}: {event.before_a.toFixed(1)} to{" "}
                {event.settled_a.toFixed(1)} A
                {event.kind === "start" &&
                  `, ${event.peak_is_least ? "at least " : ""}${event.peak_a.toFixed(0)} A at its peak`}
              </span>
              <span className="text-soft">{likely(event)}</span>
              {rise && onLay && (
                <button type="button" className="ml-auto min-h-11 underline" onClick={() => onLay(rise, event)}>
                  over the prediction
                </button>
              )}
            </li>
          );
        })}
      </ul>
      {column.events.length === 0 && <p>Nothing changes in {column.column}.</p>}
      {column.events.length > MOST_ROWS && (
        <p className="text-soft">And {column.events.length - MOST_ROWS} more, marked on the drawing.</p>
      )}
      {column.findings.map((row) => (
        <p key={row.message} className="flex gap-3 border-t border-rule py-1">
          <Mark severity={row.severity} />
          {row.message}
        </p>
      ))}
    </div>
  );
}

/** Which loads a change is likely to be: those that fit, by how near they are. */
function likely(event: LogEvent): string {
  const named = (event.likely ?? []).map(({ load, part }) => (part === "load" ? load : `${part} of ${load}`));
  return named.slice(0, 3).join(", or ");
}
