/** Every tone of the take in a row: how it starts, how long, how high, and what the face did. */
import type { Sound } from "../api/sound";
import { figure, fixed } from "../shared/format";
import { Verdict } from "../shared/glyphs";
import { Moment } from "./Moment";
import { t } from "../shared/words";

export function Tones({ sound, goTo }: { sound: Sound; goTo: (seconds: number) => void }) {
  return (
    <>
      <h3 className="h6 mb-1">{t("{{count}} tones", { count: sound.tones.length })}</h3>
      <div className="table-responsive">
        <table className="table table-sm figures tones">
          <thead>
            <tr>
              <th scope="col">{t("at")}</th>
              <th scope="col">{t("note")}</th>
              <th scope="col">{t("counts")}</th>
              <th scope="col">{t("start")}</th>
              <th scope="col">{t("face")}</th>
            </tr>
          </thead>
          <tbody>
            {sound.tones.map(({ tone, faces }) => (
              <tr key={tone.start}>
                <td>
                  <Moment at={tone.start} words={`${fixed(tone.start, 1)} s`} goTo={goTo} />
                </td>
                <td>
                  {tone.slide ? t("slide") : tone.note}{" "}
                  {!tone.slide && (
                    <span className="faint">
                      {tone.cents >= 0 ? "+" : ""}
                      {figure(tone.cents, 0)}
                    </span>
                  )}
                </td>
                <td>{figure(tone.lasts, 1)}</td>
                <td>
                  {tone.begins}
                  {tone.ends === "sagging" && t(", sags")}
                </td>
                <td>
                  <Face face={faces[0]} />
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      {sound.drifted.map((words) => (
        <p key={words} className="mb-1">
          {words}
        </p>
      ))}
    </>
  );
}

/** The worst of what the face did in a tone. */
function Face({ face }: { face: Sound["tones"][number]["faces"][number] | undefined }) {
  if (!face) return <span className="faint">{t("not seen")}</span>;
  const right = face.verdict === "in band";
  return <Verdict verdict={face.verdict} words={right ? t("right") : face.name} />;
}
