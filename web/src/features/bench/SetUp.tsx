/** What to set at each device, as it follows from the plan and its wiring; ticks stay on this machine. */
import type { SetUpRow } from "../../api/client";
import { sentence } from "../../ui/text";
import { useTicks } from "../../ui/useTicks";

export function SetUp({ rows, place }: { rows: readonly SetUpRow[]; place: string }) {
  const [ticked, tick] = useTicks(`leitung set-up ${place}`);
  const devices = [...new Set(rows.map((row) => row.device))];
  if (!rows.length) return <p className="mt-5 text-soft">Nothing in this system has a setting.</p>;
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
