import { beforeEach, describe, expect, it } from "vitest";
import { wait } from "./edits";
import { Outbox } from "./outbox";

beforeEach(() => localStorage.clear());

describe("Outbox", () => {
  it("keeps what is not sent for a page that comes after", () => {
    const box = new Outbox<string>("unsent");
    const first = box.put("one", 4);
    box.put("two", 4);
    box.done(first);
    const later = new Outbox<string>("unsent");
    expect(later.all().map(({ what, revision }) => [what, revision])).toEqual([["two", 4]]);
    later.clear();
    expect(localStorage.length).toBe(0);
  });
  it("begins empty when what is kept can not be read", () => {
    localStorage.setItem("unsent", "{");
    const box = new Outbox<string>("unsent");
    expect(box.all()).toEqual([]);
    box.put("one", 1);
    expect(box.all()).toHaveLength(1);
  });
});

describe("wait", () => {
  it("grows, but never beyond some seconds", () => {
    const waits = [0, 1, 2, 3, 4, 20].map(wait);
    expect(waits).toEqual([...waits].sort((a, b) => a - b));
    expect(waits[0]).toBeLessThan(1000);
    expect(Math.max(...waits)).toBe(5000);
  });
});
