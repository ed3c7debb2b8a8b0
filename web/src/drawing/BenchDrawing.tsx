/** One supply of a control system: the live spine left, the return right, every load a line between them. */
import type { KeyboardEvent } from "react";

import { font, ink } from "./ink";
import { insulation } from "./insulation";
import {
  BESIDE,
  type BenchLayout,
  type DrawnLane,
  type DrawnRung,
  isLive,
  type Item,
  type Station,
  terminalOf,
} from "./bench";
import type { Frame, Rail, WayStep } from "../api/client";
import { short } from "./LandingDrawing";

export interface BenchHandlers {
  selected: string | null;
  onLoad: (load: string) => void;
  /** A gap that a call, a cause or a hand moves is pressed where it stands. */
  onPress: (signal: string) => void;
  onTerminal: (node: string) => void;
  leads: (string | null)[];
  on: readonly string[];
}

interface Props {
  layout: BenchLayout;
  rail: Rail;
  frame: Frame | null;
  title: string;
  at?: BenchHandlers | undefined;
}

const LIVE = 5;
const DEAD = 2;

export function BenchDrawing({ layout, rail, frame, title, at }: Props) {
  const { width, height, left, right } = layout;
  const live = isLive(frame, rail, rail.live);
  return (
    <svg
      viewBox={`0 0 ${width} ${height}`}
      width={width}
      height={height}
      role="group"
      aria-label={title}
      fontFamily={font}
      fill={ink.ink}
      style={{ display: "block" }}
    >
      {layout.rungs.map((entry) => (
        <RungLine key={entry.rung.load} entry={entry} layout={layout} rail={rail} frame={frame} at={at} />
      ))}
      <path d={`M${left} 4V${height - 4}`} stroke={live ? ink.copper : ink.ink} strokeWidth={live ? 9 : 6} />
      <path d={`M${right} 4V${height - 4}`} stroke={ink.ink} strokeWidth={6} />
    </svg>
  );
}

interface RungProps {
  entry: DrawnRung;
  layout: BenchLayout;
  rail: Rail;
  frame: Frame | null;
  at: BenchHandlers | undefined;
}

function RungLine({ entry, layout, rail, frame, at }: RungProps) {
  const { rung, lanes, load, meet, back, y } = entry;
  const state = frame?.loads[rung.load];
  const forked = lanes.length > 1;
  const last = lanes[lanes.length - 1];
  const reached = isLive(frame, rail, rung.a);
  return (
    <g data-load={rung.load}>
      {forked && last && (
        <>
          <Riser x={layout.left + 18} from={y} to={last.y} live={isLive(frame, rail, rung.start)} />
          <Riser x={meet} from={y} to={last.y} live={reached} />
        </>
      )}
      {lanes.map((lane, number) => (
        <LaneLine
          key={lane.names.join(" ")}
          lane={lane}
          from={forked && number > 0 ? layout.left + 18 : layout.left}
          to={forked && number > 0 ? meet : load.x}
          rail={rail}
          frame={frame}
          at={at}
        />
      ))}
      {!lanes.length && <Stub x1={layout.left + 16} x2={load.x} y={y} words="no supply reaches it" />}
      <LoadBox entry={entry} state={state ?? null} reached={reached} at={at} />
      {back ? (
        <LaneLine lane={back} from={load.x + load.width} to={layout.right} rail={rail} frame={frame} at={at} quiet />
      ) : (
        <Stub x1={load.x + load.width} x2={layout.right - 14} y={y} words="no return" />
      )}
    </g>
  );
}

/** Where ways part, and where they meet. */
function Riser({ x, from, to, live }: { x: number; from: number; to: number; live: boolean }) {
  return <path d={`M${x} ${from}V${to}`} stroke={live ? ink.copper : ink.ink} strokeWidth={live ? LIVE : DEAD} />;
}

/** A line that leads nowhere. */
function Stub({ x1, x2, y, words }: { x1: number; x2: number; y: number; words: string }) {
  return (
    <g>
      <path d={`M${x1} ${y}H${x2}`} stroke={ink.stop} strokeWidth={2} strokeDasharray="3 6" />
      <text x={(x1 + x2) / 2} y={y - 9} fontSize={12} fontWeight={700} textAnchor="middle" fill={ink.stop}>
        {words}
      </text>
    </g>
  );
}

