/** An install kept on the device before going up: everything that its start-up shows, read once. */
import { useState } from "react";

import type { RecordOut } from "../../api/client";
import { idOf } from "../../plan/workPart";
import { askForRoom, keepsAnswers, useSignal } from "../../ui/shell";
import { Button, Mark } from "../../ui/parts";

/** Below this much free room, MB, photos may not find theirs. */
const LITTLE_MB = 200;

export function Keep({ id, record }: { id: string; record: RecordOut }) {
  const signal = useSignal();
  const [said, setSaid] = useState<{ text: string; well: boolean } | null>(null);
  const [left, setLeft] = useState<number | null>(null);
  async function keep() {
    if (!keepsAnswers()) {
      setSaid({ text: "This browser does not keep pages yet. Load the page once more, then try again.", well: false });
      return;
    }
    const lines = record.parts.filter((part) => part.about.startsWith("circuits/"));
    const base = `/api/installs/${id}`;
    const paths = [
      "/api/session",
      base,
      `${base}/record`,
      `${base}/photos`,
      ...lines.map((part) => `${base}/lines/${idOf(part)}/lock-out`),
    ];
    setSaid(null);
    let missed = 0;
    for (const [place, path] of paths.entries()) {
      setLeft(paths.length - place);
      const answer = await fetch(path, { credentials: "same-origin" }).catch(() => null);
      if (!answer?.ok) missed += 1;
    }
    setLeft(null);
    const room = await askForRoom();
    if (missed > 0)
      setSaid({ text: `${String(missed)} of ${String(paths.length)} could not be read. Try again.`, well: false });
    else if (room.freeMb !== null && room.freeMb < LITTLE_MB)
      setSaid({ text: `Kept. Only ${String(room.freeMb)} MB are free for photos: make room first.`, well: false });
    else if (!room.promised)
      setSaid({ text: "Kept. The browser may clear it when the device runs short of room: go up soon.", well: true });
    else setSaid({ text: "Kept. It opens here without a signal.", well: true });
  }
  return (
    <section aria-label="Without a signal" className="mt-6 border-t border-rule pt-3">
      <Button disabled={!signal || left !== null} onClick={() => void keep()}>
        {left === null ? "Keep it on this device" : `Reading, ${String(left)} left …`}
      </Button>
      <p className="mt-1 text-sm text-soft">Before you go up: the whole start-up is then there without a signal.</p>
      {said && (
        <p role="status" className={`mt-1 flex gap-2 font-semibold ${said.well ? "" : "text-warning"}`}>
          {!said.well && <Mark severity="warning" />}
          {said.text}
        </p>
      )}
    </section>
  );
}
