/** A start: current against time, the breaker's limits, its heat beneath, and every load's line to be dragged. */
import { type KeyboardEvent, type PointerEvent, useRef } from "react";

import type { StartPicture } from "../api/client";
import { font, ink } from "./ink";
import { START, type StartScale, scaleOf, steps } from "./start";

export interface StartHandlers {
  selected: string | null;
  onSelect: (load: string) => void;
  /** A load called at another moment, in seconds. */
  onMove: (load: string, at: number) => void;
  /** It was let go there. */
  onDrop?: ((load: string, at: number) => void) | undefined;
}

/** A load's line: what it is called there, and when it is called. */
export interface StartLoad {
  id: string;
  at: number | null;
  name?: string;
}

interface Props {
  picture: StartPicture;
  /** The run before, drawn beneath. */
  before?: StartPicture | null;
  loads: readonly StartLoad[];
  failsAt: number | null;
  title: string;
  at?: StartHandlers;
  /** What a logger saw, in the seconds of the prediction. */
  logged?: readonly Logged[] | undefined;
}

/** A part of a logged course: from when on, the least and the most A. */
export interface Logged {
  t_s: number;
  least_a: number;
  most_a: number;
}

export function StartDrawing({ picture, before, loads, failsAt, title, at, logged = [] }: Props) {
  const scale = scaleOf(before ? [picture, before] : [picture], Math.max(0, ...logged.map((part) => part.most_a)));
  const { width, left, top, chart, heat, row } = START;
  const heated = picture.legs.filter((leg) => leg.heat.length);
  const axis = top + chart;
  const rows = axis + 40 + heated.length * (heat + 22);
  const height = rows + loads.length * row + 12;
  const svg = useRef<SVGSVGElement>(null);
  const seconds = (clientX: number) => {
    const box = svg.current?.getBoundingClientRect();
    if (!box) return 0;
    const x = ((clientX - box.left) / box.width) * width;
    const at_s = ((x - left) / (width - left - START.right)) * scale.until;
    return Math.max(0, Math.round(at_s * 2) / 2);
  };
  return (
    <svg
      ref={svg}
      viewBox={`0 0 ${String(width)} ${String(height)}`}
      className="w-full"
      role="group"
      aria-label={title}
      fontFamily={font}
    >
      <defs>
        <pattern id="may" width="9" height="9" patternUnits="userSpaceOnUse" patternTransform="rotate(58)">
          <line x1="0" y1="0" x2="0" y2="9" stroke={ink.stop} strokeWidth="1.4" opacity="0.5" />
        </pattern>
      </defs>
      <Limits picture={picture} scale={scale} />
      {scale.amps.map((amps) => (
        <text key={amps} x={left - 10} y={scale.y(amps) + 5} textAnchor="end" fontSize="14" fill={ink.soft}>
          {amps} A
        </text>
      ))}
      {scale.seconds.map((second) => (
        <g key={second}>
          <line x1={scale.x(second)} x2={scale.x(second)} y1={axis} y2={axis + 6} stroke={ink.soft} />
          <text x={scale.x(second)} y={axis + 22} textAnchor="middle" fontSize="14" fill={ink.soft}>
            {second} s
          </text>
        </g>
      ))}
      {before?.legs.map((leg) => (
        <path
          key={leg.leg}
          d={steps(leg, scale)}
          fill="none"
          stroke={ink.copper}
          strokeWidth="2"
          strokeDasharray="6 4"
        />
      ))}
      <Seen logged={logged} scale={scale} />
      {picture.legs.map((leg) => (
        <g key={leg.leg}>
          <path
            d={steps(leg, scale)}
            fill="none"
            stroke={ink.ink}
            strokeWidth={leg.leg === 1 ? 3.5 : 2}
            strokeLinejoin="round"
          />
          <Peak leg={leg} scale={scale} many={picture.legs.length > 1} />
        </g>
      ))}
      <rect x={left - 5} y={top - 6} width={10} height={chart + 12} fill={ink.ink} />
      {failsAt !== null && failsAt <= scale.until && (
        <g stroke={ink.stop} strokeWidth="5" strokeLinecap="butt">
          <line x1={scale.x(failsAt) - 5} y1={axis - 12} x2={scale.x(failsAt) + 1} y2={axis + 8} />
          <line x1={scale.x(failsAt) + 5} y1={axis - 12} x2={scale.x(failsAt) + 11} y2={axis + 8} />
        </g>
      )}
      {heated.map((leg, index) => (
        <Heat key={leg.leg} leg={leg} scale={scale} y={axis + 40 + index * (heat + 22)} many={heated.length > 1} />
      ))}
      {loads.map((load, index) => (
        <LoadRow
          key={load.id}
          load={load}
          y={rows + index * row + row / 2}
          picture={picture}
          scale={scale}
          at={at}
          seconds={seconds}
        />
      ))}
    </svg>
  );
}

