/** The tour, offered once where there is a band to show. */
import { Button } from "react-bootstrap";
import { tourSeen, useTour } from "./useTour";
import { t } from "../shared/words";

export function TourOffer() {
  const seen = tourSeen.useIt();
  const begin = useTour();
  if (seen || !begin) return null;
  return (
    <aside className="tour-offer" aria-label={t("Tour")}>
      <strong>{t("New here?")}</strong>
      <span className="flex-fill">
        {t("See in two minutes how a clip becomes one thing to fix, with its drill.")}
      </span>
      <Button size="sm" onClick={() => void begin()}>
        {t("Start the tour")}
      </Button>
      <Button size="sm" variant="outline-secondary" onClick={() => tourSeen.set(true)}>
        {t("Not now")}
      </Button>
    </aside>
  );
}
