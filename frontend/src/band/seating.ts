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
  centre: { x: number; y: number };
  /** Of the stage, in its units: a large band has more rows. */
  height: number;
}

/** Of the stage in units of its own: the teacher stands at the bottom, in the middle. */
export const WIDTH = 1000;
const FIRST = 250;
/** Of a large band, whose rows are all full. */
const FIRST_OF_MANY = 430;
/** From the first row to the last, for as many rows as fit with room between them. */
const DEPTH = 450;
const LEAST_BETWEEN = 84;
/** More chairs than this in one row, and no name can be read: they sit in two. */
const MOST_IN_ROW = 10;
/** Over the last row, and under the teacher. */
const ABOVE = 77;
const BELOW = 55;
/** Arcs are wider than high: a stage is. */
const ACROSS = 1.22;
const DEEP = 0.94;
/** Middle of a chair to the next, where there is room. */
const APART = 178;
const CHAIR = 156;
const HIGH = 58;
/** Middle of a row to the names of its sections, where there is room and where not. */
const LABEL = 56;
const LABEL_OF_MANY = 46;
/** Middle of the outermost chair from the stage's middle at most. */
const SIDE = 418;
/** Empty places between two sections of one arc. */
const BETWEEN = 0.35;

function place(centre: Plan["centre"], radius: number, angle: number) {
  return {
    x: centre.x + radius * ACROSS * Math.sin(angle),
    y: centre.y - radius * DEEP * Math.cos(angle),
  };
}

type Section = BandPage["sections"][number];

/** The sections row by row from the front; a row that is too full is split evenly. */
function rowsOf(sections: Section[]): Section[][] {
  const numbers = [...new Set(sections.map((s) => s.arc))].sort((a, b) => a - b);
  return numbers.flatMap((number) => {
    const on = sections.filter((s) => s.arc === number);
    const seats = on.flatMap((section) => section.chairs.map((chair) => ({ section, chair })));
    const rows = Math.ceil(seats.length / MOST_IN_ROW);
    return Array.from({ length: rows }, (_, n) => {
      const here = seats.slice(
        Math.floor((n * seats.length) / rows),
        Math.floor(((n + 1) * seats.length) / rows),
      );
      return on
        .map((section) => ({
          ...section,
          chairs: here.filter((seat) => seat.section === section).map((seat) => seat.chair),
        }))
        .filter((section) => section.chairs.length > 0);
    });
  });
}

/** A section's name stays on the stage; at its side it moves up, clear of the chair. */
function within({ x, y }: { x: number; y: number }) {
  const inside = Math.min(Math.max(x, 46), WIDTH - 46);
  return { x: inside, y: inside === x ? y : y - 30 };
}

export function seatingPlan(sections: BandPage["sections"]): Plan {
  const rows = rowsOf(sections);
  const between = Math.max(DEPTH / Math.max(rows.length - 1, 1), LEAST_BETWEEN);
  const narrow = rows.length > 4 ? FIRST_OF_MANY : FIRST;
  const first = rows.length === 1 ? FIRST + DEPTH / 2 : narrow;
  const last = Math.max(first + between * (rows.length - 1), FIRST + DEPTH);
  const centre = { x: WIDTH / 2, y: last * DEEP + ABOVE };
  const height = centre.y - BELOW;
  const plan: Plan = { seats: [], arcs: [], chairWidth: CHAIR / WIDTH, centre, height };
  rows.forEach((on, index) => {
    const radius = first + between * index;
    const label = rows.length > 4 ? LABEL_OF_MANY : LABEL;
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
        const { x, y } = place(centre, radius, at);
        plan.seats.push({
          chair,
          section: section.name,
          x: x / WIDTH,
          y: y / height,
        });
        at += step;
      }
      const middle = (from + at - step) / 2;
      arc.label.push({
        text: section.name,
        ...within(place(centre, radius + label, middle)),
        angle: (middle * 180) / Math.PI,
      });
      at += step * BETWEEN;
    }
    plan.arcs.push(arc);
  });
  plan.chairWidth = widthThatFits(plan.seats, height);
  return plan;
}

/** As wide as chairs can be without touching a neighbour at the same height. */
function widthThatFits(seats: Seat[], height: number): number {
  let width = CHAIR / WIDTH;
  seats.forEach((seat, n) => {
    for (const other of seats.slice(n + 1)) {
      if (Math.abs(seat.y - other.y) * height < HIGH)
        width = Math.min(width, Math.abs(seat.x - other.x) * 0.96);
    }
  });
  return width;
}

export function arcPath({ centre }: Plan, radius: number): string {
  const end = Math.min(Math.asin(Math.min(490 / (radius * ACROSS), 1)), 1.25);
  const from = place(centre, radius, -end);
  const to = place(centre, radius, end);
  return `M${from.x} ${from.y} A${radius * ACROSS} ${radius * DEEP} 0 0 1 ${to.x} ${to.y}`;
}
