/** The tone that counts, in words: its note, how it begins, lasts and ends, and the breath before it. */
import type { Sound } from "../api/sound";
import { counted, figure, fixed, measured } from "../shared/format";
import { Verdict } from "../shared/glyphs";
import { t } from "../shared/words";
import { Moment } from "./Moment";

const BEGINS: Record<NonNullable<Sound["tone"]>["begins"], string> = {
  tongued: t("Tongued start"),
  soft: t("Soft start"),
  breathy: t("Breathy start"),
  slurred: t("Slurred from the note before"),
};

export function ToneHeard({ sound, goTo }: { sound: Sound; goTo: (seconds: number) => void }) {
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
