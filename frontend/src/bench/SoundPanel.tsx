/** What is heard: the tone against the note that was to be played, and what that means. */
import { Button } from "react-bootstrap";
import type { Sound } from "../api/sound";
import { figure, fixed, inside, measured, unitOf } from "../shared/format";
import { Verdict, verdictWords } from "../shared/glyphs";
import { Exercises } from "./Exercises";
import { IntendedNoteForm } from "./IntendedNoteForm";
import { ToneHeard } from "./ToneHeard";
import { piecesOf, TonePiece } from "./TonePiece";
import { Tones } from "./Tones";
import type { Span } from "./phases";
import { Rich } from "../shared/Rich";
import { t } from "../shared/words";

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
      {sound.tone && <ToneHeard sound={sound} goTo={goTo} />}
      {sound.tone && (
        <TonePiece take={take} pieces={piecesOf(sound, phases)} targetHz={sound.target_hz} />
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
