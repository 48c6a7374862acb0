import { cleanup, render, screen } from "@testing-library/react";
import { afterEach, describe, expect, it } from "vitest";
import type { Value } from "./Dimensions";
import { MeasuredDrawing, SmallDrawing } from "./MeasuredDrawing";
import { Layout, holdOf, smooth, type Drawing } from "./layout";
import { svgText } from "./save";

afterEach(cleanup);

const FACE = {
  ch_r: [-0.5, 0.05],
  ch_l: [0.5, 0.05],
  cph_r: [-0.1, 0.2],
  cph_l: [0.1, 0.2],
  ls: [0, 0.17],
  li: [0, -0.17],
  sto_s: [0, 0],
};

function front(covered: string[] = [], part: Partial<Drawing> = {}): Drawing {
  return {
    view: "front",
    lines: [
      {
        part: "lips",
        points: ["ch_r", "ls", "ch_l"],
        optional: ["cph_r", "cph_l"],
        form: "smooth",
      },
      { part: "lips", points: ["ch_r", "li", "ch_l"], optional: [], form: "smooth" },
    ],
    dimensions: [
      {
        measure: "corner_rise_l",
        kind: "rise",
        ends: ["ch_l"],
        side: 1,
        always: true,
        band: "",
      },
      {
        measure: "mouth_width",
        kind: "across",
        ends: ["ch_r", "ch_l"],
        side: -1,
        always: true,
        band: "",
      },
      {
        measure: "lower_red",
        kind: "upright",
        ends: ["ch_l", "li"],
        side: 1,
        always: false,
        band: "",
      },
      { measure: "rim_upper_share", kind: "share", ends: [], side: 1, always: true, band: "" },
    ],
    rest: { points: FACE, covered: [] },
    hold: { points: FACE, covered },
    box: [-0.7, -0.6, 0.7, 0.5],
    zones: {
      ch_r: [
        [-0.4, 0],
        [-0.6, 0],
        [-0.6, 0.1],
        [-0.4, 0.1],
      ],
    },
    rim: null,
    lip_line: 0,
    facing: 1,
    mm: null,
    ...part,
  };
}

function told(values: Record<string, [number, boolean]>) {
  return (measure: string): Value | null => {
    const found = values[measure];
    return found ? { value: found[0], decimals: 2, unit: "ratio", out: found[1] } : null;
  };
}

function show(drawing: Drawing, values: Record<string, [number, boolean]> = {}) {
  const { container } = render(
    <MeasuredDrawing
      drawing={drawing}
      mouth={holdOf(drawing)}
      value={told(values)}
      width={400}
      height={380}
      label="corners 8.4 degrees above rest"
    />,
  );
  const dimension = (name: string) => container.querySelector(`[data-dimension="${name}"]`);
  return { container, dimension };
}

describe("MeasuredDrawing", () => {
  it("writes the dimensions that always stand, and others only when they are out", () => {
    const { dimension } = show(front(), { mouth_width: [1.12, true], lower_red: [0.5, false] });
    expect(screen.getByRole("img").getAttribute("aria-label")).toContain("8.4 degrees");
    expect(dimension("mouth_width")?.textContent).toBe("1.12");
    expect(dimension("mouth_width")?.querySelector("text")?.getAttribute("font-weight")).toBe(
      "720",
    );
    expect(dimension("lower_red")).toBeNull();
    cleanup();
    expect(show(front(), { lower_red: [0.05, true] }).dimension("lower_red")).not.toBeNull();
  });

  it("draws to scale: a mouth width is as long as the dimension line says", () => {
    const drawing = front();
    const layout = new Layout(drawing, 400, 380, { left: 34, right: 34, top: 10, bottom: 44 });
    const { dimension } = show(drawing, { mouth_width: [1, false] });
    const line = [...(dimension("mouth_width")?.querySelectorAll("path") ?? [])]
      .map((p) => /^M([\d.]+) [\d.]+H([\d.]+)$/.exec(p.getAttribute("d") ?? ""))
      .find((m) => m !== null);
    expect(Number(line?.[2]) - Number(line?.[1])).toBeCloseTo(layout.scale, 1);
  });

  it("draws no lip it has not seen, and no dimension that hangs on it", () => {
    const lips = (box: Element) => box.querySelectorAll('[data-part="lips"]').length;
    expect(lips(show(front()).container)).toBe(2);
    cleanup();
    const hidden = show(front(["li"]), { lower_red: [0.05, true], mouth_width: [1, false] });
    expect(lips(hidden.container)).toBe(1);
    expect(hidden.dimension("lower_red")).toBeNull();
    expect(hidden.dimension("mouth_width")).not.toBeNull();
  });

  it("draws the rim with its share of the upper lip", () => {
    const rimmed = front(["ls"], { rim: [0, -0.05, 0.27, 0.26], lip_line: 0.02 });
    const { container, dimension } = show(rimmed, { rim_upper_share: [0.44, true] });
    expect(container.querySelector("[data-rim] ellipse")).toBeTruthy();
    expect(dimension("rim_upper_share")?.textContent).toBe("0.44");
  });

  it("is mirrored where the student looks to the left, its figures are not", () => {
    const ends = { li: [0, 0], pg: [0, -1], cc_1: [-0.2, -0.5], cc_2: [-0.1, -0.7] };
    const side = (facing: 1 | -1) =>
      front([], {
        view: "side",
        facing,
        lines: [],
        dimensions: [
          {
            measure: "chin_hollow",
            kind: "behind",
            ends: ["li", "pg", "cc_1", "cc_2"],
            side: -1,
            always: true,
            band: "",
          },
        ],
        rest: { points: ends, covered: [] },
        hold: { points: ends, covered: [] },
        box: [-0.6, -1.2, 0.6, 0.2],
      });
    const place = (facing: 1 | -1) => {
      const text = show(side(facing), { chin_hollow: [20, false] }).dimension("chin_hollow");
      const x = Number(text?.querySelector("text")?.getAttribute("x"));
      cleanup();
      return x;
    };
    // A hollow is told behind the line: left of it, or right where the face looks left.
    expect(place(1)).toBeLessThan(200);
    expect(place(-1)).toBeGreaterThan(200);
  });

  it("becomes a file with colours of its own", () => {
    document.documentElement.style.setProperty("--ink", "#123456");
    const { container } = show(front(), { mouth_width: [1.12, true] });
    const text = svgText(container.querySelector("svg") as SVGSVGElement);
    const read = new DOMParser().parseFromString(text, "image/svg+xml").documentElement;
    expect(read.getAttribute("width")).toBe("400");
    expect(read.querySelector("title")?.textContent).toContain("8.4 degrees");
    expect(text).toContain("#123456");
    expect(text).not.toContain("var(");
  });

  it("is small without figures", () => {
    const { container } = render(
      <SmallDrawing drawing={front()} mouth={holdOf(front())} width={60} height={40} />,
    );
    expect(container.querySelectorAll("text")).toHaveLength(0);
    expect(container.querySelectorAll('[data-part="lips"]')).toHaveLength(2);
  });

  it("goes smoothly through all of its points", () => {
    const path = smooth([
      [0, 0],
      [10, 5],
      [20, 0],
    ]);
    expect(path).toMatch(/^M0\.0 0\.0C.*10\.0 5\.0C.*20\.0 0\.0$/);
  });
});
