/** Where everything on the bench's drawing stands: each load a line between the spines, its contacts as gaps. */
import type { Frame, Lane, Rail, Rung, WayStep } from "../api/client";

/** Something on a line inside a device: a gap (or several side by side), a fuse, a jumper, a load in series. */
export interface Item {
  kind: "contact" | "fuse" | "jumper" | "load";
  steps: WayStep[];
  x: number;
  width: number;
  from: string;
  to: string;
}

/** A device that a line passes. */
export interface Station {
  device: string;
  x: number;
  width: number;
  items: Item[];
  enters: string;
  leaves: string;
}

export interface Wire {
  x1: number;
  x2: number;
  colour: string | null;
  says: string;
  from: string;
  to: string;
}

export interface DrawnLane {
  y: number;
  stations: Station[];
  wires: Wire[];
  names: string[];
  sneaks: boolean;
}

export interface DrawnRung {
  rung: Rung;
  y: number;
  height: number;
  lanes: DrawnLane[];
  load: { x: number; width: number };
  /** Where several ways meet before the load. */
  meet: number;
  back: DrawnLane | null;
}

export interface BenchLayout {
  width: number;
  height: number;
  left: number;
  right: number;
  rungs: DrawnRung[];
}

const SPINE = 14;
const LANE = 82;
/** What each further contact beside the first takes. */
export const BESIDE = 38;
const FORK = 36;
const LOAD = 148;
const ITEM = { contact: 74, fuse: 50, jumper: 20, load: 96 };
const PAD = 18;
const LEAST_WIRE = 40;
/** From the fork to the first device. */
const FIRST = 10;
const MOST_WIRE = 92;

export function deviceOf(node: string): string {
  return node.split(".")[0] ?? node;
}

export function terminalOf(node: string): string {
  const last = node.split(".").pop() ?? node;
  return last.startsWith("_") ? "" : last;
}

/** Contacts side by side in one device are one item: ways that differ in nothing else are drawn as one. */
export function mergedLanes(lanes: readonly Lane[]): { steps: WayStep[][]; sneaks: boolean }[] {
  const found: { steps: WayStep[][]; sneaks: boolean }[] = [];
  for (const lane of lanes) {
    const like = found.find((entry) => entry.sneaks === lane.sneaks && differsInOneContact(entry.steps, lane.steps));
    if (!like) {
      found.push({ steps: lane.steps.map((step) => [step]), sneaks: lane.sneaks });
      continue;
    }
    lane.steps.forEach((step, at) => {
      const here = like.steps[at];
      if (here && !here.some((other) => other.name === step.name)) here.push(step);
    });
  }
  return found;
}

function differsInOneContact(merged: readonly WayStep[][], steps: readonly WayStep[]): boolean {
  if (merged.length !== steps.length) return false;
  let differences = 0;
  for (const [at, step] of steps.entries()) {
    const here = merged[at] ?? [];
    if (here[0]?.to !== step.to || here[0].kind !== step.kind) return false;
    if (!here.some((other) => other.name === step.name)) differences += step.kind === "contact" ? 1 : 9;
  }
  return differences === 1;
}

/** `shown`: whether a way is drawn. `folded`: whether a load's way back is drawn as a mere line. */
export function layoutRail(
  rail: Rail,
  width: number,
  shown: (rung: Rung, lane: Lane) => boolean,
  folded: (rung: Rung) => boolean = () => false,
): BenchLayout {
  const drafts = rail.rungs.map((rung) => ({
    rung,
    lanes: mergedLanes(rung.lanes.filter((lane) => shown(rung, lane))).map((lane) => ({
      ...draft(rung.start, lane.steps),
      sneaks: lane.sneaks,
    })),
    back: rung.back ? draft(rung.b, folded(rung) ? [] : rung.back.map((step) => [step])) : null,
  }));
  const need = Math.max(
    320,
    ...drafts.map(
      ({ lanes, back }) =>
        Math.max(0, ...lanes.map((lane) => lane.least)) + 2 * FORK + FIRST + LOAD + backRoom(back) + 2 * SPINE + 40,
    ),
  );
  const whole = Math.max(width, need);
  const left = SPINE;
  const right = whole - SPINE;
  let y = 10;
  // One distance between devices for all ways of a supply: what they share stands in one column.
  const gap = Math.max(
    LEAST_WIRE,
    Math.min(
      MOST_WIRE,
      ...drafts.flatMap(({ lanes, back }) =>
        lanes.map((lane) => {
          const forks = lanes.length > 1 ? FORK : 0;
          const room = right - backRoom(back) - LOAD - forks - (left + FORK + FIRST) - 12;
          return (
            (room - lane.stations.reduce((sum, station) => sum + stationWidth(station), 0)) /
            Math.max(1, lane.joins.length)
          );
        }),
      ),
    ),
  );
  const rungs = drafts.map(({ rung, lanes, back }) => {
    const fork = lanes.length > 1 ? FORK : 0;
    const tallest = (entry: { tall: number }) => LANE + (entry.tall - 1) * BESIDE;
    const backWidth = backRoom(back);
    const loadX = right - backWidth - LOAD;
    const top = y;
    const drawn: DrawnLane[] = [];
    for (const lane of lanes) {
      const middle = y + 36;
      drawn.push({ ...spread(lane, left + FORK + FIRST, gap, middle), sneaks: lane.sneaks });
      y += tallest(lane);
    }
    if (!lanes.length) y += LANE;
    const middle = top + 36;
    return {
      rung,
      y: middle,
      height: y - top,
      lanes: drawn,
      load: { x: loadX, width: LOAD },
      meet: loadX - fork / 2,
      back: back ? { ...spread(back, loadX + LOAD + LEAST_WIRE / 2, LEAST_WIRE, middle), sneaks: false } : null,
    };
  });
  return { width: whole, height: y + 8, left, right, rungs };
}

