/** Exact frames as bitmaps: a window round the one shown is fetched ahead. */
import { useEffect, useMemo, useSyncExternalStore } from "react";
import { t } from "../shared/words";

const AHEAD = 18;
/** Where the browser is asked to save data. */
const AHEAD_SAVING = 1;
const KEPT = 48;
const AT_ONCE = 4;

/** Whether the browser is asked to save data; not every browser tells. */
function savesData(): boolean {
  return (
    "connection" in navigator &&
    (navigator.connection as { saveData?: boolean }).saveData === true
  );
}

export class FrameStore {
  private readonly ready = new Map<number, ImageBitmap>();
  private readonly wanted = new Set<number>();
  private readonly running = new Map<number, AbortController>();
  private readonly listeners = new Set<() => void>();
  private closed = false;
  private centre = 0;
  /** Why the frame looked at can't be shown, if it can't. */
  trouble: Error | null = null;

  constructor(
    private readonly address: (frame: number) => string,
    private readonly count: number,
  ) {}

  readonly subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  get(frame: number): ImageBitmap | undefined {
    return this.ready.get(frame);
  }

  /** Show round this frame: what is near is fetched first, what is far let go. */
  lookAt(frame: number): void {
    this.closed = false;
    this.centre = frame;
    this.wanted.clear();
    const ahead = savesData() ? AHEAD_SAVING : AHEAD;
    for (let away = 0; away <= ahead; away++) {
      for (const n of new Set([frame + away, frame - away])) {
        if (n >= 0 && n < this.count && !this.ready.has(n)) this.wanted.add(n);
      }
    }
    for (const [n, control] of this.running) {
      if (Math.abs(n - frame) > KEPT) control.abort();
    }
    for (const [n, bitmap] of this.ready) {
      if (Math.abs(n - frame) > KEPT) {
        bitmap.close();
        this.ready.delete(n);
      }
    }
    this.pump();
  }

  close(): void {
    this.closed = true;
    this.wanted.clear();
    for (const control of this.running.values()) control.abort();
    for (const bitmap of this.ready.values()) bitmap.close();
    this.ready.clear();
  }

  private tell(trouble: Error | null): void {
    this.trouble = trouble;
    for (const listener of this.listeners) listener();
  }

  private pump(): void {
    for (const n of this.wanted) {
      if (this.running.size >= AT_ONCE) return;
      if (!this.running.has(n)) void this.fetch(n);
    }
  }

  private async fetch(n: number): Promise<void> {
    const control = new AbortController();
    this.running.set(n, control);
    try {
      const answer = await fetch(this.address(n), { signal: control.signal });
      if (!answer.ok)
        throw new Error(
          t("Frame {{n}} could not be read ({{status}}).", { n, status: answer.status }),
        );
      const bitmap = await createImageBitmap(await answer.blob());
      if (this.closed) bitmap.close();
      else {
        this.ready.set(n, bitmap);
        if (n === this.centre) this.tell(null);
      }
    } catch (error) {
      if (!control.signal.aborted && n === this.centre) this.tell(error as Error);
    } finally {
      this.running.delete(n);
      this.wanted.delete(n);
      if (!this.closed) this.pump();
    }
  }
}

/** The bitmap of one frame, or undefined while it is on its way. */
export function useFrame(take: number, count: number, frame: number) {
  const store = useMemo(
    () => new FrameStore((n) => `/private/takes/${take}/frames/${n}.jpg`, count),
    [take, count],
  );
  useEffect(() => () => store.close(), [store]);
  useEffect(() => store.lookAt(frame), [store, frame]);
  return {
    bitmap: useSyncExternalStore(store.subscribe, () => store.get(frame)),
    trouble: useSyncExternalStore(store.subscribe, () => store.trouble),
  };
}
