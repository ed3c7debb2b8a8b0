/** Changes to landings as patches: what a conductor put down on a terminal stands for. */
import type { Cable, Patch, PlanDoc } from "../../api/client";
import type { EndName } from "../../drawing/landings";
import { nextId } from "../../plan/ids";

/** One end on a terminal, or, with none, taken off and capped. `found`: what was there before, not what is planned. */
export function landEnd(cable: string, wire: string, end: EndName, ref: string | null, found = false): Patch {
  const place = { terminal: ref, capped: ref === null ? true : null };
  const change = found ? { [`was_${end}`]: place } : { [end]: { ...place, pigtail: null } };
  return { cables: { [cable]: { conductors: { [wire]: change } } } };
}

export interface NewCable {
  a: string;
  b: string;
  family: string;
  awg: string;
  count: number;
}

/** A cable drawn between two devices, loose at both ends; its id says what sort it is. */
export function drawCable(document: PlanDoc, fresh: NewCable, classTwo: boolean): { id: string; patch: Patch } {
  const id = nextId(classTwo ? "TC" : "PC", document.cables);
  const cable = {
    a: { device: fresh.a },
    b: { device: fresh.b },
    family: fresh.family,
    awg: fresh.awg,
    count: fresh.count,
    route: { r1: { order: 10 } },
  };
  return { id, patch: { cables: { [id]: cable } } };
}

/** A jumper between two terminals of one device; one that is put in for a test waits to be taken out again. */
export function putJumper(document: PlanDoc, a: string, b: string, forTest: boolean): { id: string; patch: Patch } {
  const id = nextId("J", document.cables);
  const device = { device: a.split(".")[0] ?? "" };
  const jumper = {
    family: "jumper",
    awg: "18",
    strands: "stranded",
    count: 1,
    a: device,
    b: device,
    ...(forTest ? { for_test: true } : {}),
    conductors: { jumper: { a: { terminal: a }, b: { terminal: b } } },
  };
  return { id, patch: { cables: { [id]: jumper } } };
}

/** Colours as they are typed, parted by commas; one that stands there twice gets its number. */
export function colourList(typed: unknown): string[] | undefined {
  if (typeof typed !== "string") return undefined;
  const found: string[] = [];
  for (const part of typed.split(",")) {
    const colour = part.trim().toLowerCase().replace(/\s+/g, "-");
    if (!colour) continue;
    const twins = found.filter((name) => name.replace(/-\d+$/, "") === colour).length;
    found.push(twins ? `${colour}-${twins + 1}` : colour);
  }
  return found.length ? found : undefined;
}

const STEMS: Record<string, string> = {
  "outdoor unit": "OU",
  "indoor unit": "IU",
  board: "BD",
  thermostat: "TS",
  humidity: "HU",
  relay: "RL",
  transformer: "TR",
  safety: "SF",
  lamp: "LU",
  pump: "CP",
  starter: "SS",
  disconnect: "DS",
  panel: "BR",
  joint: "JB",
};

export function nextDeviceId(document: PlanDoc, group: string): string {
  return nextId(STEMS[group] ?? "DV", document.devices);
}

/** A cable taken out of the plan, with its landings. */
export function removeCable(id: string): Patch {
  return { cables: { [id]: null } };
}

/** A device taken out with the cables that end at it; other conductors that landed on it are left loose. */
export function removeDevice(document: PlanDoc, id: string): Patch {
  const cables: Record<string, unknown> = {};
  for (const [key, cable] of Object.entries(document.cables ?? {})) {
    if (cable.a.device === id || cable.b.device === id) cables[key] = null;
    else {
      const conductors = strays(cable, id);
      if (Object.keys(conductors).length) cables[key] = { conductors };
    }
  }
  return { devices: { [id]: null }, ...(Object.keys(cables).length ? { cables } : {}) };
}

function strays(cable: Cable, device: string): Record<string, unknown> {
  const found: Record<string, Record<string, unknown>> = {};
  for (const [name, conductor] of Object.entries(cable.conductors ?? {}))
    for (const end of ["a", "b", "was_a", "was_b"] as const)
      if (conductor[end]?.terminal?.startsWith(`${device}.`))
        found[name] = { ...found[name], [end]: { terminal: null } };
  return found;
}
