import { cleanup, fireEvent, render, screen } from "@testing-library/react";
import { afterEach, describe, expect, it, vi } from "vitest";
import type { BenchPage, Series } from "../api/client";
import { Score } from "./Score";

afterEach(cleanup);

const times = [0, 0.5, 1, 1.5, 2];

function series(measure: string, value: (number | null)[]): Series {
  return {
    measure,
    name: measure,
    stave: measure,
    explains: "",
    decimals: 1,
    unit: "deg",
    value,
    spread: value.map((v) => (v === null ? null : 0.5)),
    low: -6,
    high: 3,
    note: "",
  };
}

function show(part: Partial<BenchPage>) {
  const page = {
    times,
    phases: [],
    readings: [],
    findings: [],
    series: [series("corner_rise", [0, 1, null, 3, 4])],
    ...part,
  } as unknown as BenchPage;
  const setPhases = vi.fn();
  const { container } = render(
    <Score page={page} frame={2} seek={vi.fn()} setPhases={setPhases} />,
  );
  return { container, setPhases };
}

describe("Score", () => {
  it("breaks the ink where there is no value, and says so at the playhead", () => {
    const { container } = show({});
    const ink = container.querySelector('[data-stave="corner_rise"] path[fill="none"]');
    expect(ink?.getAttribute("d")?.match(/M/g)).toHaveLength(2);
    expect(container.textContent).toContain("no value here");
  });

  it("draws a guess as a guess, and a short phase by its first letter", () => {
    const { container } = show({
      phases: [
        { name: "form", start: 0, end: 0.02, by_teacher: false, confidence: 0.4 },
        { name: "hold", start: 1, end: 2, by_teacher: true, confidence: 1 },
      ],
    });
    const form = container.querySelector('[data-phase="form"]');
    expect(form?.querySelector("text")?.firstChild?.textContent).toBe("f");
    expect(form?.querySelector("rect")?.getAttribute("stroke-dasharray")).toBe("3 2");
    const hold = container.querySelector('[data-phase="hold"]');
    expect(hold?.querySelector("text")?.textContent).toBe("hold");
    expect(hold?.querySelector("rect")?.getAttribute("stroke-dasharray")).toBeNull();
  });

  it("offers the letters that are missing and sets them at the playhead", () => {
    const { setPhases } = show({
      phases: [{ name: "rest", start: 0, end: 0.5, by_teacher: false, confidence: 0.9 }],
    });
    expect(screen.queryByRole("button", { name: "set rest here" })).toBeNull();
    fireEvent.click(screen.getByRole("button", { name: "set hold here" }));
    expect(setPhases).toHaveBeenCalledWith([
      { name: "rest", start: 0, end: 0.5 },
      { name: "hold", start: 1, end: 2 },
    ]);
  });

  it("leaves out staves of measures it does not draw", () => {
    const { container } = show({ series: [series("corner_asymmetry", [0, 0, 0, 0, 0])] });
    expect(container.querySelectorAll("[data-stave]")).toHaveLength(0);
  });

  it("writes can't tell instead of a number", () => {
    const { container } = show({
      readings: [
        {
          measure: "corner_rise",
          name: "",
          decimals: 1,
          phase: "hold",
          value: null,
          uncertainty: null,
          unit: "deg",
          verdict: "can't tell",
          reason: "no rest",
        },
      ],
    });
    expect(container.textContent).toContain("can't tell");
  });
});
