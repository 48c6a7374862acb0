/** Setting phases by key: which one begins, ends or is removed at the playhead. */
import { Button } from "react-bootstrap";
import type { Phase } from "../api/client";
import { useKeys, type Keys } from "../shared/useKeys";
import type { PhaseName } from "./phases";

const LETTERS: { name: PhaseName; key: string; what: string }[] = [
  { name: "rest", key: "r", what: "the face is relaxed" },
  { name: "form", key: "f", what: "the mouth forms its shape" },
  { name: "place", key: "p", what: "mouthpiece, reed or lip plate is placed" },
  { name: "breathe", key: "b", what: "breath in" },
  { name: "start", key: "s", what: "the tone begins" },
  { name: "hold", key: "h", what: "the tone is held" },
  { name: "change", key: "c", what: "the note changes" },
  { name: "release", key: "e", what: "the tone ends" },
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
      <h2 id="letters-title">Set phases at the playhead</h2>
      <p className="faint">
        Press the key of a phase where it begins, with <kbd>Shift</kbd> where it ends. Of
        several the nearest is changed.
      </p>
      <table className="table table-sm mb-2">
        <tbody>
          {LETTERS.map(({ name, key, what }) => {
            const count = phases.filter((p) => p.name === name).length;
            return (
              <tr key={name}>
                <th scope="row" className="fw-normal">
                  <kbd>{key.toUpperCase()}</kbd> {name}
                  {count > 1 && ` (${count})`}
                  <span className="d-block faint small">{what}</span>
                </th>
                <td className="text-end text-nowrap">
                  <Button size="sm" variant="link" onClick={() => set(name, "start")}>
                    begins
                  </Button>
                  <Button size="sm" variant="link" onClick={() => set(name, "end")}>
                    ends
                  </Button>
                  <Button
                    size="sm"
                    variant="link"
                    disabled={count === 0}
                    aria-label={`add another ${name}`}
                    onClick={() => another(name)}
                  >
                    one more
                  </Button>
                  <Button
                    size="sm"
                    variant="link"
                    disabled={count === 0}
                    aria-label={`remove ${name}`}
                    onClick={() => remove(name)}
                  >
                    remove
                  </Button>
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
      <Button size="sm" variant="outline-secondary" onClick={close}>
        Done
      </Button>
    </section>
  );
}
