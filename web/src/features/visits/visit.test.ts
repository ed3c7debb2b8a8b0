import { describe, expect, it } from "vitest";

import type { RecordOut } from "../../api/client";
import type { Write } from "../../plan/outbox";
import { openVisit, placeOf } from "./visit";

const at = "2026-11-30T08:00:00Z";

function record(...ended: boolean[]): RecordOut {
  const visits = ended.map((over, index) => ({
    why: `visit ${String(index)}`,
    author: "Odo Brisk",
    at,
    revision: 1,
    readings: [],
    ...(over ? { ended_at: at, ended_by: "Odo Brisk", note: "done" } : {}),
  }));
  return { service: { visits, trends: [] } } as unknown as RecordOut;
}

function waits(...writes: [string, object][]): Write[] {
  return writes.map(([path, body]) => ({ path: `/api/installs/x/${path}`, body, label: path }) as Write);
}

const READ: [string, object] = ["visits/readings", { key: "MS-1.L1-L2", state: "found", value: 228 }];

describe("the visit that is open", () => {
  it("is the newest that is not over", () => {
    expect(openVisit(record(), [])).toBeNull();
    expect(openVisit(record(true, true), [])).toBeNull();
    expect(openVisit(record(false, true), [])?.why).toBe("visit 0");
  });

  it("is one that was begun without a signal, with what was read on it", () => {
    const found = openVisit(record(true), waits(["visits", { why: "no heat" }], READ));
    expect(found).toMatchObject({ why: "no heat", author: null });
    expect(found?.entered.get(placeOf("MS-1.L1-L2", "found"))).toBe(228);
    expect(found?.entered.has(placeOf("MS-1.L1-L2", "left"))).toBe(false);
  });

  it("is none once its end is on its way, and what was read before is not of the next one", () => {
    const over = waits(READ, ["visits/end", { note: "done" }]);
    expect(openVisit(record(false), over)).toBeNull();
    const next = openVisit(record(false), [...over, ...waits(["visits", { why: "again" }])]);
    expect(next?.why).toBe("again");
    expect(next?.entered.size).toBe(0);
  });

  it("is not touched by what is entered elsewhere", () => {
    const others = waits(["readings", { key: "MS-1.L1-L2", value: 240 }], ["open-items", { text: "x" }]);
    expect(openVisit(record(false), others)?.entered.size).toBe(0);
  });
});
