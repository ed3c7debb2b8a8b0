import { describe, expect, it } from "vitest";

import { deviceOf, EMPTY, idOf, inWords, newPart, newStrip, partIds, terminalsOf, unfinished } from "./ownDevice";

const strips = [{ ...newStrip("strip"), labels: "R  C, G O/B", thickest: "14", torque: "8,5" }];

describe("a device of one's own", () => {
  it("guesses by the label what a terminal is for, and keeps what is chosen", () => {
    const seen = terminalsOf({ ...EMPTY, strips, functions: { "s1.G": "" } });
    expect(seen.map(({ label, function: meaning }) => [label, meaning])).toEqual([
      ["R", "hot"],
      ["C", "common"],
      ["G", ""],
      ["O/B", ""],
    ]);
  });

  it("writes what the catalogue reads, and leaves out what was left empty", () => {
    const coil = { ...newPart("coil"), ends: ["s1.G", "s1.C"], figures: { va: "" } };
    const contact = { ...newPart("contact"), ends: ["s1.R", "_1"], by: "!coil:K1" };
    const made = deviceOf({ ...EMPTY, name: "Fan Centre!", strips, parts: [coil, contact, newPart("coil")] });
    expect(made["id"]).toBe("fan-centre");
    expect(made["inside"]).toEqual([
      { type: "coil", id: "K1", a: "s1.G", b: "s1.C" },
      { type: "contact", id: "C1", a: "s1.R", b: "_1", normally: "closed", operated_by: "coil:K1" },
    ]);
    expect(made["strips"]).toMatchObject([{ awg_max: "14", torque_in_lb: 8.5 }]);
    expect(JSON.stringify(made["strips"])).not.toContain("awg_min");
    expect(JSON.stringify(made["strips"])).toContain('{"id":"OB","label":"O/B","kind":"dry"}');
    expect(made).not.toHaveProperty("maker");
  });

  it("keeps a figure that is no number, so that the refusal can name it", () => {
    const parts = [newPart("coil"), { ...newPart("coil"), ends: ["s1.G", "s1.C"], figures: { va: "six" } }];
    expect(deviceOf({ ...EMPTY, strips, parts })["inside"]).toMatchObject([{ id: "K2", va: "six" }]);
    expect(unfinished(parts)).toEqual(["K1"]);
    expect(inWords("device.inside.0.coil.va: must be a number ('six').", parts)).toBe(
      "K2 va: must be a number ('six').",
    );
  });

  it("numbers parts by their kind and ids by letters", () => {
    expect(partIds([newPart("coil"), newPart("fuse"), newPart("coil")])).toEqual(["K1", "F1", "K2"]);
    expect([idOf("  ", "own"), idOf("2nd Relay", "own")]).toEqual(["own", "2nd-relay"]);
  });
});
