import { cleanup, render, screen } from "@testing-library/react";
import { afterEach, describe, expect, it } from "vitest";
import type { Value } from "./Ink";
import { PageLines } from "./lines";
import { MeasuredDrawing, SmallDrawing } from "./MeasuredDrawing";
import { Layout, holdOf, smooth, type Drawing, type Pen, type Stroke } from "./figure";
import { svgText } from "./save";

afterEach(cleanup);

const FACE = {
  ch_r: [-0.5, 0.05],
  ch_l: [0.5, 0.05],
  ls: [0, 0.17],
  li: [0, -0.17],
};

const place = (x: string, y = x, dx = 0, dy = 0) => ({ x, y, dx, dy, optional: false });
function stroke(pen: Pen, ...places: Stroke["places"]): Stroke {
  return { pen, places, form: places.length > 2 ? "smooth" : "straight", closed: false };
}

function front(covered: string[] = [], part: Partial<Drawing> = {}): Drawing {
  return {
    view: "front",
    strokes: [
      stroke("rest", place("rest:ch_r"), place("rest:ls"), place("rest:ch_l")),
      stroke("lips", place("ch_r"), place("ls"), place("ch_l")),
      stroke("lips", place("ch_r"), place("li"), place("ch_l")),
    ],
    dimensions: [
      {
        measure: "mouth_width",
        strokes: [
          stroke(
            "dimension",
            place("ch_r", "box:low", 0, -0.1),
            place("ch_l", "box:low", 0, -0.1),
          ),
        ],
        label: { place: place("ch_l", "box:low", 0.02, -0.1), align: "start" },
        always: true,
        band: "",
      },
      {
        measure: "lower_red",
        strokes: [stroke("dimension", place("box:right", "ls"), place("box:right", "li"))],
        label: { place: place("box:right", "li"), align: "end" },
        always: false,
        band: "",
      },
    ],
    rest: { points: FACE, covered: [] },
    hold: { points: FACE, covered },
    box: [-0.7, -0.6, 0.7, 0.5],
    room: [0.1, 0.2, 0.1, 0],
    zones: {},
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
  const pens = (pen: Pen) => container.querySelectorAll(`[data-pen="${pen}"]`);
  return { container, dimension, pens };
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
    const margin = { left: 8, right: 8, top: 10, bottom: 8 };
    const layout = new Layout(drawing, 400, 380, margin, drawing.room);
    const line = show(drawing, { mouth_width: [1, false] })
      .dimension("mouth_width")
      ?.querySelector('[data-pen="dimension"]')
      ?.getAttribute("d");
    const [from = 0, , to = 0] = (line ?? "").match(/-?[\d.]+/g)?.map(Number) ?? [];
    expect(to - from).toBeCloseTo(layout.scale, 0);
  });

  it("draws no lip it has not seen, and no dimension that hangs on it", () => {
    expect(show(front()).pens("lips")).toHaveLength(2);
    cleanup();
    const hidden = show(front(["li"]), { lower_red: [0.05, true], mouth_width: [1, false] });
    expect(hidden.pens("lips")).toHaveLength(1);
    expect(hidden.pens("rest")).toHaveLength(1);
    expect(hidden.dimension("lower_red")).toBeNull();
    expect(hidden.dimension("mouth_width")).not.toBeNull();
  });

  it("is mirrored where the student looks to the left, its figures are not", () => {
    const at = (facing: 1 | -1) => {
      const drawing = front([], { facing });
      const text = show(drawing, { lower_red: [0.5, true] }).dimension("lower_red");
      const label = text?.querySelector("text");
      const found = [Number(label?.getAttribute("x")), label?.getAttribute("text-anchor")];
      cleanup();
      return found;
    };
    const [x, anchor] = at(1);
    const [mirrored, other] = at(-1);
    expect(Number(x) + Number(mirrored)).toBeCloseTo(400, 0);
    expect([anchor, other]).toEqual(["end", "start"]);
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
      <PageLines.Provider value={{ front: front().strokes, side: [] }}>
        <SmallDrawing drawing={front()} mouth={holdOf(front())} width={60} height={40} />
      </PageLines.Provider>,
    );
    expect(container.querySelectorAll("text")).toHaveLength(0);
    expect(container.querySelectorAll('[data-pen="lips"]')).toHaveLength(2);
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
