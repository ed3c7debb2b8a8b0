/** What to set at each device, as it follows from the plan and its wiring; ticks stay on this machine. */
import { useState } from "react";

import type { SetUpRow } from "../../api/client";
import { sentence } from "../../ui/text";

export function SetUp({ rows, place }: { rows: readonly SetUpRow[]; place: string }) {
  const [ticked, setTicked] = useState(() => kept(place));
  const devices = [...new Set(rows.map((row) => row.device))];
  if (!rows.length) return <p className="mt-5 text-soft">Nothing in this system has a setting.</p>;
  const tick = (key: string) => {
    const next = ticked.includes(key) ? ticked.filter((entry) => entry !== key) : [...ticked, key];
    setTicked(next);
    keep(place, next);
  };
  return (
    <div className="mt-3 max-w-3xl">
      <p className="text-soft">
        {ticked.length} of {rows.length} ticked. A tick stays on this machine; the record begins at start-up.
      </p>
      {devices.map((device) => (
        <section key={device} aria-label={device} className="mt-4">
          <h2 className="text-lg font-bold">{device}</h2>
          <ul>
            {rows
              .filter((row) => row.device === device)
              .map((row) => {
                const key = `${row.device} ${row.what} ${row.value}`;
                return (
                  <li key={key} className="border-t border-rule">
                    <label className="flex min-h-12 cursor-pointer items-center gap-4 py-1">
                      <input
                        type="checkbox"
                        className="size-6 shrink-0 accent-copper"
                        checked={ticked.includes(key)}
                        onChange={() => tick(key)}
                      />
                      <span className="flex-1">
                        {sentence(row.what)}: <b>{row.value}</b>
                        <span
                          className={`block text-sm ${row.as_planned === false ? "font-bold text-stop" : "text-soft"}`}
                        >
                          {row.as_planned === false ? "The plan says otherwise. " : ""}
                          {sentence(row.why)}.
                        </span>
                      </span>
                    </label>
                  </li>
                );
              })}
          </ul>
        </section>
      ))}
    </div>
  );
}

function kept(place: string): string[] {
  try {
    const found: unknown = JSON.parse(localStorage.getItem(`leitung set-up ${place}`) ?? "[]");
    return Array.isArray(found) ? found.filter((entry) => typeof entry === "string") : [];
  } catch {
    return [];
  }
}

function keep(place: string, ticked: readonly string[]): void {
  try {
    localStorage.setItem(`leitung set-up ${place}`, JSON.stringify(ticked));
  } catch {
    // A full or closed store: the ticks last as long as the page.
  }
}
