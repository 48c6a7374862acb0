import { describe, expect, it } from "vitest";
import { Refusal } from "./client";
import { isLost } from "./links";

describe("what could not be sent", () => {
  it("is kept while it may still arrive, and let go once it is refused for good", () => {
    const kept = [new TypeError("no network"), ...[0, 429, 500, 503, 507].map(refused)];
    expect(kept.map(isLost)).toEqual(kept.map(() => true));
    const gone = [...[400, 403, 404, 409].map(refused), new Error("anything else")];
    expect(gone.map(isLost)).toEqual(gone.map(() => false));
  });
});

function refused(status: number): Refusal {
  return new Refusal("", status);
}
