/** Level 2: a cable between two strips; each end of each conductor is drawn onto a terminal, or pressed and placed. */
import { type PointerEvent, useState } from "react";

import { insulation } from "../../drawing/insulation";
import { Button } from "../../ui/parts";
import { NOTHING, type TaskOf } from "./judge";
import type { AnswerProps } from "./Played";

type Land = TaskOf<"land">;
type End = "a" | "b";
interface Held {
  wire: string;
  end: End;
}
type Placed = Record<string, { a?: string; b?: string }>;
const ENDS = ["a", "b"] as const;
const SLOP = 6;

export function LandCable({ task, onDone }: AnswerProps<Land>) {
  const [placed, setPlaced] = useState<Placed>({});
  const [held, setHeld] = useState<Held | null>(null);
  const [drag, setDrag] = useState<{ x: number; y: number; from: { x: number; y: number }; far: boolean } | null>(null);
  const missing = task.wires.flatMap(({ id }) => ENDS.filter((end) => !placed[id]?.[end]));
  const colour = (id: string) => task.wires.find((wire) => wire.id === id)?.colour ?? "";
  function put(ref: string, end: End, what: Held | null = held) {
    if (what?.end !== end) return;
    setPlaced((all) => ({ ...all, [what.wire]: { ...all[what.wire], [end]: ref } }));
    setHeld(null);
  }
  function onMove(event: PointerEvent) {
    if (!drag) return;
    const far = drag.far || Math.hypot(event.clientX - drag.from.x, event.clientY - drag.from.y) > SLOP;
    setDrag({ ...drag, x: event.clientX, y: event.clientY, far });
  }
  function onUp(event: PointerEvent) {
    const what = drag?.far ? held : null;
    setDrag(null);
    if (!what) return;
    const at = document.elementFromPoint(event.clientX, event.clientY)?.closest<HTMLElement>("[data-post]");
    if (at?.dataset["post"] && at.dataset["end"] === what.end) put(at.dataset["post"], what.end, what);
    else setHeld(null);
  }
  return (
    <div
      className={drag?.far ? "select-none" : ""}
      onPointerMove={onMove}
      onPointerUp={onUp}
      onPointerCancel={() => setDrag(null)}
    >
      <p className="mt-2 text-soft">
        Draw an end onto its terminal, or press the end and then the terminal. {task.cable}, {task.wires.length}{" "}
        conductors.
      </p>
      {ENDS.map((end) => {
        const strips = task.strips.filter((strip) => strip.end === end);
        return (
          <section key={end} aria-label={`End at ${strips[0]?.device ?? ""}`} className="mt-4">
            <h3 className="text-lg font-bold">{strips[0]?.device}</h3>
            <div className="mt-1 flex flex-wrap gap-2">
              {task.wires.map(({ id, carries }) => {
                const mine = held?.wire === id && held.end === end;
                const there = placed[id]?.[end];
                return (
                  <button
                    key={id}
                    type="button"
                    aria-pressed={mine}
                    aria-label={`${colour(id)} at ${strips[0]?.device ?? ""}${there ? `, on ${labelOf(task, there)}` : ", free"}`}
                    className={`flex min-h-11 touch-none items-center gap-2 rounded-sm border px-3 py-1 text-left ${mine ? "border-2 border-copper bg-sheet font-bold" : "border-ink/40"} ${there ? "text-soft" : "font-semibold"}`}
                    onPointerDown={(event) => {
                      const from = { x: event.clientX, y: event.clientY };
                      event.currentTarget.releasePointerCapture(event.pointerId);
                      setHeld({ wire: id, end });
                      setDrag({ ...from, from, far: false });
                    }}
                    onClick={() => setHeld({ wire: id, end })}
                  >
                    <Swatch colour={colour(id)} />
                    <span className="leading-tight">
                      {colour(id)}
                      <span className="block text-sm font-normal text-soft">{carries}</span>
                    </span>
                  </button>
                );
              })}
            </div>
            {strips.map((strip) => (
              <div key={strip.name} className="mt-3">
                <p className="text-sm text-soft">{strip.name}</p>
                <ul className="flex flex-wrap">
                  {strip.posts.map(({ ref, label }) => {
                    const here = task.wires.filter(({ id }) => placed[id]?.[end] === ref);
                    return (
                      <li key={ref} className="-ml-px border border-ink/50 bg-sheet first:ml-0">
                        <button
                          type="button"
                          data-post={ref}
                          data-end={end}
                          aria-label={`Terminal ${label}${here.length ? `: ${here.map((wire) => wire.colour).join(", ")}` : ""}`}
                          className={`flex min-h-16 w-24 flex-col items-start px-2 py-1 text-left ${held?.end === end ? "hover:bg-paper" : ""}`}
                          onClick={() =>
                            held?.end === end ? put(ref, end) : here[0] && setHeld({ wire: here[0].id, end })
                          }
                        >
                          <b>{label}</b>
                          {here.map((wire) => (
                            <span key={wire.id} className="mt-1 flex items-center gap-1 text-sm font-semibold">
                              <Swatch colour={wire.colour} />
                              {wire.colour}
                            </span>
                          ))}
                        </button>
                      </li>
                    );
                  })}
                </ul>
              </div>
            ))}
          </section>
        );
      })}
      {drag?.far && held && (
        <span
          aria-hidden
          className="pointer-events-none fixed z-10 flex items-center gap-2 border-2 border-copper bg-sheet px-3 py-2 font-bold"
          style={{ left: drag.x + 8, top: drag.y - 20 }}
        >
          <Swatch colour={colour(held.wire)} />
          {colour(held.wire)}
        </span>
      )}
      <Button kind="main" className="mt-5" onClick={() => onDone({ ...NOTHING, landed: placed })}>
        {missing.length ? `That is it, ${missing.length} ends free` : "That is it"}
      </Button>
    </div>
  );
}

function labelOf(task: Land, ref: string): string {
  return task.strips.flatMap((strip) => strip.posts).find((post) => post.ref === ref)?.label ?? "";
}

/** A piece of conductor in the colour of its insulation; its name always stands beside. */
function Swatch({ colour }: { colour: string }) {
  return (
    <svg viewBox="0 0 24 12" width="24" height="12" aria-hidden className="shrink-0">
      <rect x="0.5" y="2.5" width="23" height="7" fill={insulation(colour)} stroke="var(--color-ink)" strokeWidth="1" />
    </svg>
  );
}
