import { cleanup, fireEvent, render, screen } from "@testing-library/react";
import { useState } from "react";
import { afterEach, describe, expect, it, vi } from "vitest";
import type { BenchPage, Series } from "../api/client";
import { Score } from "./Score";
import type { Span } from "./phases";
import { unvoiced, voiced, xOf } from "./staves";

afterEach(cleanup);

const times = [0, 0.5, 1, 1.5, 2];

function series(measure: string, value: (number | null)[]): Series {
  return {
    measure,
    name: measure,
    stave: measure,
    decimals: 1,
    unit: "deg",
    value,
    half_width: value.map((v) => (v === null ? null : 0.5)),
    low: -6,
    high: 3,
    note: "",
    least: 14,
    from_zero: false,
    shown: true,
    sounding: null,
  };
}

function show(part: Partial<BenchPage>) {
  const page = {
    times,
    phases: [],
    readings: [],
    findings: [],
    tones: [],
    series: [series("corner_rise", [0, 1, null, 3, 4])],
    ...part,
  } as unknown as BenchPage;
  const [setPhases, setFrame] = [vi.fn(), vi.fn()];
  function Shown() {
    const [all, setAll] = useState(false);
    return (
      <Score
        page={page}
        frame={2}
        setFrame={setFrame}
        setPhases={setPhases}
        all={all}
        setAll={setAll}
      />
    );
  }
  const { container } = render(<Shown />);
  return { container, setPhases, setFrame };
}

describe("a stave of the sound", () => {
  it("draws ink where a tone sounds and dots up to it where none does", () => {
    const loud = { ...series("level", [0, 1, 30, 31, 2]) };
    loud.sounding = [false, false, true, true, false];
    expect(voiced(loud).value).toEqual([null, null, 30, 31, null]);
    expect(unvoiced(loud).value).toEqual([0, 1, 30, 31, 2]);
    const face = series("corner_rise", [0, 1, null, 3, 4]);
    expect(voiced(face).value).toEqual(face.value);
    expect(unvoiced(face).value.every((v) => v === null)).toBe(true);
  });

  it("leaves out what lies within a tone", () => {
    const long = { ...series("level", [30, 31, 32, 31, 0]) };
    long.sounding = [true, true, true, true, false];
    expect(unvoiced(long).value).toEqual([null, null, null, 31, 0]);
  });
});

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
        { name: "form", start: 0, end: 0.02, by_teacher: false, guessed: true },
        { name: "hold", start: 1, end: 2, by_teacher: true, guessed: false },
      ],
    });
    const form = container.querySelector('[data-phase="form"]');
    expect(form?.querySelector("text")?.firstChild?.textContent).toBe("f");
    expect(form?.querySelector("rect")?.getAttribute("stroke-dasharray")).toBe("3 2");
    const hold = container.querySelector('[data-phase="hold"]');
    expect(hold?.querySelector("text")?.textContent).toBe("hold");
    expect(hold?.querySelector("rect")?.getAttribute("stroke-dasharray")).toBeNull();
  });

  it("draws every letter of a phase that comes again and again", () => {
    const place = (start: number) => ({
      name: "place" as const,
      start,
      end: start + 0.3,
      by_teacher: false,
      guessed: false,
    });
    const { container } = show({ phases: [place(0), place(0.7), place(1.4)] });
    const letters = [...container.querySelectorAll('[data-phase="place"] rect[height="21"]')];
    const at = letters.map((r) => Number(r.getAttribute("x")));
    expect(at).toHaveLength(3);
    expect(new Set(at).size).toBe(3);
  });

  it("numbers the holds of several tones, brackets each tone, and moves the one dragged", () => {
    const hold = (start: number) => ({
      name: "hold" as const,
      start,
      end: start + 0.6,
      by_teacher: false,
      guessed: false,
    });
    const tones = [0, 1].map((start) => ({ start, end: start + 0.8, note: "F4" }));
    const phases = [hold(0.1), hold(1.1)];
    const { container, setPhases } = show({ phases, tones });
    const letters = [...container.querySelectorAll('[data-phase="hold"] text')];
    expect(letters.map((one) => one.textContent)).toEqual(["h1", "h2"]);
    expect(container.querySelectorAll('[data-tones="2"] path')).toHaveLength(2);
    const svg = container.querySelector(".staves svg") as SVGSVGElement;
    svg.getBoundingClientRect = () => ({ left: 0, width: 420 }) as DOMRect;
    svg.setPointerCapture = vi.fn();
    const ends = container.querySelectorAll('[data-edge="end"]');
    fireEvent.pointerDown(ends[1] as Element);
    fireEvent.pointerMove(svg, { clientX: xOf({ width: 420, stave: 46, last: 2 }, 1.9) });
    fireEvent(svg, new Event("lostpointercapture", { bubbles: true }));
    const [[moved]] = setPhases.mock.calls as [[Span[]]];
    expect(moved.map((p) => p.end.toFixed(1))).toEqual(["0.7", "1.9"]);
  });

  it("offers the letters that are missing and sets them at the playhead", () => {
    const { setPhases } = show({
      phases: [{ name: "rest", start: 0, end: 0.5, by_teacher: false, guessed: false }],
    });
    expect(screen.queryByRole("button", { name: "set rest here" })).toBeNull();
    fireEvent.click(screen.getByRole("button", { name: "Set hold here" }));
    expect(setPhases).toHaveBeenCalledWith([
      { name: "rest", start: 0, end: 0.5 },
      { name: "hold", start: 1, end: 2 },
    ]);
  });

  it("leaves further staves out until they are asked for", () => {
    const more = { ...series("corner_asymmetry", [0, 0, 0, 0, 0]), shown: false };
    const { container } = show({ series: [series("corner_rise", [0, 1, 2, 3, 4]), more] });
    expect(container.querySelectorAll("[data-stave]")).toHaveLength(1);
    fireEvent.click(screen.getByRole("button", { name: "1 more measurements" }));
    expect(container.querySelectorAll("[data-stave]")).toHaveLength(2);
  });

  it("is read and moved by keyboard, stave by stave", () => {
    const width = series("mouth_width", [1, 1, 1.11, 1, 1]);
    const { setFrame } = show({
      series: [series("corner_rise", [0, 1, 8.6, 3, 4]), width],
      phases: [{ name: "hold", start: 0.9, end: 2, by_teacher: true, guessed: false }],
    });
    const head = screen.getByRole("slider");
    expect(head.getAttribute("aria-valuetext")).toBe("1.00 seconds, hold: 8.6°");
    fireEvent.keyDown(head, { key: "ArrowRight" });
    expect(setFrame).toHaveBeenLastCalledWith(3);
    fireEvent.keyDown(head, { key: "End" });
    expect(setFrame).toHaveBeenLastCalledWith(4);
    fireEvent.keyDown(head, { key: "ArrowDown" });
    expect(head.getAttribute("aria-valuetext")).toBe("1.00 seconds, hold: 1.1°");
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
          worst: null,
        },
      ],
    });
    expect(container.textContent).toContain("can't tell");
  });
});
