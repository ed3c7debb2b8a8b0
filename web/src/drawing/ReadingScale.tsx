/** A reading against its bounds: the range as a stretch of line, what is expected and what was read as marks on it. */
import { font, ink } from "./ink";
import { say } from "./parts";

export interface Bounded {
  low: number;
  high: number;
  expected?: number | null | undefined;
  unit: string;
  basis: string;
}

interface Props {
  point: Bounded;
  value?: number | undefined;
}

const WIDTH = 400;
const [LEFT, RIGHT] = [80, 320];
const [LEAST, MOST] = [8, 392];

export function ReadingScale({ point: { low, high, expected, unit, basis }, value: read }: Props) {
  // What was typed and is no figure has no place on it.
  const value = Number.isFinite(read) ? read : undefined;
  const place = (figure: number) =>
    Math.min(MOST, Math.max(LEAST, LEFT + ((figure - low) / (high - low || 1)) * (RIGHT - LEFT)));
  const outside = value !== undefined && (value < low || value > high);
  const about = expected != null && expected > low && expected < high ? expected : null;
  // Beside a bound its figure would stand on that of the bound.
  const told = about !== null && Math.abs(place(about) - WIDTH / 2) < 0.14 * WIDTH;
  return (
    <svg
      viewBox={`0 0 ${String(WIDTH)} 40`}
      className="my-1 w-full max-w-md"
      role="img"
      fontFamily={font}
      aria-label={`should read ${expected == null ? "" : `about ${say(expected, unit)}, `}${say(low, unit)} to ${say(high, unit)}: ${basis}`}
    >
      <path d={`M0 10H${String(WIDTH)}`} stroke={ink.faint} />
      <path d={`M${String(LEFT)} 10H${String(RIGHT)}`} stroke={ink.ink} strokeWidth={4} />
      {[low, high].map((figure, index) => (
        <text key={index} x={index ? RIGHT : LEFT} y={34} textAnchor="middle" fontSize={13} fill={ink.soft}>
          {say(figure, unit)}
        </text>
      ))}
      {about !== null && (
        <>
          <path d={`M${String(place(about))} 4v12`} stroke={ink.ink} strokeWidth={2} />
          {told && (
            <text x={place(about)} y={34} textAnchor="middle" fontSize={13} fill={ink.ink}>
              {say(about, unit)}
            </text>
          )}
        </>
      )}
      {value !== undefined && (
        <path d={`M${String(place(value))} 0v20`} stroke={outside ? ink.stop : ink.copper} strokeWidth={6} />
      )}
    </svg>
  );
}
