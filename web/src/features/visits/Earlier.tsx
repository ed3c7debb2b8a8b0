/** A visit that is over: who, why, what was done, and what was read. */
import { when } from "../../ui/when";
import { Changes } from "./Changes";
import type { VisitRow } from "./visit";

const COLOUR = { outside: "text-stop", doubtful: "text-warning", unknown: "", within: "" };

export function Earlier({ visit }: { visit: VisitRow }) {
  return (
    <article className="mt-3 border-t border-rule pt-2">
      <h3 className="font-bold">{visit.why}</h3>
      <p className="text-soft">
        {visit.author}, {when(visit.noted_at ?? visit.at)}
        {visit.note && `: ${visit.note}`}
      </p>
      {visit.readings.length === 0 && <p className="text-soft">Nothing was read.</p>}
      <ul className="mt-1">
        {visit.readings.map((row) => (
          <li key={`${row.key} ${row.state}`} className="grid grid-cols-[minmax(0,1fr)_auto] gap-x-4 py-1">
            <span>
              {row.text} <span className="text-soft">{row.about.split("/")[1]}</span>
            </span>
            <span className="text-right">
              <span className="text-soft">as {row.state}</span> <b className={COLOUR[row.verdict]}>{row.shown}</b>
            </span>
            <div className="col-span-2 text-sm">
              <Changes row={row} />
            </div>
          </li>
        ))}
      </ul>
    </article>
  );
}
