/** The kinds of unit as people call them, and the stem of their ids on a plan. */
import type { Nameplate, Unit } from "../../api/client";

export type Kind = Unit["kind"];

export const KINDS: { value: Kind; label: string; unit: string; line: string }[] = [
  { value: "mini_split_outdoor", label: "mini-split, outdoor unit", unit: "OU", line: "MS" },
  { value: "condensing_unit", label: "condensing unit", unit: "CU", line: "CU" },
  { value: "heat_pump_outdoor", label: "heat pump, outdoor unit", unit: "HP", line: "HP" },
  { value: "packaged_rooftop", label: "packaged rooftop unit", unit: "RT", line: "RT" },
  { value: "packaged_heat_pump", label: "packaged heat pump", unit: "PH", line: "PH" },
  { value: "air_handler", label: "air handler", unit: "AH", line: "AH" },
  { value: "unit_heater", label: "unit heater", unit: "UH", line: "UH" },
  { value: "steam_humidifier", label: "steam humidifier", unit: "SH", line: "SH" },
  { value: "dehumidifier", label: "dehumidifier", unit: "DH", line: "DH" },
  { value: "condensate_pump", label: "condensate pump", unit: "CP", line: "CP" },
  { value: "roof_unit_120v", label: "120 V roof unit", unit: "RU", line: "RU" },
];

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
