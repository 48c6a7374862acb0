/** One piece of the take to listen to alone: a tone, or a phase. */
import { useRef, useState } from "react";
import { Button, Form } from "react-bootstrap";
import type { Sound } from "../api/sound";
import { fixed } from "../shared/format";
import { LONG, sound as sounded } from "../shared/tone";
import { toneAt } from "../shared/toneAt";
import { t } from "../shared/words";
import { titleOf, type Span } from "./phases";

interface PieceOf {
  words: string;
  start: number;
  end: number;
  /** Whether it is one tone, and no stretch of the clip. */
  tone: boolean;
}

/** What can be listened to alone: the tone that counts first, then other tones and the letters. */
export function piecesOf(sound: Sound, phases: Span[]): PieceOf[] {
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
export function TonePiece({
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
