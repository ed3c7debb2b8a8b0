/** What a light or a number of a device means, looked up where it is seen. */
import { useState } from "react";

import type { RecordOut } from "../../api/client";

/** With more rows than these, one is searched for. */
const LOOKED_THROUGH = 6;

export function Lights({ record, about }: { record: RecordOut; about: string }) {
  const [asked, setAsked] = useState("");
  const mine = record.shown.filter((device) => device.about === about);
  const count = mine.reduce((sum, device) => sum + device.codes.length, 0);
  if (count === 0) return null;
  const words = asked.toLowerCase().split(/\s+/).filter(Boolean);
  const found = mine
    .map((device) => ({
      ...device,
      codes: device.codes.filter((code) => {
        const text = `${device.device} ${device.name} ${code.shows} ${code.means}`.toLowerCase();
        return words.every((word) => text.includes(word));
      }),
    }))
    .filter((device) => device.codes.length > 0);
  return (
    <details className="mt-6 border-t border-rule pt-3">
      <summary className="min-h-11 cursor-pointer py-2 text-lg font-bold">What a light or a code says</summary>
      {count > LOOKED_THROUGH && (
        <input
          aria-label="What it shows"
          placeholder="2 flashes, E1, red …"
          className="mb-2 min-h-12 w-full border-b-2 border-ink/50 bg-sheet px-2 focus:border-copper"
          value={asked}
          onChange={(event) => setAsked(event.target.value)}
        />
      )}
      {found.length === 0 && (
        <p className="text-soft">Nothing of the plan shows that. Its own label or manual says what it means.</p>
      )}
      {found.map((device) => (
        <section key={device.device} className="mb-3">
          <h3 className="font-bold">
            {device.device} <span className="font-normal text-soft">{device.name}</span>
          </h3>
          <dl>
            {device.codes.map((code) => (
              <div key={code.shows} className="border-t border-rule py-1.5 first:border-0">
                <dt className="font-semibold">{code.shows}</dt>
                <dd>
                  {code.means.charAt(0).toUpperCase() + code.means.slice(1)}.{" "}
                  <span className="text-soft">{code.then}</span>
                </dd>
              </div>
            ))}
          </dl>
        </section>
      ))}
    </details>
  );
}