/** The logged current as the band that it was seen in. */
function Seen({ logged, scale }: { logged: readonly Logged[]; scale: StartScale }) {
  const shown = logged.filter((part) => part.t_s >= 0 && part.t_s <= scale.until);
  if (shown.length < 2) return null;
  const point = (t_s: number, amps: number) => `${String(scale.x(t_s))},${String(scale.y(Math.max(0, amps)))}`;
  const up = shown.map((part) => point(part.t_s, part.most_a));
  const down = shown.map((part) => point(part.t_s, part.least_a)).reverse();
  return (
    <polygon
      role="img"
      aria-label="What the logger saw"
      points={[...up, ...down].join(" ")}
      fill={ink.copper}
      fillOpacity="0.35"
      stroke={ink.copper}
      strokeWidth="2"
      strokeLinejoin="round"
    />
  );
}

function Limits({ picture, scale }: { picture: StartPicture; scale: StartScale }) {
  const leg = picture.legs.find((entry) => entry.rating_a != null);
  if (leg?.rating_a == null || leg.may_a == null || leg.must_a == null) return null;
  const { may_a: low, must_a: high } = leg;
  const right = scale.x(scale.until);
  const rating = scale.y(leg.rating_a);
  // Its words stand on the side on which the run does not end.
  const above = (leg.steps.at(-1)?.a ?? 0) <= leg.rating_a;
  return (
    <g>
      {low < scale.most && (
        <>
          <rect
            x={START.left}
            y={scale.y(high)}
            width={right - START.left}
            height={scale.y(low) - scale.y(high)}
            fill="url(#may)"
          />
          <line x1={START.left} x2={right} y1={scale.y(low)} y2={scale.y(low)} stroke={ink.stop} />
          <text x={right - 4} y={scale.y(low) + 17} textAnchor="end" fontSize="14" fontWeight="700" fill={ink.stop}>
            from {low} A it may trip at once
          </text>
        </>
      )}
      <line x1={START.left} x2={right} y1={rating} y2={rating} stroke={ink.stop} strokeWidth="1.5" />
      <text x={right - 4} y={rating + (above ? -6 : 17)} textAnchor="end" fontSize="14" fill={ink.stop}>
        {leg.rating_a} A, held for ever
      </text>
    </g>
  );
}

function Peak({ leg, scale, many }: { leg: StartPicture["legs"][number]; scale: StartScale; many: boolean }) {
  const peak = leg.steps.reduce((most, step) => (step.a > most.a ? step : most), { t_s: 0, a: 0 });
  const end = scale.x(peak.t_s) > START.width * 0.7;
  const next = leg.steps.find((step) => step.t_s > peak.t_s)?.t_s ?? peak.t_s;
  return (
    <text
      x={end ? scale.x(peak.t_s) - 8 : scale.x(next) + 8}
      y={Math.max(START.top + 12, scale.y(peak.a) + 5)}
      textAnchor={end ? "end" : "start"}
      fontSize="15"
      fontWeight="700"
      fill={ink.ink}
    >
      {peak.a.toFixed(0)} A{many ? ` on leg ${String(leg.leg)}` : ""}
    </text>
  );
}

