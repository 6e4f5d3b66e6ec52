/**
 * The service worker: keeps the interface itself, of one version, so that it opens without a network. What the server
 * says is not its business. A newer version waits until the page asks for it, or until nobody has the old one open.
 */
import { clientsClaim } from "workbox-core";
import { cleanupOutdatedCaches, createHandlerBoundToURL, precacheAndRoute } from "workbox-precaching";
import { NavigationRoute, registerRoute } from "workbox-routing";

declare const self: ServiceWorkerGlobalScope;
/** Every built file with its version; written here by the build. */
declare const BUILT: { url: string; revision: string | null }[];

// From the first visit on a page is kept by the worker, so that a newer one waits for it too.
clientsClaim();
precacheAndRoute(BUILT);
cleanupOutdatedCaches();
// All addresses of the interface are one page. Those of the API and of documents are the server's.
registerRoute(
  new NavigationRoute(createHandlerBoundToURL("/"), { denylist: [/^\/api\//, /^\/static\//, /^\/formulas/] }),
);
self.addEventListener("message", (event) => {
  if ((event.data as { type?: string } | null)?.type === "SKIP_WAITING") void self.skipWaiting();
});
