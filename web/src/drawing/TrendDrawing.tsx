/** What was read at one place, from start-up through the visits: values in a row over the stretch that they should be in. */
import type { TrendOut } from "../api/client";
import { font, ink } from "./ink";
import { say } from "./parts";

const [WIDTH, HEIGHT] = [400, 92];
const [TOP, FOOT] = [20, 58];
const STEP = 62;
const MOST = 6;
const NAMES = { "start-up": "start-up", found: "found", left: "left" };

export function TrendDrawing({ trend }: { trend: TrendOut }) {
  // The first, at start-up, and the newest: between them the eye needs no more.
  const rest = trend.taken.length > MOST ? trend.taken.slice(1 - MOST) : trend.taken.slice(1);
  const taken = [...trend.taken.slice(0, 1), ...rest];
  const bounds = trend.low != null && trend.high != null ? [trend.low, trend.high] : [];
  // Insulation has a least value and no ceiling.
  const marks = trend.unit === "MΩ" ? bounds.slice(0, 1) : bounds;
  const figures = [...taken.map((one) => one.value), ...marks];
  const [least, most] = [Math.min(...figures), Math.max(...figures)];
  const y = (value: number) => FOOT - ((value - least) / (most - least || 1)) * (FOOT - TOP);
  const x = (index: number) => 34 + index * STEP;
  const [low, high] = bounds;
  const ceiling = high !== undefined && high <= most ? y(high) : TOP;
  return (
    <svg
      viewBox={`0 0 ${String(WIDTH)} ${String(HEIGHT)}`}
      className="my-1 w-full max-w-md"
      role="img"
      fontFamily={font}
      aria-label={taken.map((one) => `${NAMES[one.of]} ${one.at.slice(0, 10)}: ${one.shown}`).join(", ")}
    >
      {low !== undefined && <rect x={0} y={ceiling} width={WIDTH - 46} height={y(low) - ceiling} fill={ink.sheet} />}
      {marks.map((bound) => (
        <g key={bound}>
          <path d={`M0 ${String(y(bound))}H${String(WIDTH - 46)}`} stroke={ink.faint} />
          <text x={WIDTH - 42} y={y(bound) + 4} fontSize={12} fill={ink.soft}>
            {say(bound, trend.unit)}
          </text>
        </g>
      ))}
      <path
        d={taken.map((one, index) => `${index ? "L" : "M"}${String(x(index))} ${String(y(one.value))}`).join("")}
        fill="none"
        stroke={ink.ink}
        strokeWidth={2}
      />
      {taken.map((one, index) => {
        const newest = index === taken.length - 1;
        return (
          <g key={`${one.at} ${one.of}`}>
            <rect
              x={x(index) - 3}
              y={y(one.value) - 3}
              width={6}
              height={6}
              fill={newest ? ink.copper : one.of === "found" ? ink.paper : ink.ink}
              stroke={newest ? ink.copper : ink.ink}
              strokeWidth={2}
            />
            <text
              x={x(index)}
              y={y(one.value) - 8}
              textAnchor="middle"
              fontSize={12}
              fontWeight={newest ? 700 : 400}
              fill={ink.ink}
              stroke={ink.sheet}
              strokeWidth={3}
              paintOrder="stroke"
            >
              {one.shown}
            </text>
            <text x={x(index)} y={76} textAnchor="middle" fontSize={11} fill={ink.soft}>
              {NAMES[one.of]}
            </text>
            <text x={x(index)} y={89} textAnchor="middle" fontSize={11} fill={ink.soft}>
              {one.at.slice(2, 10)}
            </text>
          </g>
        );
      })}
    </svg>
  );
}
