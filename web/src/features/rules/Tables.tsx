/** The code tables as data, each with its article, edition and range. */
import { useEffect, useRef, useState } from "react";

import type { TableOut } from "../../api/client";

interface Props {
  tables: readonly TableOut[];
  /** The table that someone came for, as it is cited. */
  cited?: string | null;
  /** Which lines each citation stands at, by the words of the citation. */
  uses?: ReadonlyMap<string, readonly string[]>;
}

/** Whether a table is what a citation means. */
function means({ table }: TableOut, cited: string): boolean {
  return table === cited.replace("Table ", "") || table.endsWith(cited);
}

function usedAt(table: TableOut, uses: Props["uses"]): string[] {
  const lines = [...(uses ?? [])].filter(([cited]) => means(table, cited)).flatMap(([, found]) => found);
  return [...new Set(lines)];
}

export function Tables({ tables, cited = null, uses }: Props) {
  const wanted = tables.find((table) => cited !== null && means(table, cited));
  const [open, setOpen] = useState<string | null>(wanted?.id ?? null);
  const list = useRef<HTMLUListElement>(null);
  useEffect(() => {
    if (!wanted) return;
    const row = list.current?.querySelector<HTMLElement>(`[data-table="${wanted.id}"] button`);
    row?.scrollIntoView({ block: "start" });
    row?.focus({ preventScroll: true });
  }, [wanted]);
  return (
    <ul ref={list}>
      {tables.map((table) => (
        <li key={table.id} data-table={table.id} className="border-t border-rule">
          <button
            type="button"
            aria-expanded={open === table.id}
            className="grid min-h-11 w-full gap-x-6 py-2 text-left hover:bg-sheet md:grid-cols-[11rem_1fr]"
            onClick={() => setOpen(open === table.id ? null : table.id)}
          >
            <b>{table.table}</b>
            <span className="text-soft">
              {table.title}
              <Uses lines={usedAt(table, uses)} />
            </span>
          </button>
          {open === table.id && <Shown table={table} />}
        </li>
      ))}
    </ul>
  );
}

function Uses({ lines }: { lines: readonly string[] }) {
  return lines.length ? <span className="block text-sm text-ink">used at {lines.join(", ")}</span> : null;
}

function Shown({ table }: { table: TableOut }) {
  const doubt = table.columns.indexOf("uncertain");
  const columns = table.columns.map((name, index) => ({ name, index })).filter(({ name }) => name !== "uncertain");
  const doubtful = table.rows.some((row) => row[doubt]);
  return (
    <div className="overflow-x-auto pb-5 md:pl-44">
      <p className="text-sm text-soft">
        {table.edition}. {table.range}.
        {doubtful && " Rows marked ? are not certain: look them up before you rely on them."}
      </p>
      <table className="mt-2 text-left">
        <thead className="text-sm text-soft">
          <tr>
            {columns.map(({ name }) => (
              <th key={name} className="pr-6 font-normal">
                {name.replaceAll("_", " ")}
              </th>
            ))}
            {doubtful && <th />}
          </tr>
        </thead>
        <tbody>
          {table.rows.map((row, index) => (
            <tr key={index} className="border-t border-rule">
              {columns.map(({ name, index: column }) => (
                <td key={name} className="pr-6 whitespace-nowrap">
                  {row[column]}
                </td>
              ))}
              {doubtful && <td className="font-bold text-warning">{row[doubt]}</td>}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
