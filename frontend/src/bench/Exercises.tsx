/** Exercises as they were played: a row of tones, each right or with what is wrong. */
import { useExercises, type HeardExercise } from "../api/sound";
import { figure, fixed } from "../shared/format";
import { Verdict } from "../shared/glyphs";
import { t } from "../shared/words";

type Place = HeardExercise["places"][number];

const WHY: Record<HeardExercise["why"], string> = {
  plan: t("From the plan"),
  given: t("Given as an exercise"),
  likeliest: t("It looks like this exercise"),
};

export function Exercises({ take, goTo }: { take: number; goTo: (seconds: number) => void }) {
  const { data } = useExercises(take);
  return data?.map((one) => <Exercise key={`${one.why} ${one.name}`} one={one} goTo={goTo} />);
}

function Exercise({ one, goTo }: { one: HeardExercise; goTo: (seconds: number) => void }) {
  const counted = one.places.some((place) => place.counts !== null);
  const part = one.of > 0 && one.of < one.expected;
  return (
    <div
      className="exercise mb-3"
      role="group"
      aria-label={t("Exercise as played: {{name}}", { name: one.name })}
    >
      <p className="kicker mb-0">
        {WHY[one.why]}
        {counted &&
          t(", counted at {{tempo}} beats per minute", { tempo: figure(one.tempo, 0) })}
      </p>
      <p className="mb-1">
        <strong>{one.name}</strong>:{" "}
        {one.of === 0
          ? t("none of its {{expected}} tones is heard.", { expected: one.expected })
          : one.sentence}
        {part && t(" The whole exercise has {{expected}}.", { expected: one.expected })}
      </p>
      <ol className="row-of-tones">
        {one.places.map((place, n) => (
          <li key={n}>
            <Tile place={place} goTo={goTo} />
          </li>
        ))}
      </ol>
      {one.of > 0 && one.why !== "likeliest" && (
        <p className="mb-0">
          <Verdict
            verdict={one.passed ? "in band" : "watch"}
            words={one.passed ? t("Enough is right") : t("Not enough is right yet")}
          />
        </p>
      )}
      {one.pass_mark && (
        <p className="kicker mb-0">
          {t("Passed when: {{pass_mark}}", { pass_mark: one.pass_mark })}
        </p>
      )}
    </div>
  );
}

/** One tone: its number, how long it lasted against how long it should, and what is wrong. */
function Tile({ place, goTo }: { place: Place; goTo: (seconds: number) => void }) {
  const { start, heard, counts } = place;
  const what = place.by === "teacher" ? "teacher" : place.words;
  const share = heard === null || counts === null ? 0 : heard / counts;
  const inner = (
    <>
      <span className="number">{place.number ?? (place.by === "teacher" ? "T" : "+")}</span>
      {counts !== null && (
        <span className="bar" aria-hidden>
          <span style={{ width: `${Math.min(share / 1.5, 1) * 100}%` }} />
          <i />
        </span>
      )}
      <span className="figures">
        {counts === null
          ? place.note || (heard !== null && t("{{heard}} counts", { heard: figure(heard, 1) }))
          : heard === null
            ? `${counts}`
            : t("{{heard}} of {{counts}}", { heard: figure(heard, 1), counts })}
      </span>
      {place.by === "teacher" ? (
        <span className="faint">{what}</span>
      ) : (
        <Verdict verdict={place.right ? "in band" : "watch"} words={what} />
      )}
    </>
  );
  if (start === null) return <div className="tile missing">{inner}</div>;
  return (
    <button
      type="button"
      className="tile"
      onClick={() => goTo(start)}
      title={t("Go to {{seconds}} s", { seconds: fixed(start, 1) })}
    >
      {inner}
    </button>
  );
}
