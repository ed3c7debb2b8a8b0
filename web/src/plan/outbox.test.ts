import { beforeEach, expect, test, vi } from "vitest";

import type { Sent } from "../api/client";
import { Outbox } from "./outbox";

const path = "/api/installs/1/patches";
const patch = { name: "x" };

function outbox(answers: Sent<unknown>[], revision = () => 7) {
  const send = vi.fn<(path: string, key: string, body: unknown) => Promise<Sent<unknown>>>(() =>
    Promise.resolve(answers.shift() ?? { kind: "unreachable" }),
  );
  const done = vi.fn();
  const refused = vi.fn();
  return { box: new Outbox("box", { revision, done, refused }, send), send, done, refused };
}

beforeEach(() => {
  localStorage.clear();
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
  expect(localStorage.getItem("box")).toBeNull();
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
