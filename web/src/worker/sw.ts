/**
 * The service worker: the application itself is kept whole; an answer of the server that was once read is kept too, and
 * given again where there is no signal. Nothing is ever written through it.
 */
import { CacheableResponsePlugin } from "workbox-cacheable-response";
import { clientsClaim } from "workbox-core";
import { ExpirationPlugin } from "workbox-expiration";
import { createHandlerBoundToURL, precacheAndRoute } from "workbox-precaching";
import { NavigationRoute, registerRoute } from "workbox-routing";
import { NetworkFirst } from "workbox-strategies";

/** The files of this build; put in when it is built. */
declare const __SHELL__: { url: string; revision: string | null }[];

const FILES = /\.(pdf|csv|json|svg)$/;

clientsClaim();
precacheAndRoute(__SHELL__);
registerRoute(new NavigationRoute(createHandlerBoundToURL("/index.html"), { denylist: [/^\/(api|read)\//] }));
registerRoute(
  ({ url, request }) => request.method === "GET" && url.pathname.startsWith("/api/") && !FILES.test(url.pathname),
  new NetworkFirst({
    cacheName: "answers",
    plugins: [
      new CacheableResponsePlugin({ statuses: [200] }),
      new ExpirationPlugin({ maxEntries: 600, maxAgeSeconds: 30 * 24 * 3600 }),
    ],
  }),
);

// A newer one waits until whoever works with the older one says so.
addEventListener("message", (event: MessageEvent<unknown>) => {
  if (event.data === "take over") void (globalThis as unknown as { skipWaiting: () => Promise<void> }).skipWaiting();
});
