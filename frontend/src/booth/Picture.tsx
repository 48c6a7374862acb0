/** The one before the screen, as a mirror shows it; what is filmed is not mirrored. */
import { useEffect, useRef } from "react";
import type { Source } from "./camera";

export function Picture({ source }: { source: Source | null }) {
  const video = useRef<HTMLVideoElement>(null);
  useEffect(() => {
    if (video.current) video.current.srcObject = source?.stream ?? null;
  }, [source]);
  return (
    <div className="picture">
      <video ref={video} autoPlay muted playsInline aria-label="You, as in a mirror" />
    </div>
  );
}
