/** The sources that stand in for one another, and the plan changes that the station makes. */
import type { Patch, PlanDoc, SupplyAt } from "../../api/client";
import { nextId } from "../../plan/ids";

/** The sources of each group, grid first. */
export function groupsOf(supplies: Record<string, SupplyAt>): SupplyAt[][] {
  const groups = new Map<string, SupplyAt[]>();
  for (const at of Object.values(supplies)) groups.set(at.base, [...(groups.get(at.base) ?? []), at]);
  return [...groups.values()].map((group) => group.sort((one, two) => one.order - two.order));
}

/** The key under which a load's call stands in the plan: the last word of its address. */
export function keyOf(at: SupplyAt, load: string): string {
  return (
    at.loads
      .find(({ id }) => id === load)
      ?.about.split("/")
      .at(-1) ?? load
  );
}

/** A load called at a moment, or left off. */
export function callOf(at: SupplyAt, load: string, moment: number | null): Patch {
  const call = moment === null ? { off: true, at_s: null } : { at_s: moment, off: null };
  return { sources: { [at.source]: { calls: { [keyOf(at, load)]: call } } } };
}

const NEW = {
  generator: { stem: "G", name: "Generator", over_by: "cord" },
  inverter: { stem: "IV", name: "Inverter and battery", over_by: "transfer_switch" },
} as const;

/** A generator or an inverter in place of a source, of its volts, to be read off its plate. */
export function standIn(document: PlanDoc, kind: keyof typeof NEW, of: string): { id: string; patch: Patch } {
  const { stem, name, over_by } = NEW[kind];
  const id = nextId(stem, document.sources);
  const base = document.sources?.[of];
  const volts = base?.volts_to_ground ?? base?.volts;
  const alike = Object.values(document.sources ?? {}).filter((source) => source.kind === kind).length;
  const named = alike ? `${name} ${String(alike + 1)}` : name;
  const fresh = {
    kind,
    name: named,
    in_place_of: of,
    over_by,
    phase: 1,
    ...(volts ? { volts, volts_to_ground: volts } : {}),
  };
  return { id, patch: { sources: { [id]: fresh } } };
}

/** A pedestal of one 30 A leg, the usual one. */
export function pedestal(document: PlanDoc): { id: string; patch: Patch } {
  const id = nextId("PD", document.sources);
  const fresh = { kind: "pedestal", name: "Pedestal", volts: 120, phase: 1, volts_to_ground: 120, bus_a: 30 };
  return { id, patch: { sources: { [id]: fresh } } };
}

/** Something that hangs on a source already. */
export function thereAlready(document: PlanDoc, source: string): { id: string; patch: Patch } {
  const id = nextId("X", document.sources?.[source]?.existing);
  return { id, patch: { sources: { [source]: { existing: { [id]: { name: "new load" } } } } } };
}

/** What hangs on a source already, taken out of the plan: `sources/TP/existing/X-1`. */
export function takenOut(about: string): Patch {
  const [, source = "", , key = ""] = about.split("/");
  return { sources: { [source]: { existing: { [key]: null } } } };
}