interface LaneProps {
  lane: DrawnLane;
  from: number;
  to: number;
  rail: Rail;
  frame: Frame | null;
  at: BenchHandlers | undefined;
  quiet?: boolean;
}

function LaneLine({ lane, from, to, rail, frame, at, quiet }: LaneProps) {
  const { y, stations, wires } = lane;
  const first = stations[0];
  const final = stations[stations.length - 1];
  const live = (node: string) => isLive(frame, rail, node);
  if (!first || !final) return null;
  return (
    <g>
      <Run x1={from} x2={first.x} y={y} live={live(first.enters)} />
      <Run x1={final.x + final.width} x2={to} y={y} live={live(final.leaves)} />
      {wires.map((wire) => (
        <g key={`${wire.from} ${wire.to}`}>
          <Run x1={wire.x1} x2={wire.x2} y={y} live={live(wire.from)} colour={wire.colour} />
          {wire.x2 - wire.x1 > 44 && (
            <text x={(wire.x1 + wire.x2) / 2} y={y - 8} textAnchor="middle" fontSize={11} fill={ink.soft}>
              {short(wire.colour ?? "", Math.floor((wire.x2 - wire.x1) / 6))}
            </text>
          )}
        </g>
      ))}
      {stations.map((station, number) => (
        <StationBox
          key={`${station.device} ${station.enters}`}
          station={station}
          y={y}
          live={live}
          frame={frame}
          at={at}
          bare={station.items.length === 0 && number === 0 && (quiet === true || stations.length === 1)}
        />
      ))}
    </g>
  );
}

/** A stretch of line: heavy copper when it is live; the insulation's colour runs along a conductor. */
function Run({
  x1,
  x2,
  y,
  live,
  colour,
}: {
  x1: number;
  x2: number;
  y: number;
  live: boolean;
  colour?: string | null;
}) {
  if (x2 <= x1) return null;
  const d = `M${x1} ${y}H${x2}`;
  return (
    <g>
      <path d={d} stroke={live ? ink.copper : ink.ink} strokeWidth={live ? LIVE : DEAD} />
      {colour && (
        <>
          <path d={`M${x1 + 4} ${y + 7}H${x2 - 4}`} stroke={ink.ink} strokeWidth={3.6} />
          <path d={`M${x1 + 5} ${y + 7}H${x2 - 5}`} stroke={insulation(colour)} strokeWidth={2.4} />
        </>
      )}
    </g>
  );
}

interface StationProps {
  station: Station;
  y: number;
  live: (node: string) => boolean;
  frame: Frame | null;
  at: BenchHandlers | undefined;
  bare: boolean;
}

/** A device that the line passes: its name, its terminals, and what it has in the line. */
function StationBox({ station, y, live, frame, at, bare }: StationProps) {
  const { x, width, items, enters, leaves, device } = station;
  const rows = Math.max(1, ...items.map((item) => item.steps.length));
  if (bare) return <Run x1={x} x2={x + width} y={y} live={live(enters)} />;
  return (
    <g>
      {items.length > 0 && (
        <rect
          x={x}
          y={y - 15}
          width={width}
          height={40 + (rows - 1) * BESIDE}
          rx={2}
          fill={ink.sheet}
          stroke={ink.rule}
          pointerEvents="none"
        />
      )}
      <text x={x + width / 2} y={y - 22} textAnchor="middle" fontSize={11.5} fontWeight={700} fill={ink.soft}>
        {device}
      </text>
      {items.length === 0 && <Run x1={x} x2={x + width} y={y} live={live(enters)} />}
      {items.length > 0 && <Run x1={x} x2={items[0]?.x ?? x} y={y} live={live(enters)} />}
      {items.map((item) => (
        <ItemMark key={item.steps[0]?.name} item={item} y={y} live={live} frame={frame} at={at} />
      ))}
      {items.length > 0 && <Run x1={last(items)} x2={x + width} y={y} live={live(leaves)} />}
      <Terminal node={enters} x={items.length ? x : x + width / 2} y={y} at={at} below={items.length ? rows : 0} />
      {leaves !== enters && <Terminal node={leaves} x={x + width} y={y} at={at} below={rows} />}
    </g>
  );
}

function last(items: readonly Item[]): number {
  const item = items[items.length - 1];
  return item ? item.x + item.width : 0;
}

