/** What can feed the lines, source by source, each a gap that closes on the legs; the legs are the spine. */
import type { SupplyAt } from "../api/client";
import { font, ink } from "./ink";

interface Props {
  group: readonly SupplyAt[];
  chosen: string;
  /** On a narrow screen what each leg carries stands beneath. */
  narrow?: boolean;
  onChoose?: (source: string) => void;
}

const ROW = 46;
const WIDE = { width: 860, spine: 430 };
const NARROW = { width: 360, spine: 318 };

export function FeedsDrawing({ group, chosen, narrow = false, onChoose }: Props) {
  const { width, spine } = narrow ? NARROW : WIDE;
  const at = group.find(({ source }) => source === chosen) ?? group[0];
  const legs = at?.legs ?? [];
  const y = (index: number) => 6 + index * ROW + ROW / 2;
  const last = y(group.length - 1);
  const right = narrow ? 2 : spine + Math.max(1, legs.length) * 20 + 14;
  const top = narrow ? last + ROW / 2 + 24 : 24;
  const beneath = narrow ? legs.length * 48 + (at?.supply?.runs_h != null ? 24 : 0) : 0;
  const height = group.length * ROW + 12 + beneath;
  return (
    <svg
      viewBox={`0 0 ${String(width)} ${String(height)}`}
      className="w-full"
      role="group"
      aria-label="What feeds it"
      fontFamily={font}
    >
      {group.map((source, index) => (
        <Feed
          key={source.source}
          at={source}
          y={y(index)}
          spine={spine}
          closed={source.source === at?.source}
          onChoose={onChoose ? () => onChoose(source.source) : undefined}
        />
      ))}
      {(legs.length ? legs : [{ leg: 1 }]).map((leg, index) => (
        <line
          key={leg.leg}
          x1={spine + index * 20}
          x2={spine + index * 20}
          y1={4}
          y2={last + ROW / 2}
          stroke={at?.verdict ? ink.copper : ink.faint}
          strokeWidth="9"
        />
      ))}
      {legs.map((leg, index) => (
        <text key={leg.leg} x={right} y={top + index * 48} fontSize="17" fill={ink.ink}>
          <tspan fontWeight="700">
            {legs.length > 1 ? `leg ${String(leg.leg)}: ` : ""}
            {leg.settled_a == null ? "current not known" : `${leg.settled_a.toFixed(1)} A settled`}
          </tspan>
          <tspan fill={(leg.left_a ?? 0) < 0 ? ink.stop : ink.soft}>{room(leg.left_a)}</tspan>
          <tspan x={right} dy="21" fontSize="15" fill={ink.soft}>
            {on(at, leg.leg)}
          </tspan>
        </text>
      ))}
      {at?.supply?.runs_h != null && (
        <text x={right} y={top + legs.length * 48} fontSize="15" fill={ink.soft}>
          a full battery lasts {at.supply.runs_h.toFixed(1)} h
        </text>
      )}
    </svg>
  );
}

/** What runs on a leg in the end. */
function on(at: SupplyAt | undefined, leg: number): string {
  const document = at?.document as { loads?: { id: string; leg: number | string }[] } | undefined;
  const called = new Set(at?.loads.filter((load) => load.called).map((load) => load.id));
  const mine = (document?.loads ?? []).filter(
    (load) => called.has(load.id) && (load.leg === leg || load.leg === "both"),
  );
  return mine.map((load) => load.id).join(", ");
}

function room(left: number | null | undefined): string {
  if (left == null) return "";
  return left < 0 ? `, ${(-left).toFixed(1)} A too many` : `, ${left.toFixed(1)} A left`;
}

interface FeedProps {
  at: SupplyAt;
  y: number;
  spine: number;
  closed: boolean;
  onChoose?: (() => void) | undefined;
}

/** One source: its line to the legs, closed where it is looked at, cut where its start fails. */
function Feed({ at, y, spine, closed, onChoose }: FeedProps) {
  const stroke = closed ? ink.copper : ink.ink;
  const fails = at.verdict === "trips" || at.verdict === "stalls" || at.verdict === "overloads";
  const unknown = !at.verdict || at.verdict === "unknown";
  return (
    <g
      role={onChoose ? "button" : undefined}
      tabIndex={onChoose ? 0 : undefined}
      aria-pressed={onChoose ? closed : undefined}
      aria-label={`${at.name}: ${at.says}`}
      className={onChoose ? "cursor-pointer" : undefined}
      onClick={onChoose}
      onKeyDown={(event) => {
        if (event.key === "Enter" || event.key === " ") {
          event.preventDefault();
          onChoose?.();
        }
      }}
    >
      <rect x={0} y={y - ROW / 2} width={spine} height={ROW} fill="transparent" />
      <rect x={2} y={y - 13} width={9} height={26} fill={stroke} />
      <line
        x1={11}
        x2={spine - 70}
        y1={y}
        y2={y}
        stroke={stroke}
        strokeWidth={closed ? 5 : 3}
        strokeDasharray={unknown ? "9 6" : undefined}
      />
      {fails && (
        <g stroke={ink.stop} strokeWidth="4">
          <line x1={spine - 102} y1={y - 10} x2={spine - 97} y2={y + 10} />
          <line x1={spine - 92} y1={y - 10} x2={spine - 87} y2={y + 10} />
        </g>
      )}
      {/* The gap that closes: what brings the lines over to this source. */}
      <circle cx={spine - 68} cy={y} r={4.5} fill={ink.sheet} stroke={stroke} strokeWidth="2.5" />
      <circle cx={spine - 30} cy={y} r={4.5} fill={ink.sheet} stroke={stroke} strokeWidth="2.5" />
      <line
        x1={spine - 64}
        x2={closed ? spine - 34 : spine - 38}
        y1={y - (closed ? 1 : 2)}
        y2={closed ? y - 1 : y - 16}
        stroke={stroke}
        strokeWidth={closed ? 5 : 3}
      />
      <line x1={spine - 26} x2={spine} y1={y} y2={y} stroke={stroke} strokeWidth={closed ? 5 : 3} />
      <text x={20} y={y - 7} fontSize="16" fontWeight="700" fill={closed ? ink.copper : ink.ink}>
        {at.name}
      </text>
      <text x={20} y={y + 17} fontSize="14" fill={fails ? ink.stop : ink.soft} fontWeight={fails ? 700 : 400}>
        {at.says}
      </text>
    </g>
  );
}
