/** A value changed where it stands: committed, dropped, refused, unknown. */
import { act, type ReactElement } from "react";
import { createRoot, type Root } from "react-dom/client";
import { afterEach, beforeEach, expect, test, vi } from "vitest";

import { Choice, Edit, parse } from "./Edit";

let root: Root;
let host: HTMLElement;

beforeEach(() => {
  vi.stubGlobal("IS_REACT_ACT_ENVIRONMENT", true);
  host = document.body.appendChild(document.createElement("div"));
  root = createRoot(host);
});

afterEach(() => {
  act(() => root.unmount());
  host.remove();
});

function show(element: ReactElement): HTMLInputElement {
  act(() => root.render(element));
  return host.querySelector("input, select") as HTMLInputElement;
}

function type(field: HTMLInputElement, text: string, key?: string) {
  act(() => {
    field.focus();
    Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, "value")?.set?.call(field, text);
    field.dispatchEvent(new Event("input", { bubbles: true }));
  });
  if (key) act(() => void field.dispatchEvent(new KeyboardEvent("keydown", { key, bubbles: true })));
}

const common = { label: "Length", path: "circuits/C/run/s1/length_ft", unit: "ft" };

test.each([
  ["38", 38],
  [" 38.5 ", 38.5],
  ["38,5", 38.5],
  ["", undefined],
  ["long", "long"],
  ["1e3", 1000],
])("%j goes to the server as %j", (text, value) => {
  expect(parse(text, "number")).toEqual(value);
});

test("Enter commits, Escape drops, leaving commits, and the same value commits nothing", () => {
  const commit = vi.fn();
  const field = show(<Edit {...common} value={38} onCommit={commit} />);
  type(field, "44", "Enter");
  expect(commit.mock.calls).toEqual([[44, { typed: "44", doubtful: false }]]);
  type(field, "50", "Escape");
  expect(field.value).toBe("38");
  type(field, "38", "Enter");
  expect(commit).toHaveBeenCalledOnce();
  type(field, "");
  act(() => field.blur());
  expect(commit.mock.calls.at(-1)).toEqual([undefined, { typed: "", doubtful: false }]);
});

test("what is no number is sent as doubtful, so that it is never drawn", () => {
  const commit = vi.fn();
  type(show(<Edit {...common} value={38} onCommit={commit} />), "eleven", "Enter");
  expect(commit.mock.calls).toEqual([["eleven", { typed: "eleven", doubtful: true }]]);
});

test("a refused entry stays in its field with its message and remedy", () => {
  const error = { typed: "eleven", message: "must be a number.", remedy: "Type a number." };
  const field = show(<Edit {...common} value={38} error={error} onCommit={() => undefined} />);
  expect(field.value).toBe("eleven");
  expect(field.getAttribute("aria-invalid")).toBe("true");
  const message = document.getElementById(field.getAttribute("aria-describedby") ?? "");
  expect(message?.textContent).toBe("must be a number. Type a number.");
});

test("a refused entry is let go by Escape and by typing what stands", () => {
  const error = { typed: "0", message: "m", remedy: "r" };
  const forget = vi.fn();
  const commit = vi.fn();
  const field = show(<Edit {...common} value={38} error={error} onCommit={commit} onForget={forget} />);
  type(field, "38", "Enter");
  expect(forget).toHaveBeenCalledOnce();
  act(() => field.focus());
  act(() => void field.dispatchEvent(new KeyboardEvent("keydown", { key: "Escape", bubbles: true })));
  expect(forget).toHaveBeenCalledTimes(2);
  expect(commit).not.toHaveBeenCalled();
});

test("what is not known says so, dashed and without its unit", () => {
  const field = show(<Edit {...common} value={null} onCommit={() => undefined} />);
  expect([field.value, field.placeholder]).toEqual(["", "not known"]);
  expect(field.className).toContain("border-dashed");
  expect(host.textContent).toBe("");
});

test("a choice offers what is known and not known, and sends the value, not its words", () => {
  const commit = vi.fn();
  const options = [
    { value: true, label: "in sight" },
    { value: false, label: "out of sight" },
  ];
  const field = show(
    <Choice label="Sight" path="p" value={null} options={options} onCommit={commit} empty="sight not known" />,
  );
  expect(Array.from(field.querySelectorAll("option"), (option) => option.textContent)).toEqual([
    "sight not known",
    "in sight",
    "out of sight",
  ]);
  act(() => {
    field.value = "1";
    field.dispatchEvent(new Event("change", { bubbles: true }));
  });
  expect(commit).toHaveBeenCalledWith(false);
});
