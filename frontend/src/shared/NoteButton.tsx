/** A note to aim at, sounded. */
import { Button } from "react-bootstrap";
import { pitchName } from "./format";
import { sound } from "./tone";
import { t } from "./words";

interface Props {
  pitch: string;
  hz: number;
  words: string;
}

export function NoteButton({ pitch, hz, words }: Props) {
  return (
    <Button
      size="sm"
      variant="outline-secondary"
      className="note-button"
      onClick={() => sound(hz)}
      aria-label={t("Sound {{pitch}}{{more}}", {
        pitch: pitchName(pitch),
        more: words && `, ${words}`,
      })}
    >
      <span aria-hidden>♪</span> <strong>{pitchName(pitch)}</strong>{" "}
      {words && <span className="faint">{words}</span>}
    </Button>
  );
}
