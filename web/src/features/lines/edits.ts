/** Changes to a plan as patches: what a click on the drawing stands for. */
import type { Circuit, Patch, PlanDoc, Segment } from "../../api/client";
import { segmentsOf } from "../../drawing/parts";

/** A new segment after one of the run, or at its beginning. It takes over what its neighbour has but for the length. */
export function insertSegment(circuitId: string, circuit: Circuit, after: string | null): Patch {
  const segments = segmentsOf(circuit);
  const index = segments.findIndex(([id]) => id === after);
  const before = segments[index]?.[1];
  const next = segments[index + 1]?.[1];
  const low = before?.order ?? 0;
  const high = next?.order ?? low + 20;
  const id = freeSegmentId(circuit);
  const fresh: Partial<Segment> = { ...(before ?? next) };
  delete fresh.length_ft;
  delete fresh.name;
  const middle = Math.floor((low + high) / 2);
  if (middle > low && middle < high) return run(circuitId, { [id]: { ...fresh, order: middle } });
  // No room between the two: the run is numbered anew.
  const ids = segments.map(([name]) => name);
  ids.splice(index + 1, 0, id);
  const renumbered = Object.fromEntries(ids.map((name, i) => [name, { order: (i + 1) * 10 }]));
  return run(circuitId, { ...renumbered, [id]: { ...fresh, order: (index + 2) * 10 } });
}

function freeSegmentId(circuit: Circuit): string {
  for (let number = 1; ; number += 1) if (!circuit.run?.[`s${number}`]) return `s${number}`;
}

/** A line taken out with its unit and the cables that are its run; devices that hung on it stay, unconnected. */
export function removeLine(document: PlanDoc, circuitId: string): Patch {
  const unit = document.circuits?.[circuitId]?.equipment;
  const devices = Object.entries(document.devices ?? {}).flatMap(([id, device]) => {
    const change = {
      ...(device.circuit === circuitId ? { circuit: null } : {}),
      ...(unit && device.equipment === unit ? { equipment: null } : {}),
    };
    return Object.keys(change).length ? [[id, change] as const] : [];
  });
  const cables = Object.entries(document.cables ?? {}).filter(([, cable]) => cable.circuit === circuitId);
  return {
    circuits: { [circuitId]: null },
    ...(unit ? { equipment: { [unit]: null } } : {}),
    ...(devices.length ? { devices: Object.fromEntries(devices) } : {}),
    ...(cables.length ? { cables: Object.fromEntries(cables.map(([id]) => [id, null])) } : {}),
  };
}

function run(circuitId: string, segments: Patch): Patch {
  return { circuits: { [circuitId]: { run: segments } } };
}

/** "14, 16" as spaces; what is no list of numbers goes to the server as typed and comes back with a message. */
export function parseSpaces(typed: unknown): unknown {
  if (typeof typed !== "string") return typed;
  const parts = typed.split(/[\s,]+|and/).filter(Boolean);
  const numbers = parts.map(Number);
  return numbers.every(Number.isInteger) ? numbers : typed;
}
