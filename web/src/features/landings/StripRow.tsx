/** A strip with what lands on each terminal, in a row as it is seen. */
import type { DeviceView, Landed } from "../../api/client";
import { insulation } from "../../drawing/insulation";

export function StripRow({ strip, onOpen }: { strip: DeviceView["strips"][number]; onOpen: (cable: string) => void }) {
  return (
    <ul className="mt-1 flex flex-wrap items-stretch gap-y-2">
      {strip.terminals.map((terminal) => (
        <li key={terminal.ref} className="min-w-24 border-2 border-ink bg-sheet px-2 py-1 not-first:-ml-0.5">
          <b className="block text-center text-lg leading-tight">{terminal.label}</b>
          <span className="block max-w-36 text-center text-sm leading-tight text-soft">
            {terminal.says || terminal.kind_words}
          </span>
          {terminal.landed.filter((row) => !row.pigtail).length > terminal.takes && (
            <b className="block text-center text-sm text-stop">takes {terminal.takes}</b>
          )}
          {terminal.empty && <span className="block max-w-36 text-center text-sm">{terminal.empty}</span>}
          {terminal.landed.map((row) => (
            <button
              key={`${row.cable} ${row.conductor} ${row.end}`}
              type="button"
              className="mt-1 flex min-h-9 w-full items-center gap-1.5 border-t border-rule text-left text-sm hover:text-copper-deep"
              onClick={() => onOpen(row.cable)}
            >
              <Swatch row={row} />
              <span>
                {row.colour}
                <span className="block text-soft">{row.cable}</span>
              </span>
            </button>
          ))}
        </li>
      ))}
    </ul>
  );
}

export function Swatch({ row, large }: { row: Pick<Landed, "colour" | "marked">; large?: boolean }) {
  return (
    <span
      aria-hidden
      className={`relative inline-block shrink-0 border border-ink ${large ? "h-8 w-24" : "h-3 w-7"}`}
      style={{ background: insulation(row.colour) }}
    >
      {row.marked && (
        <span
          className="absolute inset-y-0 right-0 w-1/3 border-l border-ink"
          style={{ background: insulation(row.marked) }}
        />
      )}
    </span>
  );
}
