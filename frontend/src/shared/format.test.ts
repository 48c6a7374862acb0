import { afterEach, describe, expect, it } from "vitest";
import { figure, inside, measured, quoted } from "./format";
import { speak } from "./words";

describe("figures", () => {
  it("uses a real minus sign and no negative zero", () => {
    expect(figure(-1.25, 1)).toBe("−1.3");
    expect(figure(-0.04, 1)).toBe("0.0");
  });
  it("writes a reading with its uncertainty and unit", () => {
    expect(measured(8.31, 0.97, 1, "deg")).toBe("8.3 ± 1.0°");
    expect(measured(1.1208, 0.0155, 2, "ratio")).toBe("1.12 ± 0.02");
    expect(measured(4.68, 2.1, 1, "% MW")).toBe("4.7 ± 2.1 %");
  });
});

describe("in German", () => {
  afterEach(() => speak("en"));
  it("has a decimal comma, its own quotation marks, and nouns with a capital", async () => {
    await speak("de");
    expect(measured(8.31, -0.97, 1, "deg")).toBe("8,3 ± −1,0°");
    expect([quoted("m"), inside("Hohle Wange")]).toEqual(["„m“", "Hohle Wange"]);
  });
});
