import { afterEach, beforeEach, expect, test, vi } from "vitest";
import { AtRest } from "./atRest";

beforeEach(() => {
  vi.useFakeTimers();
});

afterEach(() => {
  vi.useRealTimers();
});

test("steps that follow each other are one, the last", () => {
  const rest = new AtRest(1000);
  const done: number[] = [];
  for (const step of [20.5, 21, 21.5]) {
    rest.later(() => done.push(step));
    vi.advanceTimersByTime(900);
  }
  expect(done).toEqual([]);
  vi.advanceTimersByTime(100);
  expect(done).toEqual([21.5]);
});

test("what else is begun comes after it, and never before it", () => {
  const rest = new AtRest(1000);
  const leave = rest.watch(window);
  const done: string[] = [];
  const button = document.createElement("button");
  button.addEventListener("pointerdown", () => done.push("left off"));
  document.body.append(button);
  rest.later(() => done.push("called at 23 s"));
  window.dispatchEvent(new KeyboardEvent("keydown", { key: "ArrowRight" }));
  expect(done).toEqual([]);
  button.dispatchEvent(new Event("pointerdown", { bubbles: true }));
  vi.advanceTimersByTime(5000);
  expect(done).toEqual(["called at 23 s", "left off"]);
  rest.later(() => done.push("called at 24 s"));
  leave();
  expect(done.at(-1)).toBe("called at 24 s");
  button.remove();
});
