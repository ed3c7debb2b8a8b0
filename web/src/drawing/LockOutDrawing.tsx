/** A lock-out drawn: each supply up to where it is opened, dead from there to the unit; what stays live goes through. */
import type { ReactNode } from "react";

const HEIGHT = 44;
const MIDDLE = HEIGHT / 2;
const OPENS = 46;
const CLOSES = 74;
const WIDTH = 116;

export interface Way {
  key: string;
  /** Opened and locked; else it reaches the unit live. */
  open: boolean;
  /** Where it is opened, and why; or what stays live. */
  words: ReactNode;
}

interface Props {
  unit: string;
  ways: readonly Way[];
  /** Whether the unit has been found dead with all of them open. */
  proved: boolean;
}

export function LockOutDrawing({ unit, ways, proved }: Props) {
  const live = ways.some((way) => !way.open);
  const says = live ? "not all of it is dead" : proved ? "then dead" : "not found dead";
  return (
    <div className="flex items-stretch">
      <ul className="min-w-0 grow">
        {ways.map((way) => (
          <li key={way.key} className="flex items-center gap-3">
            <span className={`min-w-0 grow py-1 ${way.open ? "" : "font-semibold text-stop"}`}>{way.words}</span>
            <svg
              width={WIDTH}
              height={HEIGHT}
              role="img"
              aria-label={way.open ? "open, dead from here to the unit" : "goes through live"}
              className={`shrink-0 max-md:-ml-2 max-md:w-20 ${way.open ? "text-ink" : "text-stop"}`}
              viewBox={`0 0 ${String(WIDTH)} ${String(HEIGHT)}`}
              preserveAspectRatio="none"
            >
              {way.open ? <Opened /> : <Through />}
            </svg>
          </li>
        ))}
      </ul>
      <p
        className={`flex w-20 shrink-0 flex-col items-center justify-center px-1 text-center ${live || !proved ? "border-[3px] border-stop text-stop" : "border-4 border-double border-ink"}`}
      >
        <b>{unit}</b>
        <span className="text-sm">{says}</span>
      </p>
    </div>
  );
}

/** Live and heavy up to the contact, its arm thrown; hollow behind it. */
function Opened() {
  return (
    <g fill="none" stroke="currentColor">
      <path d={`M0 ${String(MIDDLE)}H12l3-5 4 10 3-5H${String(OPENS)}`} strokeWidth="3.5" />
      <path d={`M${String(OPENS)} ${String(MIDDLE)}L${String(CLOSES - 4)} ${String(MIDDLE - 17)}`} strokeWidth="3.5" />
      <path d={`M${String(CLOSES)} ${String(MIDDLE - 7)}v14`} strokeWidth="3.5" />
      <path
        d={`M${String(CLOSES)} ${String(MIDDLE - 3)}H${String(WIDTH)}M${String(CLOSES)} ${String(MIDDLE + 3)}H${String(WIDTH)}`}
        strokeWidth="1.4"
      />
    </g>
  );
}

function Through() {
  return (
    <path
      d={`M0 ${String(MIDDLE)}H44l4-7 6 14 4-7H${String(WIDTH)}`}
      fill="none"
      stroke="currentColor"
      strokeWidth="3.5"
    />
  );
}
