/** Which note was to be played, on what, at which pitch and tempo. */
import { useState } from "react";
import { Button, Form } from "react-bootstrap";
import { useIntendedNote, type Sound } from "../api/sound";
import { Refused } from "../shared/states";
import { t } from "../shared/words";

export function IntendedNoteForm({ take, sound }: { take: number; sound: Sound }) {
  const intended = useIntendedNote(take);
  const [stage, setStage] = useState(sound.stage);
  const [pitch, setPitch] = useState(sound.pitch);
  const [a4, setA4] = useState(sound.a4);
  const [tempo, setTempo] = useState(sound.tempo);
  return (
    <details>
      <summary>
        {sound.pitch ? t("Played for {{pitch}}", { pitch: sound.pitch }) : t("Note not set")}
        {sound.stage_label && `, ${sound.stage_label}`}
        {sound.pitch && !sound.chosen && <span className="faint"> {t("(assumed)")}</span>}
      </summary>
      <Form
        className="d-grid gap-2 mt-2"
        onSubmit={(event) => {
          event.preventDefault();
          intended.mutate({ stage, pitch: pitch.trim(), a4, tempo });
        }}
      >
        <Refused error={intended.error} />
        <Form.Group controlId="sound-pitch" className="d-flex gap-2 align-items-center">
          <Form.Label className="mb-0">{t("Note (concert pitch)")}</Form.Label>
          <Form.Control
            size="sm"
            style={{ width: "5rem" }}
            maxLength={4}
            placeholder={t("Bb4")}
            list="sound-targets"
            value={pitch}
            onChange={(event) => setPitch(event.target.value)}
          />
          <datalist id="sound-targets">
            {sound.targets.map((t) => (
              <option key={t.stage + t.pitch} value={t.pitch}>
                {sound.stages.find(({ id }) => id === t.stage)?.label}
              </option>
            ))}
          </datalist>
        </Form.Group>
        <Form.Group controlId="sound-stage" className="d-flex gap-2 align-items-center">
          <Form.Label className="mb-0">{t("Played on")}</Form.Label>
          <Form.Select
            size="sm"
            value={stage}
            onChange={(event) => setStage(event.target.value)}
          >
            <option value="">{t("not said")}</option>
            {sound.stages.map(({ id, label }) => (
              <option key={id} value={id}>
                {label}
              </option>
            ))}
          </Form.Select>
        </Form.Group>
        <Form.Group controlId="sound-a4" className="d-flex gap-2 align-items-center">
          <Form.Label className="mb-0">A4 =</Form.Label>
          <Form.Control
            size="sm"
            type="number"
            style={{ width: "5.5rem" }}
            step={0.5}
            value={a4}
            onChange={(event) => setA4(Number(event.target.value))}
          />
          <span>{t("Hz")}</span>
        </Form.Group>
        <Form.Group controlId="sound-tempo" className="d-flex gap-2 align-items-center">
          <Form.Label className="mb-0">{t("Beats per minute")}</Form.Label>
          <Form.Control
            size="sm"
            type="number"
            style={{ width: "5.5rem" }}
            value={tempo}
            onChange={(event) => setTempo(Number(event.target.value))}
          />
        </Form.Group>
        <div>
          <Button type="submit" size="sm" disabled={intended.isPending}>
            {t("Apply")}
          </Button>
        </div>
      </Form>
    </details>
  );
}
