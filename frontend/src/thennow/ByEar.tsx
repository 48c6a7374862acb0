/** The same tone then and now, one after the other by ear; both equally loud. */
import { useState } from "react";
import { Button } from "react-bootstrap";
import type { Pair } from "../api/records";
import { bound } from "../shared/shortcuts";
import { toneAt } from "../shared/toneAt";
import { useKeys } from "../shared/useKeys";
import { t } from "../shared/words";

type Which = "then" | "now";
const ORDER: Which[] = ["then", "now", "then"];

export function ByEar({ pair }: { pair: Pair }) {
  const { heard } = pair;
  /** What is still to be played, the first of it now. */
  const [row, setRow] = useState<Which[]>([]);
  const [failed, setFailed] = useState(false);
  const playing = row[0];
  const play = (next: Which[]) => {
    setFailed(false);
    setRow(next);
  };
  useKeys(bound("thenNow", { ear: () => play(playing ? [] : ORDER) }));
  if (!heard) return null;
  return (
    <section aria-labelledby="by-ear" className="mt-3">
      <h2 id="by-ear" className="h5 mb-1">
        {t("By ear: {{note}}", { note: heard.now.note })}
      </h2>
      {playing && (
        <audio
          // The same tone again is played from its beginning.
          key={row.length}
          autoPlay
          src={toneAt(heard[playing].take, heard[playing].start)}
          onEnded={() => setRow((now) => now.slice(1))}
          onError={() => {
            setFailed(true);
            setRow([]);
          }}
        />
      )}
      <div className="d-flex gap-2 flex-wrap mb-1">
        <Button size="sm" onClick={() => play(playing ? [] : ORDER)}>
          {playing ? t("Stop") : t("Then, now, then")}
        </Button>
        {(["then", "now"] as const).map((which) => (
          <Button
            key={which}
            size="sm"
            variant={playing === which ? "secondary" : "outline-secondary"}
            aria-pressed={playing === which}
            onClick={() => play([which])}
          >
            {which === "then" ? t("Then") : t("Now")}
          </Button>
        ))}
      </div>
      {heard.sentences.map((words) => (
        <p key={words} className="mb-1">
          {words}
        </p>
      ))}
      <p className="kicker mb-0">{t("Both are played equally loud.")}</p>
      {failed && <p role="alert">{t("The tone can't be played. Is the clip still there?")}</p>}
    </section>
  );
}
