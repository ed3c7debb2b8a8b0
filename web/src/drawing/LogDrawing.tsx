/** A logged current: its course as the logger saw it, each change marked where it begins. */
import type { LogColumn } from "../api/client";
import { font, ink } from "./ink";

const WIDTH = 860;
const HEIGHT = 190;
const LEFT = 66;
const BASE = 150;
const TOP = 22;

export function LogDrawing({ column }: { column: LogColumn }) {
  const most = Math.max(1, ...column.course.map((part) => part.most_a)) * 1.1;
  const span = Math.max(column.span_s, 1e-9);
  const x = (seconds: number) => LEFT + (seconds / span) * (WIDTH - LEFT - 24);
  const y = (amps: number) => BASE - (Math.max(0, amps) / most) * (BASE - TOP);
  const up = column.course.map((part) => `${String(x(part.t_s))},${String(y(part.most_a))}`);
  const down = column.course.map((part) => `${String(x(part.t_s))},${String(y(part.least_a))}`).reverse();
  return (
    <svg
      viewBox={`0 0 ${String(WIDTH)} ${String(HEIGHT)}`}
      className="w-full"
      role="img"
      aria-label={`Logged current ${column.column}: ${String(column.events.length)} changes`}
      fontFamily={font}
    >
      <polygon
        points={[...up, ...down].join(" ")}
        fill={ink.ink}
        stroke={ink.ink}
        strokeWidth="1.5"
        strokeLinejoin="round"
      />
      <line x1={LEFT} x2={x(span)} y1={BASE} y2={BASE} stroke={ink.rule} />
      <rect x={LEFT - 5} y={TOP - 6} width={10} height={BASE - TOP + 12} fill={ink.ink} />
      <text x={LEFT - 10} y={y(most / 1.1) + 5} textAnchor="end" fontSize="14" fill={ink.soft}>
        {(most / 1.1).toFixed(0)} A
      </text>
      <text x={LEFT} y={BASE + 34} fontSize="14" fill={ink.soft}>
        0 s
      </text>
      <text x={x(span)} y={BASE + 34} textAnchor="end" fontSize="14" fill={ink.soft}>
        {span.toFixed(0)} s
      </text>
      {column.events.map((event) => (
        <path
          key={event.at_s}
          d={
            event.step_a > 0
              ? `M${String(x(event.at_s))},${String(BASE + 4)}l6,12h-12z`
              : `M${String(x(event.at_s))},${String(BASE + 16)}l6,-12h-12z`
          }
          fill={event.kind === "trip" ? ink.stop : ink.copper}
        />
      ))}
    </svg>
  );
}
