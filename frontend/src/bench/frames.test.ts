import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { FrameStore } from "./frames";

/** A server whose answers come when the test says so. */
const asked: string[] = [];
let answer: Map<string, (ok: boolean) => void>;
const closed: number[] = [];

beforeEach(() => {
  asked.length = 0;
  closed.length = 0;
  answer = new Map();
  vi.stubGlobal("fetch", (address: string, { signal }: { signal: AbortSignal }) => {
    asked.push(address);
    return new Promise((resolve, reject) => {
      signal.addEventListener("abort", () => reject(new Error("aborted")));
      answer.set(address, (ok) =>
        resolve({ ok, status: ok ? 200 : 500, blob: () => Promise.resolve(address) }),
      );
    });
  });
  vi.stubGlobal("createImageBitmap", (address: string) =>
    Promise.resolve({ address, close: () => closed.push(Number(address)) }),
  );
});
afterEach(() => void vi.unstubAllGlobals());

const settle = () => new Promise((done) => setTimeout(done, 0));

async function answerAll(ok = true) {
  for (let round = 0; round < 60; round++) {
    for (const give of answer.values()) give(ok);
    await settle();
  }
}

describe("FrameStore", () => {
  it("asks for the frame looked at first, then its neighbours, a few at once", async () => {
    const store = new FrameStore(String, 100);
    store.lookAt(50);
    expect(asked).toEqual(["50", "51", "49", "52"]);
    answer.get("50")?.(true);
    await settle();
    expect(asked).toHaveLength(5);
    expect(store.get(50)).toBeDefined();
    expect(store.get(51)).toBeUndefined();
    store.close();
  });

  it("never asks outside the take, and has the neighbours ready", async () => {
    const store = new FrameStore(String, 10);
    store.lookAt(8);
    await answerAll();
    expect(asked.map(Number).sort((a, b) => a - b)).toEqual([0, 1, 2, 3, 4, 5, 6, 7, 8, 9]);
    store.lookAt(9);
    expect(store.get(9)).toBeDefined();
    expect(asked).toHaveLength(10);
    store.close();
  });

  it("lets go of what is far, and closes every picture at the end", async () => {
    const store = new FrameStore(String, 400);
    store.lookAt(10);
    await answerAll();
    store.lookAt(200);
    await answerAll();
    expect(store.get(10)).toBeUndefined();
    expect(closed).toContain(10);
    expect(closed).not.toContain(200);
    store.close();
    expect(new Set(closed).size).toBe(new Set(asked).size);
  });

  it("tells of a frame that can't be read only while it is looked at", async () => {
    const told = vi.fn();
    const store = new FrameStore(String, 100);
    store.subscribe(told);
    store.lookAt(50);
    answer.get("51")?.(false);
    await settle();
    expect(store.trouble).toBeNull();
    answer.get("50")?.(false);
    await settle();
    expect(store.trouble?.message).toContain("Frame 50 could not be read (500)");
    expect(told).toHaveBeenCalled();
    store.close();
  });

  it("can be looked at again after it was closed", async () => {
    const store = new FrameStore(String, 100);
    store.lookAt(5);
    store.close();
    await settle();
    store.lookAt(5);
    await answerAll();
    expect(store.get(5)).toBeDefined();
    store.close();
  });
});
