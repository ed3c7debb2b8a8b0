/** Light or dark: as the device is set, until somebody chooses. */
import { useSyncExternalStore } from "react";

const STORED = "leitung:look";
const listeners = new Set<() => void>();
const night = () => window.matchMedia("(prefers-color-scheme: dark)");

export function isDark(): boolean {
  const chosen = localStorage.getItem(STORED);
  return chosen === null ? night().matches : chosen === "dark";
}

function show() {
  document.documentElement.dataset["look"] = isDark() ? "dark" : "light";
  listeners.forEach((tell) => tell());
}

export function setDark(dark: boolean) {
  localStorage.setItem(STORED, dark ? "dark" : "light");
  show();
}

export function useDark(): boolean {
  return useSyncExternalStore((tell) => {
    listeners.add(tell);
    return () => listeners.delete(tell);
  }, isDark);
}

/** From the first drawing on, and again when the device changes. */
export function followLook() {
  show();
  night().addEventListener("change", show);
}
