/** What a frame measures while its marks are dragged: one question at a time, the newest last. */
import { useEffect, useRef, useState } from "react";
import { api, data, type Schemas } from "../api/client";
import type { MarkPlace } from "../api/edits";

export type Preview = Schemas["Preview"];

interface Asked {
  frame: number;
  marks: MarkPlace[];
}

export function usePreview(take: number, asked: Asked | null): Preview | null {
  const [told, setTold] = useState<{ frame: number; preview: Preview } | null>(null);
  const next = useRef<Asked | null>(null);
  const running = useRef(false);
  const key = asked && JSON.stringify(asked);

  useEffect(() => {
    next.current = asked;
    if (!asked || running.current) return;
    running.current = true;
    void (async () => {
      try {
        // The newest question there is when the last one is answered.
        for (let now = next.current; now;) {
          const { frame, marks } = now;
          const params = { path: { take_id: take } };
          const preview = await data(
            api.POST("/api/takes/{take_id}/preview/", { params, body: { frame, marks } }),
          );
          setTold({ frame, preview });
          now = next.current === now ? null : next.current;
        }
      } catch {
        // The values stay as they were; the edit itself says what is wrong.
      } finally {
        running.current = false;
      }
    })();
    // eslint-disable-next-line react-hooks/exhaustive-deps -- `key` stands for `asked`
  }, [take, key]);

  return asked && told?.frame === asked.frame ? told.preview : null;
}