/** A terminal where a meter's lead can be put. */
function Terminal({
  node,
  x,
  y,
  at,
  below,
}: {
  node: string;
  x: number;
  y: number;
  at: BenchHandlers | undefined;
  below: number;
}) {
  const lead = at?.leads.indexOf(node) ?? -1;
  const name = terminalOf(node);
  if (!name) return null;
  return (
    <g
      role={at ? "button" : undefined}
      tabIndex={at ? 0 : undefined}
      aria-label={at ? `Meter lead on ${node.split(".").join(" ")}` : undefined}
      data-terminal={node}
      style={at ? { cursor: "pointer" } : undefined}
      onClick={at && (() => at.onTerminal(node))}
      onKeyDown={
        at &&
        onEnter(() => {
          at.onTerminal(node);
        })
      }
    >
      <rect
        className="frame"
        x={x - 15}
        y={y - 15}
        width={30}
        height={below ? 58 + (below - 1) * BESIDE : 42}
        fill="transparent"
        rx={3}
      />
      <circle
        cx={x}
        cy={y}
        r={lead >= 0 ? 8 : 4.5}
        fill={lead === 0 ? ink.ink : lead === 1 ? ink.copper : ink.paper}
        stroke={ink.ink}
        strokeWidth={2}
      />
      {lead >= 0 && (
        <text x={x} y={y + 4} textAnchor="middle" fontSize={11} fontWeight={700} fill={ink.sheet}>
          {lead + 1}
        </text>
      )}
      <text x={x} y={below ? y + 38 + (below - 1) * BESIDE : y + 21} textAnchor="middle" fontSize={11} fill={ink.soft}>
        {name}
      </text>
    </g>
  );
}

interface ItemProps {
  item: Item;
  y: number;
  live: (node: string) => boolean;
  frame: Frame | null;
  at: BenchHandlers | undefined;
}

function ItemMark({ item, y, live, frame, at }: ItemProps) {
  const { x, width, steps, from, to, kind } = item;
  if (kind === "jumper") return <Run x1={x} x2={x + width} y={y} live={live(from)} />;
  if (kind === "fuse") {
    const gone = steps.some((step) => frame?.opened.includes(step.name));
    return (
      <g>
        <Run x1={x} x2={x + 8} y={y} live={live(from)} />
        <Run x1={x + width - 8} x2={x + width} y={y} live={live(to)} />
        <rect
          x={x + 8}
          y={y - 7}
          width={width - 16}
          height={14}
          fill={ink.sheet}
          stroke={gone ? ink.stop : ink.ink}
          strokeWidth={2}
        />
        <text
          x={x + width / 2}
          y={y + 4}
          textAnchor="middle"
          fontSize={10.5}
          fontWeight={600}
          fill={gone ? ink.stop : ink.ink}
        >
          {gone ? "open" : (steps[0]?.says.split(",")[0] ?? "")}
        </text>
      </g>
    );
  }
  if (kind === "load")
    return (
      <g>
        <rect x={x + 2} y={y - 14} width={width - 4} height={28} fill={ink.sheet} stroke={ink.stop} strokeWidth={2} />
        <text x={x + width / 2} y={y + 4} textAnchor="middle" fontSize={11}>
          {short(steps[0]?.says ?? "", 15)}
        </text>
      </g>
    );
  return (
    <g>
      {steps.map((step, row) => (
        <Gap
          key={step.name}
          step={step}
          x={x}
          width={width}
          y={y + row * BESIDE}
          from={from}
          to={to}
          live={live}
          frame={frame}
          at={at}
          joined={row > 0}
        />
      ))}
    </g>
  );
}

interface GapProps {
  step: WayStep;
  x: number;
  width: number;
  y: number;
  from: string;
  to: string;
  live: (node: string) => boolean;
  frame: Frame | null;
  at: BenchHandlers | undefined;
  joined: boolean;
}

