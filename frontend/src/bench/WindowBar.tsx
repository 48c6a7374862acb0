/** Under the picture: time, speed, nearness. */
import { fixed } from "../shared/format";
import { MarkShape } from "./MarksLayer";
import { speedWord, type Playback } from "./playback";
import type { WindowView } from "./view";
import { setVeil, useVeil } from "../shared/veil";
import { t } from "../shared/words";

interface Props {
  seconds: number;
  frame: number;
  last: number;
  setFrame: (frame: number) => void;
  playback: Playback;
  windowView: WindowView;
  setWindowView: (windowView: WindowView) => void;
  zoom: (factor: number) => void;
  hasMouth: boolean;
}

const SHORT: Record<string, string> = { 1: "1×", 0.5: "½×", 0.25: "¼×" };

export function WindowBar(props: Props) {
  const { frame, setFrame, playback, windowView, setWindowView } = props;
  const { playing, speed } = playback;
  const veiled = useVeil();
  return (
    <div className="bar figures">
      <button type="button" onClick={() => setFrame(frame - 1)} aria-label={t("−1 frame")}>
        −1
      </button>
      <button
        type="button"
        onClick={() => playback.setPlaying(!playing)}
        style={{ minWidth: "4.2rem" }}
      >
        {playing ? t("Stop") : t("Play")}
      </button>
      <button type="button" onClick={() => setFrame(frame + 1)} aria-label={t("+1 frame")}>
        +1
      </button>
      <span className="text-nowrap mx-1">
        {t("{{seconds}} s, frame {{frame}} of {{last}}", {
          seconds: fixed(props.seconds, 2),
          frame,
          last: Math.max(props.last, 0),
        })}
      </span>
      <span className="flex-fill" />
      <button
        type="button"
        onClick={playback.slower}
        aria-label={t("{{short}}, plays at {{speed}}", {
          short: SHORT[String(speed)] ?? "",
          speed: speedWord(speed),
        })}
      >
        {SHORT[String(speed)]}
      </button>
      <button
        type="button"
        aria-pressed={playback.heard}
        onClick={() => playback.setHeard(!playback.heard)}
      >
        {playback.heard ? t("Sound") : t("Silent")}
      </button>
      <button type="button" onClick={() => props.zoom(1 / 1.35)} aria-label={t("Zoom out")}>
        −
      </button>
      <button type="button" onClick={() => props.zoom(1.35)} aria-label={t("Zoom in")}>
        +
      </button>
      {props.hasMouth && (
        <button
          type="button"
          onClick={() => setWindowView({ ...windowView, close: !windowView.close, look: null })}
        >
          {windowView.close ? t("Whole") : t("Mouth")}
        </button>
      )}
      <button type="button" aria-pressed={veiled} onClick={() => setVeil(!veiled)}>
        {veiled ? t("Show face") : t("Hide face")}
      </button>
    </div>
  );
}

const SOURCES = ["found", "followed", "placed", "covered"];

/** What the shapes of marks say. */
export function MarkLegend() {
  return (
    <span className="d-inline-flex flex-wrap gap-3 align-items-center">
      {SOURCES.map((name) => (
        <span key={name} className="d-inline-flex align-items-center gap-1">
          <svg width="18" height="18" viewBox="-9 -9 18 18" aria-hidden className="bg-dark">
            <MarkShape source={name === "covered" ? "hidden" : name} held={false} />
          </svg>
          {t(name)}
        </span>
      ))}
    </span>
  );
}
