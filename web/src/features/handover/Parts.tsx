/** Parts of the package, where not all of it is wanted. */
import { useState } from "react";

const PARTS = [
  ["record", "Record"],
  ["schedule", "Circuit schedule"],
  ["directory", "Panel directories"],
  ["landings", "Landings"],
  ["controls", "Controls"],
  ["trials", "Starts tried"],
] as const;

export function Parts({ id }: { id: string }) {
  const [chosen, setChosen] = useState<readonly string[]>([]);
  const query = PARTS.filter(([part]) => chosen.includes(part)).map(([part]) => `part=${part}`);
  return (
    <details className="mt-2">
      <summary className="min-h-11 cursor-pointer py-2">Only parts of everything</summary>
      <p className="flex flex-wrap gap-x-5">
        {PARTS.map(([part, name]) => (
          <label key={part} className="flex min-h-11 items-center gap-2">
            <input
              type="checkbox"
              className="h-5 w-5 accent-ink"
              checked={chosen.includes(part)}
              onChange={(event) =>
                setChosen(event.target.checked ? [...chosen, part] : chosen.filter((other) => other !== part))
              }
            />
            {name}
          </label>
        ))}
      </p>
      {query.length > 0 && (
        <a
          className="inline-flex min-h-11 items-center font-semibold underline"
          href={`/api/installs/${id}/package.pdf?${query.join("&")}`}
          target="_blank"
          rel="noreferrer"
        >
          Print {query.length === 1 ? "this part" : `these ${query.length} parts`}
        </a>
      )}
    </details>
  );
}
