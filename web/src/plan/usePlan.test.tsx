/** The plan on screen: a change is seen at once, the server's answer replaces it, a refusal takes it back with its words. */
import "fake-indexeddb/auto";

import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { act, useEffect } from "react";
import { createRoot, type Root } from "react-dom/client";
import { afterEach, beforeEach, expect, test, vi } from "vitest";

import type { PlanOut } from "../api/client";
import { browserStore } from "./outboxStore";
import { complete, type PlanHandle, usePlan } from "./usePlan";

const LENGTH = "circuits/C/run/s1/length_ft";

function planOut(revision: number, length: number) {
  const document = { name: "W", circuits: { C: { run: { s1: { order: 1, length_ft: length } } } } };
  return {
    install: { id: "1", name: "W", revision },
    document,
    result: { circuits: {}, findings: [] },
    unchanged: [],
    can_undo: false,
    can_redo: false,
  };
}

let root: Root;
let handle: PlanHandle;
let answers: (() => Promise<Response>)[];
let sent: { path: string; body: unknown }[];

function json(body: unknown, status = 200): Promise<Response> {
  return Promise.resolve(
    new Response(JSON.stringify(body), { status, headers: { "Content-Type": "application/json" } }),
  );
}

function Probe({ onPlan }: { onPlan: (plan: PlanHandle) => void }) {
  const plan = usePlan("1", "i.tarn");
  useEffect(() => {
    onPlan(plan);
  });
  return null;
}

async function settle() {
  for (let i = 0; i < 30; i += 1) await act(() => new Promise((next) => setTimeout(next, 0)));
}

function length(): number | undefined {
  return handle.document?.circuits?.C?.run?.s1?.length_ft ?? undefined;
}

beforeEach(async () => {
  vi.stubGlobal("IS_REACT_ACT_ENVIRONMENT", true);
  // A fresh database for each: what one leaves waiting is not sent by the next.
  for (const row of await browserStore.all("leitung:i.tarn:1")) await browserStore.remove(row.seq);
  answers = [];
  sent = [];
  vi.stubGlobal("fetch", (path: string, init?: RequestInit) => {
    sent.push({ path, body: JSON.parse(init?.body as string) });
    return (answers.shift() ?? (() => Promise.reject(new TypeError("no network"))))();
  });
  root = createRoot(document.createElement("div"));
  const client = new QueryClient({ defaultOptions: { queries: { staleTime: Infinity } } });
  client.setQueryData(["plan", "1"], planOut(1, 38));
  act(() =>
    root.render(
      <QueryClientProvider client={client}>
        <Probe onPlan={(plan) => (handle = plan)} />
      </QueryClientProvider>,
    ),
  );
  await settle();
});

afterEach(() => {
  act(() => root.unmount());
  vi.unstubAllGlobals();
});

test("a change stands on screen before the answer, and the answer replaces it", async () => {
  let release: (answer: Response) => void = () => undefined;
  answers.push(() => new Promise((resolve) => (release = resolve)));
  act(() => handle.set(LENGTH, 44, "Length", { typed: "44", doubtful: false }));
  expect(length()).toBe(44);
  expect(handle.plan?.install.revision).toBe(1);
  await settle();
  const patch = { circuits: { C: { run: { s1: { length_ft: 44 } } } } };
  expect(sent).toEqual([{ path: "/api/installs/1/patches", body: { base_revision: 1, patch, only_changed: true } }]);
  release(await json(planOut(2, 44)));
  await settle();
  expect([handle.plan?.install.revision, length(), handle.outbox.waiting.length]).toEqual([2, 44, 0]);
});

test("a refusal takes the change back and leaves its words at the field with what was typed", async () => {
  const errors = [{ field: LENGTH, value: -1, message: "must not be below 0", remedy: "Type 0 or more." }];
  answers.push(() => json({ status: 422, code: "invalid-input", title: "", detail: "", errors }, 422));
  act(() => handle.set(LENGTH, -1, "Length", { typed: "-1", doubtful: false }));
  expect(length()).toBe(-1);
  await settle();
  expect(length()).toBe(38);
  expect(handle.errors[LENGTH]).toEqual({
    typed: "-1",
    message: "“-1” must not be below 0.",
    remedy: "Type 0 or more.",
  });
  act(() => handle.forget(LENGTH));
  expect(handle.errors[LENGTH]).toBeUndefined();
});

test("what cannot be a value is sent and never drawn", async () => {
  answers.push(() => json({ status: 422, code: "invalid-input", title: "", detail: "No.", errors: [] }, 422));
  act(() => handle.set(LENGTH, "long", "Length", { typed: "long", doubtful: true }));
  expect(length()).toBe(38);
  await settle();
  expect(handle.errors[LENGTH]?.message).toBe("No.");
});

test("a refusal that belongs to no field is a notice", async () => {
  answers.push(() => json({ status: 409, code: "nothing-left", title: "", detail: "Nothing left." }, 409));
  act(() => handle.undo());
  await settle();
  expect(handle.notice).toBe("Undo: Nothing left.");
});

test("a conflict brings the other version under the kept change", async () => {
  const conflict = {
    status: 409,
    code: "conflict",
    title: "",
    detail: "",
    elements: [],
    choices: [],
    theirs: [],
    plan: planOut(5, 99),
  };
  answers.push(() => json(conflict, 409));
  act(() => handle.set(LENGTH, 44, "Length"));
  await settle();
  expect([handle.plan?.install.revision, length()]).toEqual([5, 44]);
  act(() => handle.resolve(false));
  expect(length()).toBe(99);
});

test("without a network everything entered stays, drawn and counted", async () => {
  act(() => handle.set(LENGTH, 44, "Length"));
  await settle();
  act(() => handle.set(LENGTH, 55, "Length"));
  await settle();
  expect([handle.outbox.trouble, handle.outbox.waiting.length, length()]).toEqual(["offline", 2, 55]);
});

test("results that did not change are taken from what is at hand; without them the plan is read again", () => {
  const circuits = { A: { ocpd_a: 15 }, B: { ocpd_a: 20 } };
  const drawn = { A: { cut: null }, B: { cut: null } };
  const old = {
    result: { circuits, drawn, wiring: { devices: { D: { id: "D" } }, cables: { T: { id: "T" }, U: { id: "U" } } } },
  } as unknown as PlanOut;
  const answer = {
    unchanged: ["circuits/A", "drawn/A", "devices/D", "cables/U"],
    result: {
      circuits: { B: { ocpd_a: 25 } },
      drawn: { B: { cut: "ocpd" } },
      findings: [],
      wiring: { devices: {}, cables: { T: { id: "T", says: "new" } } },
    },
  } as unknown as PlanOut;
  const found = complete(answer, old)?.result;
  expect(found?.circuits).toEqual({ A: { ocpd_a: 15 }, B: { ocpd_a: 25 } });
  expect(found?.drawn).toEqual({ A: { cut: null }, B: { cut: "ocpd" } });
  expect(found?.wiring).toEqual({
    devices: { D: { id: "D" } },
    cables: { T: { id: "T", says: "new" }, U: { id: "U" } },
  });
  expect(complete(answer, undefined)).toBeNull();
  expect(complete({ ...answer, unchanged: ["devices/X"] }, old)).toBeNull();
  const whole = { unchanged: [], result: { circuits: {}, findings: [] } } as unknown as PlanOut;
  expect(complete(whole, undefined)).toBe(whole);
});
