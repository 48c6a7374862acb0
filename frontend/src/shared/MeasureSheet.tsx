/** What a measure is: its drawing and its sentence. */
import { Modal } from "react-bootstrap";
import { Link } from "react-router";
import { useMeasures } from "../api/queries";
import { explain, useAsked } from "./explain";
import { unitOf } from "./format";
import { drawingOf } from "./handbookDrawings";
import { t } from "./words";

const VIEWS: Record<string, string> = {
  front: t("Seen from the front"),
  side: t("Seen from the side"),
  sound: t("Heard"),
  "close-up": t("On a close-up photo"),
};

export function MeasureSheet() {
  const shown = useAsked();
  const measures = useMeasures(shown !== null);
  const measure = measures.data?.find((one) => one.id === shown);
  if (!measure) return null;
  const drawing = drawingOf(measure.drawing);
  const unit = measure.unit === "deg" ? "degrees" : unitOf(measure.unit).trim();
  return (
    <Modal show onHide={() => explain(null)} aria-labelledby="measure-title" animation={false}>
      <Modal.Header closeButton>
        <Modal.Title as="h2" id="measure-title">
          {measure.name}
        </Modal.Title>
      </Modal.Header>
      <Modal.Body>
        {drawing && <img className="measure-drawing" src={drawing} alt="" />}
        <p className="fs-5 mb-2">{measure.explains}</p>
        <p className="faint mb-0">
          {VIEWS[measure.view]}
          {unit && t(", in {{unit}}", { unit })}.{" "}
          <Link to="/help?page=measuring" onClick={() => explain(null)}>
            {t("How Sulvet measures")}
          </Link>
        </p>
      </Modal.Body>
    </Modal>
  );
}
