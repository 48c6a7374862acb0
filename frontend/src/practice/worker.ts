/** Answers for the student's page while there is no connection (a service worker, W3C). */
import { registerRoute } from "workbox-routing";
import { CacheFirst, NetworkFirst } from "workbox-strategies";
import { ASSETS, OWN, PAGE } from "./caches";

/** A network that does not answer in so many seconds counts as none. */
const PATIENCE = 5;

// Their names change with their content.
registerRoute(
  ({ url }) => url.pathname.startsWith("/static/assets/"),
  new CacheFirst({ cacheName: ASSETS }),
);
registerRoute(
  ({ request, url }) => request.mode === "navigate" && url.pathname.startsWith("/film/"),
  new NetworkFirst({ cacheName: PAGE, networkTimeoutSeconds: PATIENCE }),
);
registerRoute(
  ({ url }) => /^\/api\/film\/[^/]+\/(page\/(then-now\/)?)?$/.test(url.pathname),
  new NetworkFirst({ cacheName: OWN, networkTimeoutSeconds: PATIENCE }),
);
