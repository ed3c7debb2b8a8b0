/** The application kept on the device: its service worker, a newer one that waits, the answers that were kept. */
import { useSyncExternalStore } from "react";

const ANSWERS = "answers";
let waiting: ServiceWorker | null = null;
const listeners = new Set<() => void>();

/** Keep the application on this device from now on; not while it is being developed. */
export function keepShell(): void {
  if (!import.meta.env.PROD || !("serviceWorker" in navigator)) return;
  let taken = false;
  navigator.serviceWorker.addEventListener("controllerchange", () => {
    // The first one takes over a page that is as new as itself; a newer one has been asked for.
    if (taken) window.location.reload();
  });
  // Where the browser refuses, the application works as a page that needs its server.
  const registered: Promise<ServiceWorkerRegistration | undefined> = navigator.serviceWorker.register("/sw.js");
  void registered
    .catch(() => undefined)
    .then((registration) => {
      if (!registration) return;
      taken = navigator.serviceWorker.controller !== null;
      const look = () => {
        waiting = registration.waiting;
        for (const listener of listeners) listener();
      };
      look();
      registration.addEventListener("updatefound", () => {
        registration.installing?.addEventListener("statechange", look);
      });
    });
}

export const newer = {
  subscribe: (listener: () => void) => {
    listeners.add(listener);
    return () => listeners.delete(listener);
  },
  read: () => waiting !== null && navigator.serviceWorker.controller !== null,
};

export function takeNewer(): void {
  waiting?.postMessage("take over");
}

/** What was read as one person is not there for the next. */
export async function forgetAnswers(): Promise<void> {
  if ("caches" in globalThis) await caches.delete(ANSWERS);
}

/** An answer that is kept on this device brought up to what has been entered since; one that is not kept is not begun. */
export async function renewAnswer(path: string, body: unknown): Promise<void> {
  if (!("caches" in globalThis)) return;
  const kept = await caches.open(ANSWERS);
  const headers = { "Content-Type": "application/json" };
  if (await kept.match(path)) await kept.put(path, new Response(JSON.stringify(body), { headers }));
}

const PERSON = "leitung person";

/** Somebody signs in: what another person read on this device is not shown to them. */
export async function seenBy(username: string): Promise<void> {
  if (localStorage.getItem(PERSON) !== username) await forgetAnswers();
  localStorage.setItem(PERSON, username);
}

function onSignal(listener: () => void): () => void {
  window.addEventListener("online", listener);
  window.addEventListener("offline", listener);
  return () => {
    window.removeEventListener("online", listener);
    window.removeEventListener("offline", listener);
  };
}

/** Whether the device says that it has a signal at all. */
export function useSignal(): boolean {
  return useSyncExternalStore(onSignal, () => navigator.onLine);
}

export interface Room {
  /** Whether the browser has promised not to clear it. */
  promised: boolean;
  freeMb: number | null;
}

/** Ask the browser to keep what is here, and how much room there is for more. */
export async function askForRoom(): Promise<Room> {
  if (!("storage" in navigator)) return { promised: false, freeMb: null };
  const promised = (await navigator.storage.persisted()) || (await navigator.storage.persist());
  const { quota, usage } = await navigator.storage.estimate();
  return { promised, freeMb: quota === undefined ? null : Math.floor((quota - (usage ?? 0)) / 1e6) };
}

/** Whether answers are kept on this device: a page that was opened before its worker was there is not in its care. */
export function keepsAnswers(): boolean {
  return "serviceWorker" in navigator && navigator.serviceWorker.controller !== null;
}
