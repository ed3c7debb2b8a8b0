/** A field to sign on by finger or pen. Strokes are kept as x and y in turn, on 1000 by 300. */
import { type PointerEvent, useRef } from "react";

const WIDTH = 1000;
const HEIGHT = 300;
const MOST_STROKES = 60;
const LONGEST = 2000;

interface Props {
  strokes: number[][];
  onChange: (strokes: number[][]) => void;
}

export function Pad({ strokes, onChange }: Props) {
  const drawing = useRef(false);
  function at(event: PointerEvent<SVGSVGElement>): [number, number] {
    const box = event.currentTarget.getBoundingClientRect();
    const within = (share: number, most: number) => Math.round(Math.min(1, Math.max(0, share)) * most);
    return [
      within((event.clientX - box.left) / box.width, WIDTH),
      within((event.clientY - box.top) / box.height, HEIGHT),
    ];
  }
  function begin(event: PointerEvent<SVGSVGElement>) {
    if (strokes.length >= MOST_STROKES) return;
    drawing.current = true;
    event.currentTarget.setPointerCapture(event.pointerId);
    onChange([...strokes, at(event)]);
  }
  function go(event: PointerEvent<SVGSVGElement>) {
    const last = strokes.at(-1);
    if (!drawing.current || !last || last.length >= LONGEST) return;
    onChange([...strokes.slice(0, -1), [...last, ...at(event)]]);
  }
  const end = () => (drawing.current = false);
  return (
    <div className="mt-2 max-w-md">
      <svg
        role="img"
        aria-label={strokes.length ? "Signed by hand" : "Sign here by finger; a name alone will do"}
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        className="block w-full touch-none border-b-2 border-ink/50 bg-sheet text-ink"
        onPointerDown={begin}
        onPointerMove={go}
        onPointerUp={end}
        onPointerCancel={end}
      >
        {!strokes.length && (
          <text x="40" y="170" fontSize="44" fill="var(--color-soft)">
            sign here, or by the name alone
          </text>
        )}
        <Stroke path={pathOf(strokes)} />
      </svg>
      {strokes.length > 0 && (
        <button
          type="button"
          className="min-h-11 text-soft underline decoration-faint underline-offset-4 hover:decoration-copper"
          onClick={() => onChange([])}
        >
          Wipe it off
        </button>
      )}
    </div>
  );
}

/** What a finger wrote, small. */
export function Ink({ path }: { path: string }) {
  return (
    <svg viewBox={`0 0 ${WIDTH} ${HEIGHT}`} width="150" height="45" aria-hidden className="block">
      <Stroke path={path} />
    </svg>
  );
}

function Stroke({ path }: { path: string }) {
  return (
    <path d={path} fill="none" stroke="currentColor" strokeWidth="8" strokeLinecap="round" strokeLinejoin="round" />
  );
}

function pathOf(strokes: number[][]): string {
  return strokes
    .map((stroke) => {
      const points = stroke.flatMap((x, at) => (at % 2 ? [] : [`${x} ${stroke[at + 1] ?? 0}`]));
      return `M${points[0] ?? ""}${points
        .slice(1)
        .map((point) => `L${point}`)
        .join("")}`;
    })
    .join("");
}
