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
  /** Share of the stage's width. */
  chairWidth: number;
}

/** Stage in units of its own: the teacher stands at the bottom, in the middle. */
export const STAGE = { width: 1000, height: 680 };
const CENTRE = { x: 500, y: 735 };
const FIRST = 250;
const LAST = 700;
/** Arcs are wider than high: a stage is. */
const ACROSS = 1.22;
const DEEP = 0.94;
/** Middle of a chair to the next, where there is room. */
const APART = 178;
const CHAIR = 156;
const HIGH = 58;
/** Middle of the outermost chair from the stage's middle at most. */
const SIDE = 418;
/** Empty places between two sections of one arc. */
const BETWEEN = 0.35;

function place(radius: number, angle: number) {
  return {
    x: CENTRE.x + radius * ACROSS * Math.sin(angle),
    y: CENTRE.y - radius * DEEP * Math.cos(angle),
  };
}

/** A section's name stays on the stage; at its side it moves up, clear of the chair. */
function within({ x, y }: { x: number; y: number }) {
  const inside = Math.min(Math.max(x, 46), STAGE.width - 46);
  return { x: inside, y: inside === x ? y : y - 30 };
}

export function seatingPlan(sections: BandPage["sections"]): Plan {
  const numbers = [...new Set(sections.map((s) => s.arc))].sort((a, b) => a - b);
  const plan: Plan = { seats: [], arcs: [], chairWidth: CHAIR / STAGE.width };
  numbers.forEach((number, index) => {
    const on = sections.filter((s) => s.arc === number);
    const radius =
      numbers.length === 1
        ? (FIRST + LAST) / 2
        : FIRST + ((LAST - FIRST) * index) / (numbers.length - 1);
    const gaps =
      on.reduce((sum, s) => sum + s.chairs.length, 0) - 1 + (on.length - 1) * BETWEEN;
    const widest = Math.min(Math.asin(Math.min(SIDE / (radius * ACROSS), 1)), 1.05);
    const reach = Math.min(widest, (gaps * APART) / (radius * ACROSS) / 2);
    const step = gaps > 0 ? (2 * reach) / gaps : 0;
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
        ...within(place(radius + 56, middle)),
        angle: (middle * 180) / Math.PI,
      });
      at += step * BETWEEN;
    }
    plan.arcs.push(arc);
  });
  plan.chairWidth = widthThatFits(plan.seats);
  return plan;
}

/** As wide as chairs can be without touching a neighbour at the same height. */
function widthThatFits(seats: Seat[]): number {
  let width = CHAIR / STAGE.width;
  seats.forEach((seat, n) => {
    for (const other of seats.slice(n + 1)) {
      if (Math.abs(seat.y - other.y) * STAGE.height < HIGH)
        width = Math.min(width, Math.abs(seat.x - other.x) * 0.96);
    }
  });
  return width;
}

export function arcPath(radius: number): string {
  const end = Math.min(Math.asin(Math.min(490 / (radius * ACROSS), 1)), 1.25);
  const from = place(radius, -end);
  const to = place(radius, end);
  return `M${from.x} ${from.y} A${radius * ACROSS} ${radius * DEEP} 0 0 1 ${to.x} ${to.y}`;
}
