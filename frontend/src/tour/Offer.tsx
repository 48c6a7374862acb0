/** The tour, offered once where there is a band to show. */
import { Button } from "react-bootstrap";
import { tourSeen, useTour } from "./useTour";

export function TourOffer() {
  const seen = tourSeen.useIt();
  const begin = useTour();
  if (seen || !begin) return null;
  return (
    <aside className="tour-offer" aria-label="Tour">
      <strong>New here?</strong>
      <span className="flex-fill">
        See in two minutes how a clip becomes one thing to fix, with its drill.
      </span>
      <Button size="sm" onClick={() => void begin()}>
        Start the tour
      </Button>
      <Button size="sm" variant="outline-secondary" onClick={() => tourSeen.set(true)}>
        Not now
      </Button>
    </aside>
  );
}
