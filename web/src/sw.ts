/// <reference lib="webworker" />
import { ExpirationPlugin } from "workbox-expiration";
import { createHandlerBoundToURL, precacheAndRoute } from "workbox-precaching";
import { NavigationRoute, registerRoute } from "workbox-routing";
import { NetworkFirst, NetworkOnly } from "workbox-strategies";
import { ANSWERS, KEPT_AT, PAGE } from "./api/kept";

declare const self: ServiceWorkerGlobalScope;
/** Written in by the build. */
declare const __UBREX_FILES__: { url: string; revision: string | null }[];

const MOST_ANSWERS = 400;
const LARGEST = 2_000_000;

// Everything the page is made of, so that it opens without a network.
precacheAndRoute(__UBREX_FILES__);

// The page itself comes from the workshop wherever that answers: what is kept is never in front of a newer one.
const kept = createHandlerBoundToURL(PAGE);
const fresh = new NetworkOnly();
registerRoute(
  new NavigationRoute(async (given) => fresh.handle(given).catch(() => kept(given)), {
    denylist: [/^\/api\//],
  }),
);

/** Whether an answer is worth keeping: a whole one, as data or a picture, not a backup or a table. */
function isKept(response: Response): boolean {
  const kind = response.headers.get("content-type") ?? "";
  const size = Number(response.headers.get("content-length") ?? 0);
  return response.status === 200 && /^(application\/json|image\/)/.test(kind) && size < LARGEST;
}

// Backups and files for a machine go past: a copy of one would lie in memory while it is saved.
const PAST = /^\/api\/v1\/(backup|runs\/\d+\/files)/;
const LONGEST_S = 10;

// What was last seen stands in for an answer that does not come, and says since when.
registerRoute(
  ({ url }) =>
    url.origin === self.location.origin && url.pathname.startsWith("/api/") && !PAST.test(url.pathname),
  new NetworkFirst({
    cacheName: ANSWERS,
    networkTimeoutSeconds: LONGEST_S,
    matchOptions: { ignoreVary: true },
    plugins: [
      new ExpirationPlugin({ maxEntries: MOST_ANSWERS, purgeOnQuotaError: true }),
      {
        cacheWillUpdate: async ({ response }) => {
          if (!isKept(response)) return null;
          const headers = new Headers(response.headers);
          headers.set(KEPT_AT, new Date().toISOString());
          return new Response(await response.blob(), { status: 200, headers });
        },
      },
    ],
  }),
);

self.addEventListener("install", () => void self.skipWaiting());
self.addEventListener("activate", (event) => event.waitUntil(self.clients.claim()));
