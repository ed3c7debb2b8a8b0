/** A line drawn from one sentence, and a scratch line copied into an install. */
import { expect, test } from "vitest";

import type { CatalogueModel, Nameplate, PlanDoc } from "../../api/client";
import { merge } from "../../plan/merge";
import { copyPatch } from "../../plan/copyLine";
import { rowsOf } from "../../plan/kinds";
import { newLine } from "./NewLine";

const plan = {
  sources: { OP: { kind: "panel", name: "Outbuilding panel", volts: 240, phase: 1 } },
  equipment: { "UH-1": { kind: "unit_heater" } },
  circuits: { "UH-1": { source: "OP", equipment: "UH-1" } },
} as unknown as PlanDoc;
const nothing = { poles: undefined, length: undefined, method: undefined, place: undefined, ambient: undefined };
const model = {
  model: {
    maker: "Hearthlow",
    model: "HU-5",
    kind: "unit_heater",
    name: "unit heater 5 kW",
    nameplate: { volts: "240" },
  },
} as unknown as CatalogueModel;

test("a kind of unit at a known panel, what was left open staying not known", () => {
  const [patch, id] = newLine(plan, { ...nothing, source: "OP", unit: "unit_heater" }, []);
  expect(id).toBe("UH-2");
  expect(patch).toEqual({
    equipment: { "UH-2": { kind: "unit_heater" } },
    circuits: {
      "UH-2": {
        source: "OP",
        equipment: "UH-2",
        ocpd: { type: "breaker" },
        run: { s1: { order: 10, material: "Cu" } },
      },
    },
  });
});

test("a model of the catalogue brings its plate, and the sentence its run", () => {
  const wish = {
    source: "OP",
    unit: "Hearthlow HU-5",
    poles: 2,
    length: 40,
    method: "NM-B",
    place: "attic",
    ambient: 52,
  };
  const [patch, id] = newLine(plan, wish, [model]);
  const after = merge(plan, patch);
  expect(after.equipment?.[id]).toEqual(model.model);
  expect(after.circuits?.[id]?.poles).toBe(2);
  expect(after.circuits?.[id]?.run?.s1).toEqual({
    order: 10,
    material: "Cu",
    length_ft: 40,
    method: "NM-B",
    place: "attic",
    ambient_c: 52,
  });
});

test("what is no figure is left out rather than drawn", () => {
  const [patch] = newLine(plan, { ...nothing, source: "OP", unit: "unit_heater", length: "long", ambient: "warm" }, []);
  expect(merge(plan, patch).circuits?.["UH-2"]?.run?.s1).toEqual({ order: 10, material: "Cu" });
});

test("without a panel one is begun", () => {
  const [patch, id] = newLine(
    { name: "x" } as unknown as PlanDoc,
    { ...nothing, source: undefined, unit: "air_handler" },
    [],
  );
  const after = merge({} as PlanDoc, patch);
  expect(Object.keys(after.sources ?? {})).toEqual(["P-1"]);
  expect(after.circuits?.[id]?.source).toBe("P-1");
});

const scratch = {
  sources: { P: { kind: "receptacle", volts: 240, phase: 1, volts_to_ground: 120 } },
  equipment: { U: { kind: "unit_heater", nameplate: { volts: "240" } } },
  circuits: { Q: { source: "P", equipment: "U", run: { s1: { order: 10 } } } },
} as unknown as PlanDoc;

test("a scratch line goes to the panel with its volts and phases, under free ids", () => {
  const after = merge(plan, copyPatch(scratch, plan));
  expect(Object.keys(after.sources ?? {})).toEqual(["OP"]);
  expect(after.circuits?.["UH-2"]).toEqual({ source: "OP", equipment: "UH-2", run: { s1: { order: 10 } } });
  expect(after.equipment?.["UH-2"]).toEqual(scratch.equipment?.U);
});

test("or to a new one where none fits", () => {
  const three = merge(scratch, { sources: { P: { volts: 208, phase: 3 } } });
  const after = merge(plan, copyPatch(three, plan));
  expect(after.sources?.["P-1"]).toMatchObject({ kind: "panel", volts: 208, phase: 3 });
  expect(after.circuits?.["UH-2"]?.source).toBe("P-1");
});

test.each([
  ["unit_heater", null, ["heat"]],
  ["mini_split_outdoor", null, ["marked"]],
  ["unit_heater", { mca_a: 20 }, ["heat", "marked"]],
  [
    "condensing_unit",
    { compressors: [{ rla_a: 9 }], motors: [{ fla_a: 1, use: "condenser_fan" }] },
    ["compressors", "marked", "motors"],
  ],
  ["steam_humidifier", { heat: { watts: 6000 } }, ["amps", "heat"]],
] as const)("the plate of %s with %j has the rows %j", (kind, plate, rows) => {
  expect([...rowsOf(kind, plate as unknown as Nameplate | null)].sort()).toEqual(rows);
});