/** Room for the way back: a mere line, or the devices on it. */
function backRoom(back: Draft | null): number {
  if (!back) return 84;
  return back.joins.length || back.stations.some((station) => station.items.length) ? back.least + 44 : 34;
}

interface Draft {
  stations: {
    device: string;
    items: { kind: Item["kind"]; steps: WayStep[]; from: string; to: string }[];
    enters: string;
    leaves: string;
  }[];
  joins: { colour: string | null; says: string; from: string; to: string }[];
  least: number;
  tall: number;
  names: string[];
}

/** A way as devices with wires between them, before it is given its room. */
function draft(start: string, steps: readonly WayStep[][]): Draft {
  const stations: Draft["stations"] = [];
  const joins: Draft["joins"] = [];
  let at = start;
  let here: Draft["stations"][number] = { device: deviceOf(start), items: [], enters: start, leaves: start };
  stations.push(here);
  for (const group of steps) {
    const step = group[0];
    if (!step) continue;
    if (step.kind === "conductor") {
      joins.push({ colour: step.colour ?? null, says: step.says, from: at, to: step.to });
      here = { device: deviceOf(step.to), items: [], enters: step.to, leaves: step.to };
      stations.push(here);
    } else {
      here.items.push({ kind: step.kind as Item["kind"], steps: group, from: at, to: step.to });
      here.leaves = step.to;
    }
    at = step.to;
  }
  const least =
    stations.reduce((sum, station) => sum + stationWidth(station), 0) + Math.max(1, joins.length) * LEAST_WIRE + 24;
  const tall = Math.max(1, ...stations.flatMap((station) => station.items.map((item) => item.steps.length)));
  return { stations, joins, least, tall, names: steps.flatMap((group) => group.map((step) => step.name)) };
}

function stationWidth(station: Draft["stations"][number]): number {
  const items = station.items.reduce((sum, item) => sum + ITEM[item.kind], 0);
  return items ? items + PAD : 14;
}

/** Give the devices of a way their places, one distance apart. */
function spread(lane: Draft, from: number, gap: number, y: number): Omit<DrawnLane, "sneaks"> {
  let x = from;
  const stations: Station[] = lane.stations.map((station) => {
    const width = stationWidth(station);
    let inner = x + (width - station.items.reduce((sum, item) => sum + ITEM[item.kind], 0)) / 2;
    const items = station.items.map((item) => {
      const placed = { ...item, x: inner, width: ITEM[item.kind] };
      inner += ITEM[item.kind];
      return placed;
    });
    const found = { device: station.device, x, width, items, enters: station.enters, leaves: station.leaves };
    x += width + gap;
    return found;
  });
  const wires: Wire[] = lane.joins.map((join, at) => {
    const before = stations[at];
    const after = stations[at + 1];
    return { ...join, x1: before ? before.x + before.width : from, x2: after ? after.x : from };
  });
  return { y, stations, wires, names: lane.names };
}

/** Whether a node has the supply's volts against its return: what is live is drawn in copper, and heavy. */
export function isLive(frame: Frame | null, rail: Rail, node: string): boolean {
  const here = frame?.nodes[node];
  const back = frame?.nodes[rail.back];
  const live = frame?.nodes[rail.live];
  if (!here || !back || !live || !here.fed || here.part !== back.part) return false;
  const full = Math.hypot(live.re - back.re, live.im - back.im) || rail.volts;
  return Math.hypot(here.re - back.re, here.im - back.im) > 0.12 * Math.max(full, rail.volts * 0.5);
}

/** Whether every contact of a way is closed, and no fuse on it gone. */
export function isWhole(frame: Frame | null, lane: Lane): boolean {
  if (!frame) return false;
  return lane.steps.every(
    (step) => (step.kind !== "contact" || frame.closed[step.name] === true) && !frame.opened.includes(step.name),
  );
}
