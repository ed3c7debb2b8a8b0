/** Where a meter's two leads go: both terminals by device and name, as they are found on the unit. */
import type { PointOut } from "../../api/client";
import { font, ink } from "../../drawing/ink";

interface Props {
  from: string;
  to: string;
  /** What is read: volts or ohms between two terminals, current round one conductor, warmth between two places. */
  unit: PointOut["unit"];
  dc: boolean;
}

export function Leads({ from, to, unit, dc }: Props) {
  const [a, b] = [named(from), named(to)];
  const clamp = unit === "A" || unit === "kW";
  return (
    <svg
      viewBox="0 0 340 84"
      className="my-2 w-full max-w-md"
      role="img"
      fontFamily={font}
      aria-label={
        clamp
          ? `${unit === "kW" ? "Leads on the lines, clamp" : "Clamp"} round the conductor from ${a.terminal} at ${a.device} to ${b.terminal} at ${b.device}`
          : `One ${unit === "°F" ? "probe in the air" : "lead"} on ${a.terminal} at ${a.device}, the other on ${b.terminal} at ${b.device}`
      }
    >
      {clamp ? (
        <>
          <path d="M60 26H280" stroke={ink.ink} strokeWidth={6} />
          <ellipse cx={170} cy={26} rx={13} ry={21} fill="none" stroke={ink.copper} strokeWidth={4} />
          <text x={170} y={66} textAnchor="middle" fontSize={13} fill={ink.copper} fontWeight={700}>
            {unit === "kW" ? "one conductor; leads on its lines" : "one conductor alone"}
          </text>
        </>
      ) : (
        <>
          <path
            d="M60 26C90 60 120 62 146 62M280 26C250 60 220 62 194 62"
            fill="none"
            stroke={ink.copper}
            strokeWidth={2.5}
          />
          <rect x={146} y={48} width={48} height={28} rx={2} fill={ink.sheet} stroke={ink.ink} strokeWidth={2} />
          <text x={170} y={67} textAnchor="middle" fontSize={14} fill={ink.ink} fontWeight={700}>
            {unit === "Ω" || unit === "MΩ" || unit === "°F" ? unit : dc ? "V=" : "V~"}
          </text>
        </>
      )}
      {[
        { at: 60, end: a, sign: dc ? "+" : "" },
        { at: 280, end: b, sign: dc ? "−" : "" },
      ].map(({ at, end, sign }) => (
        <g key={at}>
          <rect x={at - 26} y={10} width={52} height={30} fill={ink.sheet} stroke={ink.ink} strokeWidth={2.2} />
          <text x={at} y={31} textAnchor="middle" fontSize={15} fontWeight={700} fill={ink.ink}>
            {end.terminal}
            {sign && ` ${sign}`}
          </text>
          <text x={at} y={60} textAnchor="middle" fontSize={13} fill={ink.soft}>
            {end.device}
          </text>
        </g>
      ))}
    </svg>
  );
}

function named(ref: string): { device: string; terminal: string } {
  const [device = ref, , terminal = ""] = ref.split(".");
  return { device, terminal };
}
