/** What is said of a clip: when it is uploaded, and put right later. */
import { useId } from "react";
import { Form } from "react-bootstrap";
import type { TakeFacts } from "../api/upload";
import { today } from "../shared/format";
import { t } from "../shared/words";

const VIEWS = { front: t("From the front"), side: t("From the side") } as const;

interface Props {
  facts: TakeFacts;
  change: (part: Partial<TakeFacts>) => void;
}

export function ViewField({ facts, change }: Props) {
  const id = useId();
  return (
    <Form.Group className="mb-2" role="radiogroup" aria-label={t("View")}>
      {(["front", "side"] as const).map((name) => (
        <Form.Check
          inline
          key={name}
          type="radio"
          name={`${id}-view`}
          id={`${id}-${name}`}
          label={VIEWS[name]}
          checked={facts.view === name}
          onChange={() => change({ view: name })}
        />
      ))}
    </Form.Group>
  );
}

export function DayAndMirrorFields({ facts, change }: Props) {
  const id = useId();
  return (
    <>
      <div className="row">
        <Form.Group className="col mb-2" controlId={`${id}-day`}>
          <Form.Label>{t("Filmed on")}</Form.Label>
          <Form.Control
            type="date"
            required
            value={facts.filmedOn}
            max={today()}
            onChange={(event) => change({ filmedOn: event.target.value })}
          />
        </Form.Group>
        <Form.Group className="col mb-2" controlId={`${id}-purpose`}>
          <Form.Label>{t("For")}</Form.Label>
          <Form.Select
            value={facts.purpose}
            onChange={(event) =>
              change({ purpose: event.target.value as TakeFacts["purpose"] })
            }
          >
            <option value="check">{t("First check")}</option>
            <option value="recheck">{t("Recheck")}</option>
          </Form.Select>
        </Form.Group>
      </div>
      <Form.Check
        className="mb-3"
        id={`${id}-mirrored`}
        label={t("Mirrored (selfie) video")}
        checked={facts.mirrored}
        onChange={(event) => change({ mirrored: event.target.checked })}
      />
    </>
  );
}
