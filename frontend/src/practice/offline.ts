/** The page without a connection: a worker answers with what the phone has kept, and the phone's
 * home screen can hold it. Both want a secure address; without one the page works as any other. */
import { useEffect } from "react";
import { ASSETS, OWN, PAGE } from "./caches";

const WORKER = "/film/practice-worker.js";

/** Keeps what this visit fetched before the worker was there. */
async function keepVisit(token: string): Promise<void> {
  const fetched = performance
    .getEntriesByType("resource")
    .map((entry) => new URL(entry.name).pathname)
    .filter((path) => path.startsWith("/static/assets/"));
  const api = `/api/film/${encodeURIComponent(token)}/`;
  const [assets, page, kept] = await Promise.all(
    [ASSETS, PAGE, OWN].map((c) => caches.open(c)),
  );
  await assets?.addAll([...new Set(fetched)]);
  await page?.add(`/film/${token}`);
  await kept?.addAll([api, `${api}page/`, `${api}page/then-now/`]);
}

export function useOffline(token: string): void {
  useEffect(() => {
    const icon = document.querySelector<HTMLLinkElement>('link[rel="manifest"]');
    const before = icon?.href ?? "";
    if (icon) icon.href = `/api/film/${encodeURIComponent(token)}/app.webmanifest`;
    if ("serviceWorker" in navigator)
      navigator.serviceWorker
        .register(WORKER, { scope: `/film/${token}` })
        .then(() => keepVisit(token))
        // A certificate the phone does not know, or no room: the page itself still works.
        .catch(() => undefined);
    return () => {
      if (icon) icon.href = before;
    };
  }, [token]);
}

/** A link that is over: nothing of its page stays on the phone. */
export async function forgetPage(token: string): Promise<void> {
  if (!("caches" in window)) return;
  await Promise.all([OWN, PAGE].map((name) => caches.delete(name)));
  const registration = await navigator.serviceWorker.getRegistration(`/film/${token}`);
  await registration?.unregister();
}
