/** Where everything on a landing drawing stands: strips of both ends as they are seen, and conductors between them. */
import type { Cable, CableView, Conductor, ConductorView, DeviceView, Finding, WiringResult } from "../api/client";

export type EndName = "a" | "b";
export const ENDS: readonly EndName[] = ["a", "b"];

/** One terminal, or one place on the shelf of conductors that land nowhere. */
export interface Slot {
  key: string;
  end: EndName;
  x: number;
  ref?: string;
  label: string;
  says: string;
  kind?: string;
  required?: boolean;
}

export interface Block {
  /** Whether it is the first of its device, which then names the device. */
  first: boolean;
  device: string;
  title: string;
  strip: string;
  end: EndName;
  x: number;
  width: number;
  slots: Slot[];
}

export interface WireEnd {
  state: "landed" | "capped" | "loose";
  ref: string | null;
  x: number;
  marked: string | null;
  /** Where its name stands: beside it to the right, or the left, and in which row, where several share a terminal. */
  side: "left" | "right";
  row: number;
}

export interface DrawnWire {
  id: string;
  colour: string;
  kind: string | null;
  says: string;
  a: WireEnd;
  b: WireEnd;
  harm: EndName | null;
  severity: Finding["severity"] | null;
  severityEnd: EndName;
}

export interface LandingLayout {
  width: number;
  height: number;
  pitch: number;
  narrow: boolean;
  /** How high a terminal's box is. */
  box: number;
  /** Boxes with their labels alone. */
  bare: boolean;
  top: number;
  bottom: number;
  blocks: Block[];
  shelf: { x: number; width: number } | null;
  wires: DrawnWire[];
}

const MOST_PITCH = 84;
const GAP = 26;
const MARGIN = 4;
/** The last conductor's name stands to its right. */
const NAME_ROOM = 14;
const LONGEST_NAME = 190;
/** Above this many terminals on an end, a strip of another device shows only what this cable uses. */
const MANY = 12;

/** What an end is now, from the document: an own change shows before the server has answered. */
export function endOf(
  conductor: Conductor | undefined,
  end: EndName,
  found: boolean,
): { ref: string | null; capped: boolean } {
  if (found) {
    const was = end === "a" ? conductor?.was_a : conductor?.was_b;
    return { ref: was?.terminal ?? null, capped: was?.capped ?? false };
  }
  const now = conductor?.[end];
  return { ref: now?.terminal ?? null, capped: now?.capped ?? false };
}

/** Room above a strip for its names, and below it for the colours. */
const HEAD = 50;
const BOX = 48;
const BARE_BOX = 32;
const NARROW_BOX = 76;
const MOST_APART = 22;

interface How {
  /** As it was found, not as it is planned. */
  found?: boolean;
  mostSpan?: number;
  /** Too small to read more of a terminal than its label. */
  bare?: boolean;
}

export function layoutLandings(
  view: CableView,
  cable: Cable,
  wiring: WiringResult,
  against: (address: string) => readonly Finding[],
  width: number,
  { found = false, mostSpan = Infinity, bare = false }: How = {},
): LandingLayout {
  const ends = view.conductors.map((wire) => {
    const conductor = cable.conductors?.[wire.id];
    return { wire, a: endOf(conductor, "a", found), b: endOf(conductor, "b", found) };
  });
  const groups = {
    a: groupsAt(
      "a",
      cable,
      wiring,
      ends.map((entry) => entry.a.ref),
    ),
    b: groupsAt(
      "b",
      cable,
      wiring,
      ends.map((entry) => entry.b.ref),
    ),
  };
  const spare = ends.filter(({ a, b }) => a.ref === null || b.ref === null).map(({ wire }) => wire.id);
  const shelfWidth = spare.length ? Math.max(92, spare.length * 26 + 20) : 0;
  const room = width - 2 * MARGIN - NAME_ROOM - (shelfWidth ? shelfWidth + GAP : 0);
  const pitch = Math.min(MOST_PITCH, ...ENDS.map((end) => pitchFor(groups[end], room)));
  const narrow = pitch < 50;
  const blocks = ENDS.flatMap((end) => placed(end, groups[end], pitch));
  const right = Math.max(...blocks.map((block) => block.x + block.width), 120);
  const shelfX = right + GAP;
  const box = narrow ? NARROW_BOX : bare ? BARE_BOX : BOX;
  const top = HEAD + box;
  const span = narrow ? 236 : Math.min(mostSpan, Math.max(240, Math.min(320, 190 + view.conductors.length * 8)));
  const bottom = top + span;
  const at = (ref: string | null, end: EndName, id: string) => {
    const slot = blocks.flatMap((block) => block.slots).find((entry) => entry.ref === ref && entry.end === end);
    return slot?.x ?? shelfX + 18 + Math.max(0, spare.indexOf(id)) * 26;
  };
  const base = `cables/${view.id}/conductors`;
  const wires = ends.map(({ wire, a, b }) => {
    const mine = against(`${base}/${wire.id}`);
    const worst = mine.find((row) => row.severity === "stop") ?? mine.find((row) => row.severity === "warning");
    return {
      id: wire.id,
      colour: wire.colour,
      kind: wire.kind,
      says: wire.says,
      a: drawnEnd(wire, a, "a", at),
      b: drawnEnd(wire, b, "b", at),
      harm: found ? null : (wire.harm ?? null),
      severity: found ? null : (worst?.severity ?? null),
      severityEnd: worst?.about.endsWith("/a") ? ("a" as const) : ("b" as const),
    };
  });
  spread(wires, pitch);
  return {
    width: Math.max(shelfWidth ? shelfX + shelfWidth : right + NAME_ROOM, 240),
    height: bottom + box + HEAD,
    pitch,
    narrow,
    box,
    bare,
    top,
    bottom,
    blocks,
    shelf: shelfWidth ? { x: shelfX, width: shelfWidth } : null,
    wires,
  };
}

