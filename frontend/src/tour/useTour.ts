/** Walking through the stops, from page to page. */
import type { DriveStep } from "driver.js";
import { useNavigate } from "react-router";
import { useBand } from "../api/queries";
import { storedSwitch } from "../shared/storedSwitch";
import { stopsOf, type Stop } from "./stops";
import { t } from "../shared/words";

/** Whether it was taken or declined in this browser. */
export const tourSeen = storedSwitch("sulvet-tour-seen");

/** A page that shows nothing of a stop for so long, ms, has nothing of it: the tour goes on. */
const PATIENCE = 8000;

/** The part of a page that a stop shows; null where it does not come. */
function arrived(stop: Stop): Promise<Element | null> {
  return new Promise((answer) => {
    const there = () => document.querySelector(stop.shows);
    const done = (found: Element | null) => {
      watching.disconnect();
      window.clearTimeout(waiting);
      answer(found);
    };
    const watching = new MutationObserver(() => {
      const found = there();
      if (found) done(found);
    });
    const waiting = window.setTimeout(() => done(there()), PATIENCE);
    if (there()) done(there());
    else watching.observe(document.body, { childList: true, subtree: true });
  });
}

/** Begins the tour; null until the band is known. */
export function useTour(): (() => Promise<void>) | null {
  const band = useBand();
  const navigate = useNavigate();
  if (!band.data) return null;
  const stops = stopsOf(band.data.sections);
  return async () => {
    tourSeen.set(true);
    // Fetched by those alone who take it.
    const [{ driver }] = await Promise.all([
      import("driver.js"),
      import("driver.js/dist/driver.css"),
    ]);
    let going = true;
    const steps: DriveStep[] = stops.map((stop) => ({
      element: stop.shows,
      popover: { title: stop.title, description: stop.words },
    }));
    const tour = driver({
      steps,
      animate: false,
      showProgress: true,
      // The library fills in the figures.
      progressText: t("{{current}} of {{total}}", {
        current: "{{current}}",
        total: "{{total}}",
      }),
      nextBtnText: t("Next"),
      prevBtnText: t("Back"),
      doneBtnText: t("Finish"),
      popoverClass: "tour",
      // It gives what it lights the states of a button, which a plain part of a page can't have.
      onHighlighted: (lit) => {
        for (const state of ["aria-haspopup", "aria-expanded"]) lit?.removeAttribute(state);
      },
      onPopoverRender: ({ title, footer }) => {
        // They are header and footer elements, which without a role would be the page's own.
        for (const part of [title, footer]) part.setAttribute("role", "presentation");
      },
      onNextClick: () => void go((tour.getActiveIndex() ?? 0) + 1, 1),
      onPrevClick: () => void go((tour.getActiveIndex() ?? 0) - 1, -1),
      onDestroyed: () => (going = false),
    });
    async function go(n: number, way: 1 | -1): Promise<void> {
      const stop = stops[n];
      if (!stop) {
        tour.destroy();
        return;
      }
      if (window.location.pathname !== stop.page) await navigate(stop.page);
      const found = await arrived(stop);
      if (!going) return;
      if (found) tour.drive(n);
      else await go(n + way, way);
    }
    await go(0, 1);
  };
}
