/** One band: its figures, in which phase, and where they come from. */
import { phaseWords } from "../shared/phases";
import { Button, Form } from "react-bootstrap";
import type { Figures, StandardBand } from "../api/standards";
import { figure, unitOf } from "../shared/format";
import { MeasureName } from "../shared/explain";
import { NumberLine } from "./NumberLine";
import { t } from "../shared/words";

interface Props {
  band: StandardBand;
  figures: Figures;
  /** It was changed by dragging just now. */
  told: boolean;
  change: (figures: Figures) => void;
  reset: () => void;
}

const FIELDS = [
  { name: "low", words: t("from"), edge: true },
  { name: "high", words: t("to"), edge: true },
  { name: "watch_low", words: t("margin below"), edge: false },
  { name: "watch_high", words: t("margin above"), edge: false },
] as const;

export function BandRow({ band, figures, told, change, reset }: Props) {
  const differs = FIELDS.some(({ name }) => figures[name] !== band.base[name]);
  return (
    <fieldset className={`band-row ${told ? "told" : ""}`} data-band={band.key}>
      <legend className="fs-6 mb-1">
        <MeasureName measure={band.measure}>
          <strong>{band.name}</strong>
        </MeasureName>
        <span className="faint">
          {unitOf(band.unit).trim() && `, ${unitOf(band.unit).trim()}`}
          {band.phases.join() !== "hold" &&
            t(", in {{phases}}", { phases: band.phases.map(phaseWords).join(", ") })}
        </span>
      </legend>
      {(figures.low !== null || figures.high !== null) && (
        <NumberLine band={band} figures={figures} change={change} />
      )}
      {differs && (
        <Button size="sm" variant="link" className="px-0" onClick={reset}>
          {t("Reset to {{limits}}", { limits: baseWords(band) })}
        </Button>
      )}
      <details>
        <summary className="kicker">{t("Exact numbers and where they come from")}</summary>
        <div className="d-flex flex-wrap gap-2 align-items-end">
          {FIELDS.map(({ name, words, edge }) => (
            <Form.Group key={name} controlId={`${band.key}-${name}`} className="figure">
              <Form.Label className="mb-0 kicker">{words}</Form.Label>
              <Form.Control
                type="number"
                size="sm"
                step="any"
                min={edge ? undefined : 0}
                placeholder={t("open")}
                value={figures[name] ?? ""}
                onChange={(event) => {
                  const text = event.target.value;
                  const value = text === "" ? (edge ? null : 0) : Number(text);
                  change({ ...figures, [name]: value });
                }}
              />
            </Form.Group>
          ))}
        </div>
        <p className="kicker mb-0 mt-1">{band.note}</p>
      </details>
    </fieldset>
  );
}

function baseWords({ base, decimals }: StandardBand): string {
  const told = (value: number | null) =>
    value === null ? t("open") : figure(value, Math.max(decimals, 1));
  return t("{{low}} to {{high}}", { low: told(base.low), high: told(base.high) });
}
