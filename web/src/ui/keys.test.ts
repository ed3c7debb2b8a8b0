/** Keys of one letter: on until they are switched off, and so from then on. */
import { afterEach, expect, test } from "vitest";

import { singleKeys, switchSingleKeys } from "./keys";

afterEach(() => localStorage.clear());

test("they work until they are switched off, and again when switched on", () => {
  expect(singleKeys()).toBe(true);
  switchSingleKeys(false);
  expect(singleKeys()).toBe(false);
  expect(localStorage.length).toBe(1);
  switchSingleKeys(true);
  expect(singleKeys()).toBe(true);
});
