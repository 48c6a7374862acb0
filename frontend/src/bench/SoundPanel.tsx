/** What is heard: the tone against the note that was to be played, and what that means. */
import { useRef, useState } from "react";
import { Button, Form } from "react-bootstrap";
import { useIntendedNote, type Sound } from "../api/sound";
import { counted, figure, fixed, inside, measured, unitOf } from "../shared/format";
import { Verdict, verdictWords } from "../shared/glyphs";
import { Refused } from "../shared/states";
import { LONG, sound as sounded } from "../shared/tone";
import { toneAt } from "../shared/toneAt";
import { Exercises } from "./Exercises";
import { Moment } from "./Moment";
import { Tones } from "./Tones";
import { titleOf, type Span } from "./phases";
import { Rich } from "../shared/Rich";
import { t } from "../shared/words";

const BEGINS: Record<NonNullable<Sound["tone"]>["begins"], string> = {
  tongued: t("Tongued start"),
  soft: t("Soft start"),
  breathy: t("Breathy start"),
  slurred: t("Slurred from the note before"),
};

interface Props {
  take: number;
  sound: Sound;
  phases: Span[];
  goTo: (seconds: number) => void;
  /** Take a fault that is heard as a finding, with what was heard and seen. */
  add: (fault: string, reason: string) => void;
  /** Tick what it sounds like among what no camera sees. */
  tick: (observation: string) => void;
}

export function SoundPanel({ take, sound, phases, goTo, add, tick }: Props) {
  return (
    <section className="finding" aria-labelledby="sound-title">
      <h2 id="sound-title">{t("Sound analysis")}</h2>
      {sound.has_sound && <Exercises take={take} goTo={goTo} />}
      {sound.tones.length > 1 && <Tones sound={sound} goTo={goTo} />}
      {sound.tone && sound.tones.length > 1 && (
        <h3 className="h6 mb-0">
          {t("The longest tone, at {{seconds}} s", { seconds: fixed(sound.tone.start, 1) })}
        </h3>
      )}
      {sound.tone && <Tone sound={sound} goTo={goTo} />}
      {sound.tone && (
        <Piece take={take} pieces={piecesOf(sound, phases)} targetHz={sound.target_hz} />
      )}
      {sound.sentences.map((words) => (
        <p key={words}>{words}</p>
      ))}
      {sound.ticks.map((one) => (
        <p key={one.id} className="mb-2">
          <Rich
            text="Sounds “{{label}}”. <button>Tick</button>"
            values={{ label: one.label }}
            parts={{
              button: (
                <Button size="sm" variant="outline-primary" onClick={() => tick(one.id)} />
              ),
            }}
          />
        </p>
      ))}
      {sound.suspected.map((one) => (
        <Suspicion key={one.fault} one={one} add={add} />
      ))}

      {sound.tone && <Readings sound={sound} />}
      {sound.has_sound && (
        <IntendedNoteForm
          key={`${sound.stage} ${sound.pitch} ${sound.a4} ${sound.tempo}`}
          take={take}
          sound={sound}
        />
      )}
    </section>
  );
}

