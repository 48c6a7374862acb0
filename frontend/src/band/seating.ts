/** Where chairs stand: arcs round the teacher, sections side by side on each arc. */
import type { BandPage, Chair } from "../api/client";

export interface Seat {
  chair: Chair;
  section: string;
  /** Share of the stage's width and height. */
  x: number;
  y: number;
}

export interface Arc {
  radius: number;
  label: { text: string; x: number; y: number; angle: number }[];
}

export interface Plan {
  seats: Seat[];
  arcs: Arc[];
}

/** Stage in units of its own: the teacher stands at the bottom, in the middle. */
export const STAGE = { width: 1000, height: 590 };
const CENTRE = { x: 500, y: 700 };
const FIRST = 250;
const LAST = 590;
/** No chair stands farther to the side than this, degrees from straight ahead. */
const WIDEST = 47;
/** Arcs are flattened so that three fit above one another. */
const FLAT = 0.94;

function place(radius: number, degrees: number) {
  const angle = (degrees * Math.PI) / 180;
  return {
    x: CENTRE.x + radius * 1.22 * Math.sin(angle),
    y: CENTRE.y - radius * FLAT * Math.cos(angle),
  };
}

export function seatingPlan(sections: BandPage["sections"]): Plan {
  const numbers = [...new Set(sections.map((s) => s.arc))].sort((a, b) => a - b);
  const plan: Plan = { seats: [], arcs: [] };
  numbers.forEach((number, index) => {
    const on = sections.filter((s) => s.arc === number);
    const radius =
      numbers.length === 1
        ? (FIRST + LAST) / 2
        : FIRST + ((LAST - FIRST) * index) / (numbers.length - 1);
    // One empty place between sections.
    const places = on.reduce((sum, s) => sum + s.chairs.length, 0) + (on.length - 1) * 0.4;
    const reach = Math.min(WIDEST, (places - 1) * (5200 / radius));
    const step = places > 1 ? (2 * reach) / (places - 1) : 0;
    let at = -reach;
    const arc: Arc = { radius, label: [] };
    for (const section of on) {
      const from = at;
      for (const chair of section.chairs) {
        const { x, y } = place(radius, at);
        plan.seats.push({
          chair,
          section: section.name,
          x: x / STAGE.width,
          y: y / STAGE.height,
        });
        at += step;
      }
      const middle = (from + at - step) / 2;
      arc.label.push({
        text: section.name,
        ...place(radius + 68, middle),
        angle: middle * 0.8,
      });
      at += step * 0.4;
    }
    plan.arcs.push(arc);
  });
  return plan;
}

export function arcPath(radius: number): string {
  const from = place(radius, -58);
  const to = place(radius, 58);
  return `M${from.x} ${from.y} A${radius * 1.22} ${radius * FLAT} 0 0 1 ${to.x} ${to.y}`;
}
