/** The takes that wait, one after the other. */
import { useMemo } from "react";
import { useNavigate } from "react-router";
import { useBand } from "../api/queries";

const RUN = "sulvet-run";

/** The takes the teacher goes through, in the order they waited in when the run began. */
export function queueOf(take: number, waiting: number[]): number[] {
  let queue: number[] = [];
  try {
    queue = (JSON.parse(sessionStorage.getItem(RUN) ?? "[]") as number[] | null) ?? [];
  } catch {
    // begun anew
  }
  const added = waiting.filter((id) => !queue.includes(id));
  queue = queue.includes(take)
    ? [...queue, ...added]
    : [take, ...waiting.filter((id) => id !== take)];
  sessionStorage.setItem(RUN, JSON.stringify(queue));
  return queue;
}

/** The takes that wait, in the order the teacher goes through them. */
export function useTakeQueue(take: number) {
  const navigate = useNavigate();
  const band = useBand();
  const lines = band.data?.next;
  const waiting = useMemo(
    () => (lines ?? []).filter((line) => line.opens && line.take !== null),
    [lines],
  );
  const ids = useMemo(() => waiting.map((line) => line.take as number), [waiting]);
  const queue = useMemo(() => queueOf(take, ids), [take, ids]);
  const at = queue.indexOf(take);
  const next = [...queue.slice(at + 1), ...queue.slice(0, at)].find((id) => ids.includes(id));
  const before = at > 0 ? queue[at - 1] : undefined;
  return {
    left: ids.filter((id) => id !== take).length,
    nextName: waiting.find((line) => line.take === next)?.name ?? null,
    hasBefore: before !== undefined,
    on: () => void navigate(next === undefined ? "/" : `/takes/${next}`),
    back: () => {
      if (before !== undefined) void navigate(`/takes/${before}`);
    },
  };
}

export type TakeQueue = ReturnType<typeof useTakeQueue>;
