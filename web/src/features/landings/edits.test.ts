import { describe, expect, it } from "vitest";

import type { PlanDoc } from "../../api/client";
import { merge } from "../../plan/merge";
import { colourList, drawCable, landEnd, nextDeviceId, putJumper, removeDevice } from "./edits";

const end = (terminal: string) => ({ terminal });
const document = {
  format: "leitung-plan",
  format_version: 2,
  name: "x",
  devices: { "BD-1": { type: "furnace-board" }, "TS-1": { type: "stat-basic" }, "JB-1": { type: "joint-box" } },
  cables: {
    "TC-1": {
      a: { device: "BD-1" },
      b: { device: "TS-1" },
      conductors: { red: { a: end("JB-1.j.J1"), b: end("TS-1.base.R") } },
    },
  },
} as unknown as PlanDoc;

describe("landings as patches", () => {
  it("lands, caps, and keeps what was found apart from what is planned", () => {
    const landed = merge(document, landEnd("TC-1", "red", "b", "TS-1.base.W"));
    expect(landed.cables?.["TC-1"]?.conductors?.red?.b).toEqual({ terminal: "TS-1.base.W" });
    const capped = merge(landed, landEnd("TC-1", "red", "b", null));
    expect(capped.cables?.["TC-1"]?.conductors?.red?.b).toEqual({ capped: true });
    const found = merge(capped, landEnd("TC-1", "red", "b", "TS-1.base.R", true));
    expect(found.cables?.["TC-1"]?.conductors?.red).toEqual({
      a: end("JB-1.j.J1"),
      b: { capped: true },
      was_b: end("TS-1.base.R"),
    });
  });

  it("gives a cable and a device the first free name of their sort", () => {
    const drawn = drawCable(document, { a: "BD-1", b: "TS-1", family: "thermostat", awg: "18", count: 5 }, true);
    expect(drawn.id).toBe("TC-2");
    expect(merge(document, drawn.patch).cables?.["TC-2"]?.b.device).toBe("TS-1");
    expect(nextDeviceId(document, "thermostat")).toBe("TS-2");
    expect(nextDeviceId(document, "something else")).toBe("DV-1");
  });

  it("takes a device out with its cables, and off the terminals on which others landed", () => {
    expect(Object.keys(merge(document, removeDevice(document, "TS-1")).cables ?? {})).toEqual([]);
    const without = merge(document, removeDevice(document, "JB-1"));
    expect(without.cables?.["TC-1"]?.conductors?.red?.a).toEqual({});
    expect(without.cables?.["TC-1"]?.conductors?.red?.b).toEqual(end("TS-1.base.R"));
  });
});

it("a jumper lands both ends on its device and remembers that it is for a test", () => {
  const { id, patch } = putJumper(document, "B.t.R", "B.t.G", true);
  const cable = (patch.cables as Record<string, Record<string, unknown>>)[id];
  expect(cable).toMatchObject({ family: "jumper", for_test: true, a: { device: "B" }, b: { device: "B" } });
  expect(cable?.conductors).toEqual({ jumper: { a: { terminal: "B.t.R" }, b: { terminal: "B.t.G" } } });
});

it("colours of a harness are read as typed, twins numbered", () => {
  expect(colourList("Red, light blue,red , ,RED")).toEqual(["red", "light-blue", "red-2", "red-3"]);
  expect(colourList(" , ")).toBeUndefined();
});