/** A contact: a gap in the line, and a bar across it when it is closed. Pressed where it stands. */
function Gap({ step, x, width, y, from, to, live, frame, at, joined }: GapProps) {
  const closed = frame?.closed[step.name] === true;
  const middle = x + width / 2;
  const hot = closed && live(from) && live(to);
  const words = step.says.split(",")[0] ?? "";
  const pressed = at && step.by && !step.by.startsWith("coil:") ? step.by : null;
  const on = pressed !== null && at?.on.includes(pressed);
  const half = 9;
  return (
    <g
      role={pressed ? "button" : undefined}
      tabIndex={pressed ? 0 : undefined}
      aria-pressed={pressed ? on : undefined}
      aria-label={pressed ? `${words}, ${closed ? "closed" : "open"}` : undefined}
      data-contact={step.name}
      data-closed={closed}
      style={pressed ? { cursor: "pointer" } : undefined}
      onClick={pressed && at ? () => at.onPress(pressed) : undefined}
      onKeyDown={
        pressed && at
          ? onEnter(() => {
              at.onPress(pressed);
            })
          : undefined
      }
    >
      <rect className="frame" x={x + 2} y={y - 16} width={width - 4} height={40} rx={3} fill="transparent" />
      {joined && (
        <path
          d={`M${x + 4} ${y - BESIDE}V${y}M${x + width - 4} ${y - BESIDE}V${y}`}
          stroke={ink.ink}
          strokeWidth={DEAD}
        />
      )}
      <Run x1={x + (joined ? 4 : 0)} x2={middle - half} y={y} live={live(from)} />
      <Run x1={middle + half} x2={x + width - (joined ? 4 : 0)} y={y} live={live(to)} />
      <path d={`M${middle - half} ${y - 8}v16M${middle + half} ${y - 8}v16`} stroke={ink.ink} strokeWidth={2.4} />
      {closed && <rect x={middle - half} y={y - 4} width={2 * half} height={8} fill={hot ? ink.copper : ink.ink} />}
      <text
        x={middle}
        y={y + 20}
        textAnchor="middle"
        fontSize={words.length > 16 ? 9 : words.length > 13 ? 9.5 : 11}
        fontWeight={on ? 700 : 500}
        fill={on ? ink.copper : ink.ink}
      >
        {short(words, 20)}
      </text>
    </g>
  );
}

interface LoadProps {
  entry: DrawnRung;
  /** Null on paper, where nothing is called. */
  state: Frame["loads"][string] | null;
  reached: boolean;
  at: BenchHandlers | undefined;
}

/** The load: filled with copper while it is on; its volts always in figures. */
function LoadBox({ entry, state, reached, at }: LoadProps) {
  const { rung, load, y } = entry;
  const chosen = at?.selected === rung.load;
  const on = state?.on ?? false;
  // Neither on nor off: it carries current and does not do what it is for.
  const low = state !== null && !on && state.says !== "off";
  const device = rung.load.slice(0, rung.load.lastIndexOf("."));
  const name = rung.words.replace(` of ${device}`, "");
  const figures =
    state === null
      ? `${rung.rated_volts} V`
      : `${state.volts < 100 ? state.volts.toFixed(1) : state.volts.toFixed(0)} V ${low ? "not on" : state.says}`;
  return (
    <g
      role={at ? "button" : undefined}
      tabIndex={at ? 0 : undefined}
      aria-label={`${name} ${device} ${figures}, why`}
      aria-expanded={at ? chosen : undefined}
      data-on={on}
      style={at ? { cursor: "pointer" } : undefined}
      onClick={at && (() => at.onLoad(rung.load))}
      onKeyDown={
        at &&
        onEnter(() => {
          at.onLoad(rung.load);
        })
      }
    >
      <rect
        className="frame"
        x={load.x}
        y={y - 21}
        width={load.width}
        height={42}
        rx={2}
        fill={on ? ink.copper : ink.sheet}
        stroke={low ? ink.stop : chosen ? ink.copper : reached ? ink.copper : ink.ink}
        strokeWidth={chosen ? 4 : 2}
        strokeDasharray={low ? "6 4" : undefined}
      />
      <g fill={on ? ink.sheet : ink.ink}>
        <text x={load.x + 10} y={y - 4} fontSize={name.length > 18 ? 11 : 13} fontWeight={700}>
          {`${short(name, 25)} `}
        </text>
        <text x={load.x + 10} y={y + 13} fontSize={12}>
          {`${short(device, 12)} `}
        </text>
        <text x={load.x + load.width - 10} y={y + 13} fontSize={12} textAnchor="end" fontWeight={600}>
          {figures}
        </text>
      </g>
    </g>
  );
}

/** What Enter and Space do on a part of the drawing, as on any button. */
function onEnter(act: () => void) {
  return (event: KeyboardEvent) => {
    if (event.key !== "Enter" && event.key !== " ") return;
    event.preventDefault();
    act();
  };
}