function Tone({ sound, goTo }: { sound: Sound; goTo: (seconds: number) => void }) {
  const { tone } = sound;
  if (!tone) return null;
  const pitch = sound.readings.find((r) => r.measure === "pitch");
  return (
    <>
      <p className="fs-4 serif mb-1">
        {tone.slide
          ? t("{{low}} to {{high}}", { low: tone.slide.low, high: tone.slide.high })
          : tone.note}
        {!tone.slide && tone.written !== tone.note && (
          <span className="faint">
            {" "}
            {t("(written {{written}})", { written: tone.written })}
          </span>
        )}
      </p>
      {pitch?.value != null && (
        <p className="mb-1">
          <Verdict verdict={pitch.verdict} />{" "}
          {t("{{value}} cents from {{pitch}}", {
            value: figure(pitch.value, 0),
            pitch: sound.pitch,
          })}
        </p>
      )}
      <p className="mb-1">
        {BEGINS[tone.begins]}
        {tone.scoop !== 0 && t(", scooped")}
        {tone.ends === "sagging" && t(", pitch sags at the end")}
        {t("; {{seconds}} s, {{lasts}} counts at {{tempo}}", {
          seconds: fixed(tone.end - tone.start, 1),
          lasts: tone.counts || figure(tone.lasts, 1),
          tempo: sound.tempo,
        })}

        {sound.ratio !== null && t("; breath to note 1 : {{ratio}}", { ratio: sound.ratio })}
        {tone.dips > 0 &&
          t("; {{dips}} in level", {
            dips: counted(tone.dips, "dip"),
          })}
        {tone.vibrato &&
          t("; vibrato of {{cents}} cents", { cents: figure(tone.vibrato.cents, 0) })}
      </p>
      {tone.slide && (
        <p className="mb-1">
          {t("Slide over {{semitones}} half steps, {{low}} to {{high}}; {{steps}}{{start}}.", {
            semitones: figure(tone.slide.semitones, 1),
            low: tone.slide.low,
            high: tone.slide.high,
            steps: tone.slide.smooth ? t("smooth") : t("in steps"),
            start: tone.slide.returns
              ? t(", and back to the start")
              : t(", ending {{back}} cents from the start", {
                  back: figure(tone.slide.back, 0),
                }),
          })}
          {sound.way_back &&
            t(" The mouth's shape comes back to {{amount}}.", {
              amount: measured(
                sound.way_back.value,
                sound.way_back.uncertainty,
                1,
                sound.way_back.unit,
              ),
            })}
          {sound.moved &&
            t(" During it the mouth moves {{amount}}.", {
              amount: measured(sound.moved.value, sound.moved.uncertainty, 1, sound.moved.unit),
            })}
        </p>
      )}
      {tone.cracks.length > 0 && (
        <p className="mb-1">
          {t("Breaks at")}{" "}
          {tone.cracks.map((at) => (
            <Moment key={at} at={at} words={`${fixed(at, 1)} s`} goTo={goTo} />
          ))}
        </p>
      )}
      {sound.breaths
        .filter(({ dips, surges }) => dips.length + surges.length > 0)
        .map(({ start, end, dips, surges }) => (
          <p key={start} className="mb-1">
            {t("The air of {{seconds}} s is uneven:", { seconds: fixed(end - start, 1) })}{" "}
            {dips.map((at) => (
              <Moment
                key={at}
                at={at}
                words={t("dips at {{seconds}} s", { seconds: fixed(at, 1) })}
                goTo={goTo}
              />
            ))}
            {surges.map((at) => (
              <Moment
                key={at}
                at={at}
                words={t("surges at {{seconds}} s", { seconds: fixed(at, 1) })}
                goTo={goTo}
              />
            ))}
          </p>
        ))}
      {sound.breaths.length > 0 && (
        <p className="mb-1">
          {t("Breath heard for")}{" "}
          {sound.breaths.map(({ start, end }) => (
            <Moment
              key={start}
              at={start}
              words={t("{{length}} s at {{start}}", {
                length: fixed(end - start, 1),
                start: fixed(start, 1),
              })}
              goTo={goTo}
            />
          ))}
        </p>
      )}
    </>
  );
}

interface PieceOf {
  words: string;
  start: number;
  end: number;
  /** Whether it is one tone, and no stretch of the clip. */
  tone: boolean;
}

/** What can be listened to alone: the tone that counts first, then other tones and the letters. */
function piecesOf(sound: Sound, phases: Span[]): PieceOf[] {
  const main = sound.tone;
  if (!main) return [];
  const others = sound.tones.map((row) => row.tone).filter((one) => one.start !== main.start);
  return [
    { words: t("This note alone"), start: main.start, end: main.end, tone: true },
    ...others.map(({ note, start, end }) => ({
      words: t("The {{note}} at {{seconds}} s", { note, seconds: fixed(start, 1) }),
      start,
      end,
      tone: true,
    })),
    ...phases.map((phase) => ({
      words: t("The phase “{{phase}}”", { phase: titleOf(phases, phase) }),
      start: phase.start,
      end: phase.end,
      tone: false,
    })),
  ];
}

