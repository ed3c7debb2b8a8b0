/** A log dropped beside the prediction: what happened in it, and what nobody can know from it. */
import { useState } from "react";

import { freshKey, type LogColumn, post } from "../api/client";
import { LogDrawing } from "../drawing/LogDrawing";
import { inWords } from "./inWords";
import { Mark } from "./parts";

const NAMES: Record<string, string> = { step_up: "step up", step_down: "step down" };
const MOST_ROWS = 40;

export function LoggedCurrent({ rating }: { rating: number | null }) {
  const [columns, setColumns] = useState<readonly LogColumn[]>([]);
  const [said, setSaid] = useState("");
  async function take(file: File | undefined) {
    if (!file) return;
    setSaid("Reading the log …");
    setColumns([]);
    const body = { csv: await file.text(), ...(rating === null ? {} : { rating_a: rating }) };
    const sent = await post<{ columns: LogColumn[] }>("/api/logs", freshKey(), body);
    if (sent.kind === "done") setColumns(sent.body.columns);
    setSaid(sent.kind === "done" ? "" : inWords(sent));
  }
  return (
    <section aria-label="A logged current" className="mt-6 border-t-2 border-ink pt-3">
      <h2 className="text-lg font-bold">What a logger saw</h2>
      <label className="mt-1 flex flex-wrap items-center gap-3">
        <span className="text-soft">
          A log as CSV, with a column t_s or time, and a or one that ends in _a; up to 5 MB.
        </span>
        <input
          type="file"
          accept=".csv,text/csv"
          aria-label="A log as a file"
          className="min-h-11"
          onChange={(event) => void take(event.target.files?.[0])}
        />
      </label>
      {said && (
        <p role="status" className="mt-1 font-semibold">
          {said}
        </p>
      )}
      {columns.map((column) => (
        <div key={column.column} className="mt-3">
          <LogDrawing column={column} />
          <ul>
            {column.events.slice(0, MOST_ROWS).map((event) => (
              <li key={event.at_s} className="border-t border-rule py-1 tabular-nums">
                <b>{event.at_s.toFixed(1)} s</b> {NAMES[event.kind] ?? event.kind}: {event.before_a.toFixed(1)} to{" "}
                {event.settled_a.toFixed(1)} A
                {event.kind === "start" &&
                  `, ${event.peak_is_least ? "at least " : ""}${event.peak_a.toFixed(0)} A at its peak`}
              </li>
            ))}
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
      ))}
    </section>
  );
}
