/** Setting phases by key: which one begins, ends or is removed at the playhead. */
import { phaseWords } from "../shared/phases";
import { Button } from "react-bootstrap";
import type { Phase } from "../api/client";
import { useKeys, type Keys } from "../shared/useKeys";
import type { PhaseName } from "./phases";
import { Rich } from "../shared/Rich";
import { t } from "../shared/words";

const LETTERS: { name: PhaseName; key: string; what: string }[] = [
  { name: "rest", key: "r", what: t("the face is relaxed") },
  { name: "form", key: "f", what: t("the mouth forms its shape") },
  { name: "place", key: "p", what: t("mouthpiece, reed or lip plate is placed") },
  { name: "breathe", key: "b", what: t("breath in") },
  { name: "start", key: "s", what: t("the tone begins") },
  { name: "hold", key: "h", what: t("the tone is held") },
  { name: "change", key: "c", what: t("the note changes") },
  { name: "release", key: "e", what: t("the tone ends") },
];

interface Props {
  phases: Phase[];
  /** Several tones have a hold each: one more of a name at the playhead. */
  another: (name: PhaseName) => void;
  set: (name: PhaseName, edge: "start" | "end") => void;
  remove: (name: PhaseName) => void;
  close: () => void;
}

export function LetterChooser({ phases, set, another, remove, close }: Props) {
  const keys: Keys = { Escape: close };
  for (const { name, key } of LETTERS) {
    keys[key] = () => set(name, "start");
    keys[`Shift+${key}`] = () => set(name, "end");
  }
  useKeys(keys, true);
  return (
    <section className="finding" role="group" aria-labelledby="letters-title">
      <h2 id="letters-title">{t("Set phases at the playhead")}</h2>
      <p className="faint">
        <Rich
          text="Press the key of a phase where it begins, with <kbd>Shift</kbd> where it ends. Of several the nearest is changed."
          parts={{ kbd: <kbd /> }}
        />
      </p>
      <table className="table table-sm mb-2">
        <tbody>
          {LETTERS.map(({ name, key, what }) => {
            const count = phases.filter((p) => p.name === name).length;
            return (
              <tr key={name}>
                <th scope="row" className="fw-normal">
                  <kbd>{key.toUpperCase()}</kbd> {phaseWords(name)}
                  {count > 1 && ` (${count})`}
                  <span className="d-block faint small">{what}</span>
                </th>
                <td className="text-end text-nowrap">
                  <Button size="sm" variant="link" onClick={() => set(name, "start")}>
                    {t("begins")}
                  </Button>
                  <Button size="sm" variant="link" onClick={() => set(name, "end")}>
                    {t("ends")}
                  </Button>
                  <Button
                    size="sm"
                    variant="link"
                    disabled={count === 0}
                    aria-label={t("add another {{name}}", { name: phaseWords(name) })}
                    onClick={() => another(name)}
                  >
                    {t("one more")}
                  </Button>
                  <Button
                    size="sm"
                    variant="link"
                    disabled={count === 0}
                    aria-label={t("remove {{name}}", { name })}
                    onClick={() => remove(name)}
                  >
                    {t("remove")}
                  </Button>
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
      <Button size="sm" variant="outline-secondary" onClick={close}>
        {t("Done")}
      </Button>
    </section>
  );
}