/** How warm the breaker gets: it trips where the strip is full. */
function Heat({
  leg,
  scale,
  y,
  many,
}: {
  leg: StartPicture["legs"][number];
  scale: StartScale;
  y: number;
  many: boolean;
}) {
  const { heat, left } = START;
  const top = (share: number) => y + heat - share * heat;
  const path = (share: (at: StartPicture["legs"][number]["heat"][number]) => number) =>
    `M${String(left)},${String(y + heat)}` +
    leg.heat.map((at) => `L${String(scale.x(at.t_s))},${String(top(share(at)))}`).join("") +
    `V${String(y + heat)}Z`;
  const most = Math.max(...leg.heat.map((at) => at.quick));
  const says =
    most >= 1 ? "the quickest breakers trip" : `${String(Math.round(most * 100))} % of what trips the quickest breaker`;
  return (
    <g role="img" aria-label={`Heat of the breaker${many ? ` of leg ${String(leg.leg)}` : ""}: ${says}`}>
      <path d={path((at) => at.quick)} fill={ink.stop} opacity="0.3" />
      <path d={path((at) => at.slow)} fill={ink.stop} />
      <line x1={left} x2={scale.x(scale.until)} y1={y} y2={y} stroke={ink.stop} strokeDasharray="3 3" />
      <line x1={left} x2={scale.x(scale.until)} y1={y + heat} y2={y + heat} stroke={ink.rule} />
      <text x={left - 10} y={y + heat / 2 + 5} textAnchor="end" fontSize="14" fill={ink.soft}>
        heat{many ? ` ${String(leg.leg)}` : ""}
      </text>
      <text
        x={left + 6}
        y={y + 13}
        fontSize="13"
        fontWeight={most >= 1 ? 700 : 400}
        fill={most >= 1 ? ink.stop : ink.soft}
      >
        {says}
      </text>
    </g>
  );
}

interface RowProps {
  load: StartLoad;
  y: number;
  picture: StartPicture;
  scale: StartScale;
  at?: StartHandlers | undefined;
  seconds: (clientX: number) => number;
}

function LoadRow({ load, y, picture, scale, at, seconds }: RowProps) {
  const parts = picture.parts.filter((part) => part.load === load.id);
  const begins = load.at;
  // What is on at the end of the picture stays on, however far the other run is drawn.
  const ends = (to: number) => (to >= picture.until_s ? scale.until : to);
  const drags = at && begins !== null;
  const selected = at?.selected === load.id;
  const dragging = useRef(false);
  function keys(event: KeyboardEvent) {
    const by = { ArrowLeft: -0.5, ArrowRight: 0.5 }[event.key];
    if (by && drags) {
      event.preventDefault();
      at.onMove(load.id, Math.max(0, begins + by));
      at.onDrop?.(load.id, Math.max(0, begins + by));
    }
  }
  function drag(event: PointerEvent) {
    if (dragging.current && drags) at.onMove(load.id, seconds(event.clientX));
  }
  return (
    <g
      role="button"
      tabIndex={0}
      aria-pressed={selected}
      aria-label={`${load.id}, ${begins === null ? "not called" : `called at ${String(begins)} s`}`}
      className="cursor-grab"
      onClick={() => at?.onSelect(load.id)}
      onFocus={() => at?.onSelect(load.id)}
      onKeyDown={keys}
    >
      <rect x={0} y={y - START.row / 2} width={START.width} height={START.row} fill="transparent" />
      <text
        x={START.left + 12}
        y={y - 11}
        fontSize="14"
        fontWeight="700"
        fill={selected ? ink.copper : ink.ink}
        className="select-none"
      >
        {load.id}
        {load.name && load.name !== load.id ? <tspan fontWeight="400"> {load.name}</tspan> : null}
        {begins === null ? ", off" : ""}
      </text>
      <line x1={START.left} x2={scale.x(scale.until)} y1={y} y2={y} stroke={ink.rule} strokeWidth="2" />
      {parts.map((part, index) => (
        <line
          key={index}
          x1={scale.x(part.from_s)}
          x2={Math.max(scale.x(ends(part.to_s)), scale.x(part.from_s) + 2)}
          y1={y}
          y2={y}
          stroke={selected ? ink.copper : ink.ink}
          strokeWidth={part.part === "fan" ? 4 : part.starting ? 14 : 8}
        />
      ))}
      {parts
        .filter((part) => part.part === "compressor" && part.starting)
        .map((part) => (
          <circle
            key={part.from_s}
            cx={scale.x(part.from_s)}
            cy={y}
            r="7"
            fill={ink.sheet}
            stroke={selected ? ink.copper : ink.ink}
            strokeWidth="3"
          />
        ))}
      {drags && (
        <rect
          x={scale.x(begins) - 7}
          y={y - 15}
          width={14}
          height={30}
          fill={selected ? ink.copper : ink.ink}
          onPointerDown={(event) => {
            dragging.current = true;
            event.currentTarget.setPointerCapture(event.pointerId);
            at.onSelect(load.id);
          }}
          onPointerMove={drag}
          onPointerUp={() => {
            if (dragging.current) at.onDrop?.(load.id, begins);
            dragging.current = false;
          }}
          style={{ touchAction: "none" }}
        />
      )}
    </g>
  );
}
