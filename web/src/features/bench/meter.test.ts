import { expect, it } from "vitest";

import type { Frame } from "../../api/client";
import { reading } from "./meter";

const nodes: Frame["nodes"] = {
  "A.c.R": { re: 24, im: 0, dc: null, part: 0, fed: true },
  "A.c.C": { re: 0, im: 0, dc: null, part: 0, fed: true },
  "P.x.L": { re: -60, im: 104, dc: null, part: 1, fed: true },
  "P.x.N": { re: 0, im: 0, dc: null, part: 1, fed: true },
  "O.z.3": { re: 0, im: 0, dc: 45.5, part: 2, fed: true },
  "O.z.2": { re: 0, im: 0, dc: 0, part: 2, fed: true },
  "S.b.Y": { re: 0, im: 0, dc: null, part: 3, fed: false },
};
const frame = { nodes } as unknown as Frame;

it("reads volts between two terminals, whichever way round", () => {
  expect(reading(frame, "A.c.R", "A.c.C")?.words).toBe("24.0 V AC");
  expect(reading(frame, "P.x.N", "P.x.L")?.words).toBe("120 V AC");
});

it("reads a DC signal with its sign", () => {
  expect(reading(frame, "O.z.2", "O.z.3")?.words).toBe("-45.5 V DC");
});

it("calls a conductor that nothing feeds by its name, and supplies apart from each other", () => {
  expect(reading(frame, "A.c.R", "S.b.Y")).toEqual({
    words: "floating",
    detail: "S Y floats: nothing feeds it. A meter may show a few ghost volts.",
  });
  expect(reading(frame, "A.c.R", "P.x.L")?.detail).toBe("The two belong to supplies that nothing joins.");
});

it("says nothing before both leads are on", () => {
  expect(reading(frame, "A.c.R", null)).toBeNull();
});
