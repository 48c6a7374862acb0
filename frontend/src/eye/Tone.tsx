/** A made-up tone: the target that was asked for, then the student. */
import { useEffect, useRef, useState } from "react";
import { Button } from "react-bootstrap";
import { t } from "../shared/words";

interface Props {
  src: string;
  label: string;
  /** Played as soon as it is there. */
  atOnce?: boolean;
}

export function Tone({ src, label, atOnce = false }: Props) {
  const audio = useRef<HTMLAudioElement>(null);
  const [share, setShare] = useState(0);
  const play = () => {
    const heard = audio.current;
    if (!heard) return;
    heard.currentTime = 0;
    // A browser may want a click first: the button is there.
    void heard.play().catch(() => undefined);
  };
  useEffect(() => {
    if (atOnce) play();
  }, [atOnce, src]);
  return (
    <div className="tone">
      <Button
        variant="outline-primary"
        size="lg"
        aria-label={t("Listen: {{label}}", { label })}
        onClick={play}
      >
        {t("Listen")}
      </Button>
      <progress value={share} max={1} aria-hidden />
      <audio
        ref={audio}
        src={src}
        preload={atOnce ? "auto" : "none"}
        onTimeUpdate={({ currentTarget }) =>
          setShare(currentTarget.currentTime / (currentTarget.duration || 1))
        }
      />
    </div>
  );
}