function drawnEnd(
  wire: ConductorView,
  now: { ref: string | null; capped: boolean },
  end: EndName,
  at: (ref: string | null, end: EndName, id: string) => number,
): WireEnd {
  return {
    state: now.ref ? "landed" : now.capped ? "capped" : "loose",
    ref: now.ref,
    x: at(now.ref, end, wire.id),
    marked: wire[end].marked ?? null,
    side: "right",
    row: 0,
  };
}

/** Conductors that share a terminal stand side by side, in the order in which they leave it, each with its name. */
function spread(wires: readonly DrawnWire[], pitch: number) {
  for (const end of ENDS) {
    const far = end === "a" ? "b" : "a";
    const shared = new Map<string, DrawnWire[]>();
    for (const wire of wires) {
      const { ref } = wire[end];
      if (ref) shared.set(ref, [...(shared.get(ref) ?? []), wire]);
    }
    for (const here of shared.values()) {
      const step = Math.min(MOST_APART, (pitch * 0.7) / here.length);
      const ordered = [...here].sort((one, other) => one[far].x - other[far].x);
      if (ordered.length > 1)
        ordered.forEach((wire, index) => {
          wire[end].x += (index - (ordered.length - 1) / 2) * step;
          wire[end].side = index === 0 ? "left" : "right";
          wire[end].row = index === 0 ? 0 : ordered.length - 1 - index;
        });
    }
  }
}

interface Group {
  device: DeviceView;
  strip: DeviceView["strips"][number];
  only: Set<string> | null;
}

/** The strips at an end: those of its device that the cable may use, then those of others on which it lands. */
function groupsAt(end: EndName, cable: Cable, wiring: WiringResult, refs: (string | null)[]): Group[] {
  const own = cable[end];
  const used = new Set(refs.filter((ref): ref is string => ref !== null));
  const stripsUsed = new Set([...used].map((ref) => ref.split(".").slice(0, 2).join(".")));
  const found: Group[] = [];
  const device = wiring.devices[own.device];
  for (const strip of device?.strips ?? []) {
    const key = `${own.device}.${strip.id}`;
    const meant = own.strip ? own.strip === strip.id : !stripsUsed.size || (device?.strips.length ?? 0) === 1;
    if (device && (meant || stripsUsed.has(key))) found.push({ device, strip, only: null });
  }
  if (device && found.length === 0) found.push(...device.strips.map((strip) => ({ device, strip, only: null })));
  for (const key of [...stripsUsed].sort()) {
    const [other = "", stripId = ""] = key.split(".");
    const there = wiring.devices[other];
    const strip = there?.strips.find((entry) => entry.id === stripId);
    if (other === own.device || !there || !strip) continue;
    found.push({
      device: there,
      strip,
      only: there.group === "joint" || strip.terminals.length > MANY ? usedAndFree(strip, used) : null,
    });
  }
  return found;
}

/** The terminals of a strip that this cable uses, and the first that is free. */
function usedAndFree(strip: Group["strip"], used: Set<string>): Set<string> {
  const free = strip.terminals.find((terminal) => terminal.landed.length === 0);
  return new Set([...used, ...(free ? [free.ref] : [])]);
}

function shown(group: Group) {
  return group.only ? group.strip.terminals.filter((terminal) => group.only?.has(terminal.ref)) : group.strip.terminals;
}

/** The pitch at which the strips of an end fit; what their names need beyond their terminals is taken off first. */
function pitchFor(groups: Group[], room: number): number {
  const count = groups.reduce((sum, group) => sum + shown(group).length, 0);
  const names = groups.reduce((sum, group) => sum + Math.max(0, LONGEST_NAME - shown(group).length * 30), 0);
  const free = room - GAP * Math.max(0, groups.length - 1) - (groups.length > 1 ? names : 0);
  return Math.max(free, room / 2) / Math.max(1, count);
}

function placed(end: EndName, groups: Group[], pitch: number): Block[] {
  let x = MARGIN;
  return groups.map(({ device, strip, only }, index) => {
    const terminals = shown({ device, strip, only });
    const first = groups[index - 1]?.device !== device;
    const slots = terminals.map((terminal, position) => ({
      key: `${end} ${terminal.ref}`,
      end,
      x: x + (position + 0.5) * pitch,
      ref: terminal.ref,
      label: terminal.label,
      says: terminal.short,
      kind: terminal.kind,
      required: terminal.required,
    }));
    const block = {
      first,
      device: device.id,
      title: device.title,
      strip: strip.name,
      end,
      x,
      width: terminals.length * pitch,
      slots,
    };
    // The names above a strip need their room, also where it has one terminal.
    const last = groups[index + 1]?.device !== device;
    const began = last ? groups.slice(0, index + 1).filter((group) => group.device === device).length : 0;
    const name = last && began === 1 ? Math.min(LONGEST_NAME, `${device.id} ${device.title}`.length * 7.6) : 0;
    x += Math.max(block.width, name, strip.name.length * 6.4) + GAP;
    return block;
  });
}

/** A conductor's way: straight out of each terminal, then across. */
export function wirePath(wire: { a: { x: number }; b: { x: number } }, top: number, bottom: number): string {
  const middle = (bottom - top) * 0.55;
  return `M${wire.a.x} ${top} C${wire.a.x} ${top + middle} ${wire.b.x} ${bottom - middle} ${wire.b.x} ${bottom}`;
}
