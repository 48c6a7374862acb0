/** The one before the screen, as a mirror shows it; what is filmed is not mirrored. */
import { useEffect, useRef, useState, type CSSProperties, type ReactNode } from "react";
import type { Source } from "./camera";
import type { Near } from "./near";
import { t } from "../shared/words";

interface Props {
  source: Source | null;
  /** What of it is shown; all of it without. */
  near?: Near | null;
  /** What lies over the picture, mirrored with it. */
  children?: ReactNode;
}

export function Picture({ source, near = null, children }: Props) {
  const video = useRef<HTMLVideoElement>(null);
  const [ratio, setRatio] = useState(16 / 9);
  useEffect(() => {
    if (video.current) video.current.srcObject = source?.stream ?? null;
  }, [source]);
  return (
    <div className="picture">
      <div className="lens" style={lensOf(ratio, near)}>
        <video
          ref={video}
          autoPlay
          muted
          playsInline
          aria-label={t("You, as in a mirror")}
          onResize={({ currentTarget: { videoWidth, videoHeight } }) => {
            if (videoHeight > 0) setRatio(videoWidth / videoHeight);
          }}
        />
        {children}
      </div>
    </div>
  );
}

/** Mirrored, and brought near: the middle of what is shown comes to the middle of the frame. */
function lensOf(ratio: number, near: Near | null): CSSProperties & { "--times": number } {
  const { x, y, times } = near ?? { x: 0.5, y: 0.5, times: 1 };
  return {
    aspectRatio: ratio,
    "--times": times,
    transform: `scale(${-times}, ${times}) translate(${(0.5 - x) * 100}%, ${(0.5 - y) * 100}%)`,
  };
}
