import { beforeEach, expect, test, vi } from "vitest";

import type { Sent } from "../api/client";
import { Outbox } from "./outbox";
import type { Row, Store } from "./outboxStore";

const path = "/api/installs/1/patches";
const patch = { name: "x" };

let rows: Row[] = [];
let last = 0;
const store: Store = {
  all: (box) => Promise.resolve(rows.filter((row) => row.box === box).map((row) => structuredClone(row))),
  append: (box, write) => {
    last += 1;
    rows.push(structuredClone({ seq: last, box, write }));
    return Promise.resolve(last);
  },
  put: (row) => {
    rows = rows.map((other) => (other.seq === row.seq ? structuredClone(row) : other));
    return Promise.resolve();
  },
  remove: (seq) => {
    rows = rows.filter((row) => row.seq !== seq);
    return Promise.resolve();
  },
};

function outbox(answers: Sent<unknown>[], revision = () => 7) {
  const send = vi.fn<(path: string, key: string, body: unknown) => Promise<Sent<unknown>>>(() =>
    Promise.resolve(answers.shift() ?? { kind: "unreachable" }),
  );
  const done = vi.fn();
  const refused = vi.fn();
  return { box: new Outbox("box", { revision, done, refused }, send, store), send, done, refused };
}

beforeEach(() => {
  localStorage.clear();
  rows = [];
  vi.useFakeTimers();
});

test("what cannot be sent is kept, survives a closed page, and goes out under the same key", async () => {
  const first = outbox([{ kind: "unreachable" }]);
  first.box.add({ path, patch, label: "name" });
  await vi.advanceTimersByTimeAsync(0);
  expect(first.box.read().trouble).toBe("offline");

  const second = outbox([{ kind: "done", body: "ok" }], () => 9);
  await second.box.flush();
  expect(second.send.mock.calls[0]).toEqual([
    path,
    first.send.mock.calls[0]?.[1],
    { base_revision: 7, patch, only_changed: true },
  ]);
  expect(second.done).toHaveBeenCalledOnce();
  expect(rows).toEqual([]);
});

test("a lost connection is tried again by itself, in order", async () => {
  const { box, send, done } = outbox([{ kind: "unreachable" }, { kind: "done", body: 1 }, { kind: "done", body: 2 }]);
  box.add({ path, patch, label: "one" });
  box.add({ path, patch: { name: "y" }, label: "two" });
  await vi.advanceTimersByTimeAsync(1_500);
  expect(send).toHaveBeenCalledTimes(3);
  expect(done.mock.calls.map(([write]) => (write as { label: string }).label)).toEqual(["one", "two"]);
  expect(box.read()).toMatchObject({ waiting: [], trouble: null });
});

test("a conflict holds the change until one version is chosen; mine goes again on the newest revision", async () => {
  let revision = 7;
  const conflict = { status: 409, code: "conflict", title: "", detail: "", plan: {} };
  const { box, send } = outbox(
    [
      { kind: "refused", problem: conflict },
      { kind: "done", body: 1 },
    ],
    () => revision,
  );
  box.add({ path, patch, label: "name" });
  await vi.advanceTimersByTimeAsync(0);
  expect(box.read().conflict).toBe(conflict);
  expect(box.read().waiting).toHaveLength(1);
  revision = 8;
  box.resolve(true);
  await vi.advanceTimersByTimeAsync(0);
  expect(send.mock.calls[1]?.[2]).toEqual({ base_revision: 8, patch, only_changed: true });
  expect(send.mock.calls[1]?.[1]).not.toBe(send.mock.calls[0]?.[1]);
});

test.each([
  ["mine", true, [7, 8]],
  ["what stands", false, [7]],
])("%s chosen while the database is still being read: the old version does not come back", async (_, mine, bases) => {
  let revision = 7;
  const conflict = { status: 409, code: "conflict", title: "", detail: "", plan: {} };
  const slow = <T>(work: Promise<T>) => work.then((value) => new Promise<T>((end) => setTimeout(end, 50, value)));
  const send = vi.fn((_path: string, _key: string, body: unknown) =>
    Promise.resolve<Sent<unknown>>(
      (body as { base_revision: number }).base_revision < 8
        ? { kind: "refused", problem: conflict }
        : { kind: "done", body: 1 },
    ),
  );
  const held = (all: Store["all"]): Store => ({
    ...store,
    all,
    put: (row) => slow(store.put(row)),
    remove: (seq) => slow(store.remove(seq)),
  });
  const box = new Outbox(
    "box",
    { revision: () => revision, done: vi.fn(), refused: vi.fn() },
    send,
    held((name) => slow(store.all(name))),
  );
  box.add({ path, patch, label: "name" });
  await vi.advanceTimersByTimeAsync(1_000);
  expect(box.read().conflict).toBe(conflict);
  revision = 8;
  void box.flush();
  await vi.advanceTimersByTimeAsync(10);
  box.resolve(mine);
  await vi.advanceTimersByTimeAsync(1_000);
  expect(send.mock.calls.map(([, , body]) => (body as { base_revision: number }).base_revision)).toEqual(bases);
  expect(box.read()).toMatchObject({ waiting: [], conflict: null });
});

