/** How the room warms up: temperature against time, with the target and when it is reached. */
import type { Answer } from "../../api/client";
import { font, ink } from "../../drawing/ink";
import { say } from "../../drawing/parts";

const WIDTH = 480;
const HEIGHT = 190;
const LEFT = 44;
const RIGHT = 12;
const TOP = 26;
const BOTTOM = 30;

export function Warmup({ curve, target, name }: { curve: Answer["curve"]; target: number | null; name: string }) {
  const last = curve.at(-1);
  const first = curve[0];
  if (!first || !last || target === null) return null;
  const low = Math.min(first.temperature_f, target);
  const high = Math.max(...curve.map((point) => point.temperature_f), target);
  const x = (minutes: number) => LEFT + (minutes / last.minutes) * (WIDTH - LEFT - RIGHT);
  const y = (degrees: number) => HEIGHT - BOTTOM - ((degrees - low) / (high - low || 1)) * (HEIGHT - TOP - BOTTOM);
  const path = curve
    .map((point, index) => `${index ? "L" : "M"}${x(point.minutes)} ${y(point.temperature_f)}`)
    .join("");
  const reached = curve.find((point) => point.temperature_f >= target);
  const ticks = hours(last.minutes);
  return (
    <svg
      viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
      className="w-full"
      fontFamily={font}
      role="img"
      aria-label={`${name}: from ${say(first.temperature_f, "°F", 0)}; ${reached ? `the target is reached after ${span(reached.minutes)}` : "the target is never reached"}`}
    >
      {ticks.map((minutes) => (
        <g key={minutes}>
          <path d={`M${x(minutes)} ${HEIGHT - BOTTOM}v5`} stroke={ink.soft} />
          <text x={x(minutes)} y={HEIGHT - BOTTOM + 19} fontSize={12} fill={ink.soft} textAnchor="middle">
            {span(minutes)}
          </text>
        </g>
      ))}
      <path
        d={`M${LEFT} ${TOP - 8}V${HEIGHT - BOTTOM}H${WIDTH - RIGHT}`}
        stroke={ink.ink}
        strokeWidth={2}
        fill="none"
      />
      <path d={`M${LEFT} ${y(target)}H${WIDTH - RIGHT}`} stroke={ink.copper} strokeWidth={1.5} strokeDasharray="6 5" />
      <text x={LEFT - 6} y={y(target) + 4} fontSize={12} fontWeight={650} fill={ink.copper} textAnchor="end">
        {say(target, "°F", 0)}
      </text>
      <text x={LEFT - 6} y={y(first.temperature_f) + 4} fontSize={12} fill={ink.soft} textAnchor="end">
        {Math.abs(y(first.temperature_f) - y(target)) > 16 ? say(first.temperature_f, "°F", 0) : ""}
      </text>
      <path d={path} stroke={ink.ink} strokeWidth={3} fill="none" strokeLinejoin="round" />
      {reached && reached.minutes > 0 && (
        <>
          <path d={`M${x(reached.minutes)} ${y(target)}V${HEIGHT - BOTTOM}`} stroke={ink.copper} strokeWidth={1.5} />
          <circle cx={x(reached.minutes)} cy={y(target)} r={5} fill={ink.copper} />
        </>
      )}
      <text x={WIDTH - RIGHT} y={y(last.temperature_f) - 9} fontSize={12} fill={ink.soft} textAnchor="end">
        {`${say(last.temperature_f, "°F", 0)} after ${span(last.minutes)}`}
      </text>
    </svg>
  );
}

/** Three or four round times along the axis. */
function hours(most: number): number[] {
  const step = [15, 30, 60, 120, 240, 360, 480, 720, 1440, 2880].find((entry) => most / entry <= 5) ?? 5760;
  return Array.from({ length: Math.floor(most / step) }, (_, index) => (index + 1) * step);
}

function span(minutes: number): string {
  const whole = Math.round(minutes);
  if (whole < 60) return `${whole} min`;
  return whole % 60 ? `${Math.floor(whole / 60)} h ${String(whole % 60).padStart(2, "0")}` : `${whole / 60} h`;
}
