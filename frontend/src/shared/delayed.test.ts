import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { Delayed } from "./delayed";

beforeEach(() => void vi.useFakeTimers());
afterEach(() => void vi.useRealTimers());

describe("Delayed", () => {
  it("does only the last of a run, once", () => {
    const done: number[] = [];
    const delayed = new Delayed();
    for (const n of [1, 2, 3]) {
      delayed.wait(300, () => done.push(n));
      vi.advanceTimersByTime(200);
    }
    expect(done).toEqual([]);
    vi.advanceTimersByTime(500);
    expect(done).toEqual([3]);
  });

  it("flushes what waits, and nothing when nothing does", () => {
    const action = vi.fn();
    const delayed = new Delayed();
    delayed.flush();
    delayed.wait(300, action);
    delayed.flush();
    delayed.flush();
    vi.advanceTimersByTime(500);
    expect(action).toHaveBeenCalledTimes(1);
  });
});
