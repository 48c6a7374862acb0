/** Every tone of the take in a row: how it starts, how long, how high, and what the face did. */
import type { Sound } from "../api/sound";
import { figure } from "../shared/format";
import { Verdict } from "../shared/glyphs";
import { Moment } from "./Moment";

export function Tones({ sound, goTo }: { sound: Sound; goTo: (seconds: number) => void }) {
  return (
    <>
      <h3 className="h6 mb-1">{sound.tones.length} tones</h3>
      <div className="table-responsive">
        <table className="table table-sm figures tones">
          <thead>
            <tr>
              <th scope="col">at</th>
              <th scope="col">note</th>
              <th scope="col">counts</th>
              <th scope="col">start</th>
              <th scope="col">face</th>
            </tr>
          </thead>
          <tbody>
            {sound.tones.map(({ tone, faces }) => (
              <tr key={tone.start}>
                <td>
                  <Moment at={tone.start} words={`${tone.start.toFixed(1)} s`} goTo={goTo} />
                </td>
                <td>
                  {tone.slide ? "slide" : tone.note}{" "}
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
                  {tone.ends === "sagging" && ", sags"}
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
  if (!face) return <span className="faint">not seen</span>;
  const right = face.verdict === "in band";
  return <Verdict verdict={face.verdict} words={right ? "right" : face.name} />;
}
