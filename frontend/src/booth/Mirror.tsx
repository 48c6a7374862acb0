/** The mirror: the student sees themselves, and one thing at a time to change. */
import { useEffect, useState } from "react";
import { Button, Form } from "react-bootstrap";
import {
  sendPicture,
  type BoothStudent,
  type Mirrored,
  type MirrorState,
  type View,
} from "../api/booth";
import { click, output } from "../shared/tone";
import { Verdict } from "../shared/glyphs";
import { pitchName, quoted } from "../shared/format";
import { useEar, type Source } from "./camera";
import { Over } from "./Over";
import { nearTo, type Near } from "./near";
import { Picture } from "./Picture";
import { t } from "../shared/words";

interface Props {
  student: BoothStudent;
  view: View;
  source: Source | null;
  leave: () => void;
}

const NOTHING: MirrorState = {
  rest: [],
  recent: [],
  words: "",
  next: "",
  since: 0,
  held: 0,
  held_on: "",
};
/** Longer side of a picture that is sent, px; and how many of them show the relaxed face. */
const SIDE = 384;
const REST = 8;
/** Pictures come no faster than this, ms; one at a time, so that what is late is dropped. */
const PACE = 100;

export function Mirror({ student, view, source, leave }: Props) {
  const [said, setSaid] = useState<Mirrored | null>(null);
  const [size, setSize] = useState<[number, number]>([4, 3]);
  const [near, setNear] = useState<Near | null>(null);
  const ear = useEar(source?.stream ?? null);
  const [trouble, setTrouble] = useState("");
  const [sounds, setSounds] = useState(false);
  const id = student.id;
  useEffect(() => {
    if (!source) return;
    let over = false;
    let state = NOTHING;
    let last = performance.now();
    const canvas = document.createElement("canvas");
    const shown = document.createElement("video");
    shown.muted = true;
    shown.srcObject = source.stream;
    void shown.play();
    source.relax();
    async function look() {
      if (shown.videoWidth === 0) return;
      const scale = SIDE / Math.max(shown.videoWidth, shown.videoHeight);
      canvas.width = Math.round(shown.videoWidth * scale);
      canvas.height = Math.round(shown.videoHeight * scale);
      const paper = canvas.getContext("2d", { willReadFrequently: true });
      if (!paper) return;
      paper.drawImage(shown, 0, 0, canvas.width, canvas.height);
      const picture = paper.getImageData(0, 0, canvas.width, canvas.height);
      const now = performance.now();
      const resting = state.rest.length < REST;
      const answer = await sendPicture({
        student: id,
        view,
        picture,
        resting,
        passed: (now - last) / 1000,
        state,
        sound: ear.current?.() ?? new Float32Array(),
      });
      if (over) return;
      last = now;
      state = answer.state;
      if (resting && state.rest.length === REST) source?.perform(true);
      setSaid(answer);
      setSize([picture.width, picture.height]);
      setNear((before) => nearTo(answer.lines, picture.width, picture.height, before));
    }
    async function run() {
      while (!over) {
        const begun = performance.now();
        try {
          await look();
        } catch (error) {
          setTrouble(error instanceof Error ? error.message : t("The mirror stopped."));
          return;
        }
        await new Promise((on) =>
          setTimeout(on, Math.max(PACE - performance.now() + begun, 0)),
        );
      }
    }
    void run();
    return () => {
      over = true;
      shown.srcObject = null;
      source.relax();
    };
  }, [id, view, source, ear]);

  const words = said?.state.words ?? "";
  const good = said?.good ?? false;
  useEffect(() => {
    // For those who can't look: high for right, low for something to change.
    if (sounds && words) click(good);
  }, [sounds, words, good]);
  const resting = (said?.state.rest.length ?? 0) < REST;
  return (
    <div className="filming">
      <Picture source={source} near={near}>
        {said && !resting && <Over lines={said.lines} width={size[0]} height={size[1]} />}
      </Picture>
      <section className="asks">
        <div aria-live="polite">
          {trouble ? (
            <p role="alert" className="words">
              {trouble}
            </p>
          ) : resting ? (
            <p className="words">
              {view === "side"
                ? t("Nose to the side, face relaxed, lips closed.")
                : t("Look straight, face relaxed, lips closed.")}
            </p>
          ) : (
            <p className="words" data-good={good}>
              {words || (said?.found ? t("Now play.") : t("I can't see your mouth."))}
            </p>
          )}
          {words && !resting && (
            <p className="fs-4">
              <Verdict
                verdict={good ? "in band" : "watch"}
                words={good ? heldWords(said) : t("change this")}
              />
            </p>
          )}
          {student.focus && <p className="fs-5 serif">{quoted(student.focus)}</p>}
          <p className="fs-4 figures sounding" aria-live="off">
            {said?.note && (
              <>
                {pitchName(said.note)} <span className="faint">{offWords(said.cents)}</span>
              </>
            )}
          </p>
        </div>
        <Form.Check
          id="mirror-sounds"
          label={t("Click when it changes")}
          checked={sounds}
          onChange={(event) => {
            output();
            setSounds(event.target.checked);
          }}
        />
        <Button className="mt-3" size="lg" onClick={leave}>
          {t("Close the mirror")}
        </Button>
        <p className="kicker mt-3 mb-0">{t("Nothing of this is kept.")}</p>
      </section>
    </div>
  );
}

function heldWords(said: Mirrored | null): string {
  if (!said) return "";
  const on = said.state.held_on ? ` on ${pitchName(said.state.held_on)}` : "";
  return `${said.state.held.toFixed(0)} s${on}`;
}

function offWords(cents: number | null): string {
  if (!cents) return "";
  return `${Math.abs(cents)} cents ${cents > 0 ? "high" : "low"}`;
}