/** One piece of the take to listen to again, and which. */
function Piece({
  take,
  pieces,
  targetHz,
}: {
  take: number;
  pieces: PieceOf[];
  targetHz: number | null;
}) {
  const player = useRef<HTMLAudioElement>(null);
  const [chosen, choose] = useState(0);
  const piece = pieces[Math.min(chosen, pieces.length - 1)];
  if (!piece) return null;
  // A tone is played alone; of a phase a media fragment (W3C Media Fragments URI 1.0) stops it.
  const part = `${Math.max(piece.start - 0.3, 0).toFixed(2)},${(piece.end + 0.2).toFixed(2)}`;
  return (
    <div className="mb-2">
      <Form.Select
        size="sm"
        className="mb-1"
        aria-label={t("Choose a note")}
        value={chosen}
        onChange={(event) => choose(Number(event.target.value))}
      >
        {pieces.map(({ words }, n) => (
          <option key={`${n} ${words}`} value={n}>
            {words}
          </option>
        ))}
      </Form.Select>
      <audio
        key={part}
        ref={player}
        controls
        preload="none"
        className="w-100"
        aria-label={piece.words}
        src={
          piece.tone ? toneAt(take, piece.start) : `/private/takes/${take}/clip.mp4#t=${part}`
        }
      />
      {targetHz !== null && (
        <Button
          size="sm"
          variant="outline-secondary"
          onClick={() => {
            player.current?.pause();
            sounded(targetHz);
            window.setTimeout(() => void player.current?.play(), LONG * 1000);
          }}
        >
          {t("Target note first")}
        </Button>
      )}
    </div>
  );
}

type SuspectedFault = Sound["suspected"][number];

/** What is heard while the picture speaks against it: the teacher's to decide. */
function Suspicion({ one, add }: { one: SuspectedFault; add: Props["add"] }) {
  const heard = `${inside(one.heard)} ${measured(one.value, one.uncertainty, one.decimals, one.unit)}`;
  return (
    <div
      className="border-start ps-3 mb-2"
      role="group"
      aria-label={t("Possible: {{name}}", { name: one.name })}
    >
      <p className="mb-1">
        <Rich
          text="<strong>{{name}}?</strong> By {{heard}}. {{text}}"
          values={{ name: one.name, heard, text: one.text }}
          parts={{ strong: <strong /> }}
        />
      </p>
      <p className="faint mb-1">
        {one.first_help}
        {one.confused_with &&
          t(" Look-alikes: {{confused_with}}", {
            confused_with: inside(one.confused_with),
          })}
      </p>
      <Button
        size="sm"
        variant="outline-primary"
        onClick={() => add(one.fault, t("By {{heard}}. {{text}}", { heard, text: one.text }))}
      >
        {t("Add as finding")}
      </Button>
    </div>
  );
}

function Readings({ sound }: { sound: Sound }) {
  return (
    <dl className="figures">
      {sound.readings.map((r) => (
        <div key={r.measure} style={{ display: "contents" }}>
          <dt className="fw-normal">
            {r.name}
            {r.value === null && <span className="kicker d-block">{r.reason}</span>}
          </dt>
          <dd>
            {r.value === null ? (
              <Verdict verdict="can't tell" />
            ) : (
              <>
                {measured(r.value, r.uncertainty ?? 0, r.decimals, r.unit)}
                {r.high !== null && (
                  <span className="kicker d-block">
                    {t("{{verdict}}, up to {{high}}{{unit}}", {
                      verdict: verdictWords(r.verdict),
                      high: figure(r.high, 0),
                      unit: unitOf(r.unit),
                    })}
                  </span>
                )}
              </>
            )}
          </dd>
        </div>
      ))}
    </dl>
  );
}

function IntendedNoteForm({ take, sound }: { take: number; sound: Sound }) {
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