test("a refusal is told and lets the next one through; a lost session keeps everything", async () => {
  const invalid = { status: 422, code: "invalid-input", title: "", detail: "" };
  const out = { status: 401, code: "sign-in", title: "", detail: "" };
  const { box, refused } = outbox([
    { kind: "refused", problem: invalid },
    { kind: "refused", problem: out },
  ]);
  box.add({ path, patch, label: "one", field: "name" });
  box.add({ path, patch, label: "two" });
  await vi.advanceTimersByTimeAsync(0);
  expect(refused).toHaveBeenCalledOnce();
  expect(box.read().trouble).toBe("signed-out");
  expect(box.read().waiting.map((write) => write.label)).toEqual(["two"]);
});

test("two tabs: each sees what the other keeps, and what one sent the other does not send again", async () => {
  const first = outbox([]);
  first.box.add({ path, body: { key: "a" }, label: "one" });
  await vi.advanceTimersByTimeAsync(0);
  const second = outbox([
    { kind: "done", body: 1 },
    { kind: "done", body: 2 },
  ]);
  second.box.add({ path, body: { key: "b" }, label: "two" });
  await vi.advanceTimersByTimeAsync(0);
  expect(second.send.mock.calls.map(([, , body]) => body)).toEqual([{ key: "a" }, { key: "b" }]);
  await vi.advanceTimersByTimeAsync(20_000);
  expect(first.send).toHaveBeenCalledOnce();
  expect(first.box.read().waiting).toEqual([]);
});

test("200 entries over a link that drops requests and answers, killed on the way: each once, in order", async () => {
  const reached: string[] = [];
  const answered = new Set<string>();
  let turn = 0;
  const link = (_: string, key: string): Promise<Sent<unknown>> => {
    turn += 1;
    if (turn % 3 === 0) return Promise.resolve({ kind: "unreachable" });
    // The server knows the key: what comes a second time is answered and not done again.
    if (!answered.has(key)) reached.push(key);
    answered.add(key);
    return Promise.resolve(turn % 5 === 0 ? { kind: "unreachable" } : { kind: "done", body: turn });
  };
  const handlers = { revision: () => 1, done: vi.fn(), refused: vi.fn() };
  let box = new Outbox("box", handlers, link, store);
  for (let entry = 0; entry < 200; entry += 1) {
    box.add({ path, body: { key: String(entry) }, label: String(entry), key: `k${String(entry)}` });
    await vi.advanceTimersByTimeAsync(100);
    // The page is killed, its timers with it; the next one finds what was kept.
    if (entry % 60 === 59) {
      vi.clearAllTimers();
      box = new Outbox("box", handlers, link, store);
    }
  }
  await vi.advanceTimersByTimeAsync(600_000);
  expect(reached).toEqual(Array.from({ length: 200 }, (_, entry) => `k${String(entry)}`));
  expect(rows).toEqual([]);
});

test("a device that keeps nothing says so, and sends what it has all the same", async () => {
  const full: Store = { ...store, append: () => Promise.reject(new DOMException("full", "QuotaExceededError")) };
  const send = vi.fn(() => Promise.resolve<Sent<unknown>>({ kind: "unreachable" }));
  const box = new Outbox("box", { revision: () => 1, done: vi.fn(), refused: vi.fn() }, send, full);
  box.add({ path, body: { key: "a" }, label: "one" });
  await vi.advanceTimersByTimeAsync(0);
  expect(box.read().waiting).toHaveLength(1);
  expect(send).toHaveBeenCalledOnce();
});

test("what is worked out of the plan waits for what was entered, and is refused where that cannot go out", async () => {
  let revision = 7;
  const there = outbox([{ kind: "done", body: "ok" }], () => revision);
  there.done.mockImplementation(() => (revision = 8));
  there.box.add({ path, patch, label: "name" });
  expect(await there.box.settled()).toBe(8);

  const away = outbox([]);
  away.box.add({ path, patch, label: "name" });
  await expect(away.box.settled()).rejects.toThrow();
});
