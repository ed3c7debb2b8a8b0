/** The kinds of unit as people call them, and the stem of their ids on a plan. */
import type { Nameplate, Unit } from "../api/client";
import vocabulary from "../api/vocabulary.json";

export type Kind = Unit["kind"];

export const KINDS = vocabulary.kinds.map(({ kind, name, unit, line }) => ({
  value: kind as Kind,
  label: name,
  unit,
  line,
}));

export function kindName(kind: string): string {
  return KINDS.find((entry) => entry.value === kind)?.label ?? kind.replaceAll("_", " ");
}

/** Which rows of a plate a kind of unit usually has; every other row shows once it holds something. */
export type PlateRows = "marked" | "heat" | "amps" | "compressors" | "motors";

export function rowsOf(kind: Kind, plate: Nameplate | null | undefined): Set<PlateRows> {
  const usual: Partial<Record<Kind, PlateRows[]>> = {
    air_handler: ["heat", "motors", "marked"],
    unit_heater: ["heat"],
    steam_humidifier: ["amps"],
    dehumidifier: ["amps"],
    condensate_pump: ["amps"],
    roof_unit_120v: ["compressors", "marked"],
  };
  const rows = new Set<PlateRows>(usual[kind] ?? ["marked"]);
  if (plate?.mca_a != null || plate?.max_ocpd_a != null) rows.add("marked");
  if (plate?.heat) rows.add("heat");
  if (plate?.amps != null || plate?.watts != null) rows.add("amps");
  if (plate?.compressors?.length) rows.add("compressors");
  if (plate?.motors?.length) rows.add("motors");
  return rows;
}
