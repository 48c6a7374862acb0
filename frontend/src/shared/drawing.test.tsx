import { cleanup, render, screen } from "@testing-library/react";
import { afterEach, describe, expect, it } from "vitest";
import type { Reading, Schemas } from "../api/client";
import { MeasuredDrawing, smooth } from "./MeasuredDrawing";

afterEach(cleanup);

const points = {
  ch_r: [-0.5, 0.05],
  ch_l: [0.5, 0.05],
  cph_r: [-0.1, 0.2],
  cph_l: [0.1, 0.2],
  ls: [0, 0.17],
  li: [0, -0.17],
  sto_s: [0, 0],
};
const reading = (measure: string, value: number, verdict: Reading["verdict"]): Reading => ({
  measure,
  name: measure,
  decimals: measure === "mouth_width" ? 2 : 1,
  phase: "hold",
  value,
  uncertainty: 0.1,
  unit: measure === "mouth_width" ? "ratio" : "deg",
  verdict,
  reason: "",
});
const readings = [
  reading("corner_rise", 8.4, "fault"),
  reading("corner_rise_r", 8.2, "no band"),
  reading("corner_rise_l", 8.6, "no band"),
  reading("mouth_width", 1.12, "in band"),
];

function drawing(covered: string[]): Schemas["FrontDrawing"] {
  return {
    rest: { points, covered: [] },
    now: { points, covered },
    middle: [0, 0],
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
  };
}

describe("MeasuredDrawing", () => {
  it("says in words what it shows, and writes every dimension", () => {
    render(<MeasuredDrawing drawing={drawing([])} readings={readings} phase="hold" />);
    const picture = screen.getByRole("img");
    expect(picture.getAttribute("aria-label")).toContain("corners 8.4 degrees above rest");
    for (const text of ["8.2°", "8.6°", "1.12 of rest"])
      expect(picture.textContent).toContain(text);
  });
  it("draws the rim with the line of the lips across it", () => {
    const rimmed = { ...drawing(["ls"]), rim: [0, -0.05, 0.27, 0.26], lip_line: 0.02 };
    const share = { ...reading("rim_upper_share", 0.44, "fault"), unit: "share", decimals: 2 };
    const { container } = render(
      <MeasuredDrawing drawing={rimmed} readings={[...readings, share]} phase="hold" />,
    );
    expect(container.querySelector("ellipse")).toBeTruthy();
    expect(container.textContent).toContain("0.44");
    expect(container.textContent).not.toContain("covered");
    expect(screen.getByRole("img").getAttribute("aria-label")).toContain(
      "0.44 of the rim on the upper lip",
    );
  });
  it("draws no lip it has not seen", () => {
    const { container: seen } = render(
      <MeasuredDrawing drawing={drawing([])} readings={readings} phase="hold" />,
    );
    const { container: hidden } = render(
      <MeasuredDrawing
        drawing={drawing(["ls", "li", "sto_s"])}
        readings={readings}
        phase="hold"
      />,
    );
    const curves = (box: HTMLElement) =>
      [...box.querySelectorAll("path")].filter((p) => p.getAttribute("d")?.includes("C"))
        .length;
    expect(curves(seen) - curves(hidden)).toBe(3);
    expect(hidden.textContent).toContain("covered");
  });
  it("makes dimensions that are out of band heavy, and no others", () => {
    const { container } = render(
      <MeasuredDrawing drawing={drawing([])} readings={readings} phase="hold" />,
    );
    const weight = (text: string) =>
      [...container.querySelectorAll("text")]
        .find((t) => t.textContent === text)
        ?.getAttribute("font-weight");
    expect([weight("8.2°"), weight("1.12 of rest")]).toEqual(["700", "500"]);
  });
  it("goes smoothly through all of its points", () => {
    expect(
      smooth([
        [0, 0],
        [10, 5],
        [20, 0],
      ]),
    ).toMatch(/^M0\.0 0\.0C.*10\.0 5\.0C.*20\.0 0\.0$/);
  });
});
