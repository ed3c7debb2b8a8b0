/** Keys of one letter or digit, which whoever dictates or rests a hand on the keyboard can switch off. */
import { useSyncExternalStore } from "react";

const STORED = "leitung:keys";
const listeners = new Set<() => void>();

export function singleKeys(): boolean {
  return localStorage.getItem(STORED) !== "off";
}

export function switchSingleKeys(on: boolean) {
  localStorage.setItem(STORED, on ? "on" : "off");
  listeners.forEach((tell) => tell());
}

export function useSingleKeys(): boolean {
  return useSyncExternalStore((tell) => {
    listeners.add(tell);
    return () => listeners.delete(tell);
  }, singleKeys);
}
