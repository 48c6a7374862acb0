/** The marks over the picture: taken in hand, dragged, placed by click or by stroke. */
import { useRef, useState, type PointerEvent } from "react";
import type { BenchPage, Landmark } from "../api/client";
import { contourOn, type Point } from "./points";
import type { Stroke } from "./strokes";
import type { View } from "./view";
import { t } from "../shared/words";

export type Place = readonly [number, number];

/** What pointing at the picture means now. */
export interface Marking {
  selected: string | null;
  select: (landmark: string | null) => void;
  /** While a mark is dragged or nudged, before it is sent. */
  move: (landmark: string, x: number, y: number) => void;
  /** The mark stays here. */
  drop: (landmark: string, x: number, y: number) => void;
  /** A mark is asked for: a click on the bare picture places it. */
  asked: ((x: number, y: number) => void) | null;
  /** The marks that one stroke would place. */
  stroke: Stroke | null;
  onStroke: (path: readonly Place[]) => void;
}

interface Props {
  page: BenchPage;
  frame: number;
  points: Point[];
  landmarks: Landmark[];
  marking: Marking;
  playing: boolean;
  view: View;
  hover: (place: Place | null) => void;
  pan: (dx: number, dy: number) => void;
  pinch: (factor: number, at: Place) => void;
}

/** A pointer that moves less than this has clicked, px. */
const STILL = 5;
/** A mark that is taken in hand sticks this long, px. */
const GRIP = 2;

interface Held {
  landmark: string;
  /** Where the pointer took it, and whether it has moved since. */
  from: Place;
  moved: boolean;
  dx: number;
  dy: number;
  at: [number, number];
}

export function MarksLayer(props: Props) {
  const { page, frame, points, marking, playing, view } = props;
  const { selected, asked, stroke } = marking;
  const svg = useRef<SVGSVGElement>(null);
  const drag = useRef<Held | null>(null);
  /** Pointers on the bare picture, where they began and where they are, px of the page. */
  const pointers = useRef(new Map<number, { from: Place; at: Place; moved: boolean }>());
  const [line, setLine] = useState<readonly Place[] | null>(null);
  const words = new Map(props.landmarks.map((l) => [l.id, l.label]));
  const { seen, scale } = view;

  function where(event: { clientX: number; clientY: number }): [number, number] {
    const area = (svg.current as SVGSVGElement).getBoundingClientRect();
    return [
      seen.x + (event.clientX - area.left) / scale,
      seen.y + (event.clientY - area.top) / scale,
    ];
  }

  function grab(event: PointerEvent, point: Point) {
    if (event.button !== 0 || playing) return;
    event.stopPropagation();
    const [x, y] = where(event);
    drag.current = {
      landmark: point.landmark,
      from: [event.clientX, event.clientY],
      moved: false,
      dx: point.x - x,
      dy: point.y - y,
      at: [point.x, point.y],
    };
    svg.current?.setPointerCapture(event.pointerId);
    if (!asked) marking.select(point.landmark);
  }

  function onMove(event: PointerEvent) {
    const held = drag.current;
    if (held) {
      const way = Math.hypot(event.clientX - held.from[0], event.clientY - held.from[1]);
      held.moved ||= way > GRIP;
      if (!held.moved) return;
      const [x, y] = where(event);
      held.at = [x + held.dx, y + held.dy];
      marking.move(held.landmark, ...held.at);
      return;
    }
    const mine = pointers.current.get(event.pointerId);
    const here: Place = [event.clientX, event.clientY];
    if (!mine) {
      if (asked) props.hover(where(event));
      return;
    }
    const before = mine.at;
    mine.moved ||= Math.hypot(here[0] - mine.from[0], here[1] - mine.from[1]) > STILL;
    mine.at = here;
    if (pointers.current.size === 2) return pinched(event.pointerId, before, here);
    if (!mine.moved) return;
    if (stroke) setLine([...(line ?? [where(atPlace(mine.from))]), where(event)]);
    else props.pan(here[0] - before[0], here[1] - before[1]);
  }

  function pinched(id: number, before: Place, here: Place) {
    const other = [...pointers.current].find(([n]) => n !== id)?.[1];
    if (!other) return;
    other.moved = true;
    const apart = (p: Place) => Math.hypot(p[0] - other.at[0], p[1] - other.at[1]);
    if (apart(before) > 0) props.pinch(apart(here) / apart(before), where(atPlace(other.at)));
  }

  function onUp(event: PointerEvent) {
    const mine = pointers.current.get(event.pointerId);
    pointers.current.delete(event.pointerId);
    setLine(null);
    if (!mine || event.type === "pointercancel") return;
    if (mine.moved) {
      if (stroke && pointers.current.size === 0)
        marking.onStroke([...(line ?? [where(atPlace(mine.from))]), where(event)]);
    } else if (asked) asked(...where(event));
    else marking.select(null);
  }

  return (
    <svg
      ref={svg}
      viewBox={`${seen.x} ${seen.y} ${seen.width || 1} ${seen.height || 1}`}
      role="group"
      aria-label={t("Marks")}
      className={asked ? "asking" : undefined}
      onPointerDown={(event) => {
        if (event.button !== 0) return;
        const at: Place = [event.clientX, event.clientY];
        pointers.current.set(event.pointerId, { from: at, at, moved: false });
        svg.current?.setPointerCapture(event.pointerId);
      }}
      onPointerMove={onMove}
      onPointerUp={onUp}
      onPointerCancel={onUp}
      onPointerLeave={() => props.hover(null)}
      onLostPointerCapture={() => {
        const held = drag.current;
        drag.current = null;
        if (held?.moved) marking.drop(held.landmark, ...held.at);
        // A click beside a mark that is there means the one that is asked for.
        else if (held && asked) asked(...where(atPlace(held.from)));
      }}
    >
      <polyline
        points={contourOn(page, frame)}
        fill="none"
        stroke="#fff"
        strokeWidth={2.5}
        vectorEffect="non-scaling-stroke"
        paintOrder="stroke"
        pointerEvents="none"
        data-contour
      />
      {points.map((point) => (
        <MarkPoint
          key={point.landmark}
          point={point}
          words={words.get(point.landmark) ?? point.landmark}
          held={selected === point.landmark}
          scale={scale}
          // Outward, so that the words do not lie over the mouth.
          toLeft={point.x < seen.x + seen.width / 2}
          // While a point is asked for, marks that nobody placed let the click through; a
          // stroke may begin anywhere.
          through={stroke !== null || (asked !== null && point.source !== "placed")}
          grab={grab}
          select={marking.select}
        />
      ))}
      {line && stroke && <StrokeLine path={line} form={stroke.form} />}
    </svg>
  );
}

function atPlace([clientX, clientY]: Place) {
  return { clientX, clientY };
}

function StrokeLine({ path, form }: { path: readonly Place[]; form: Stroke["form"] }) {
  const [from, to] = [path[0], path[path.length - 1]];
  if (!from || !to) return null;
  const drawn = form === "free" ? path : [from, to];
  return (
    <g fill="none" stroke="var(--in-hand)" strokeWidth={2} pointerEvents="none">
      <path
        d={`M${drawn.map(([x, y]) => `${x} ${y}`).join("L")}`}
        strokeDasharray={form === "free" ? undefined : "6 4"}
        vectorEffect="non-scaling-stroke"
      />
      {form === "round" && (
        <circle
          cx={(from[0] + to[0]) / 2}
          cy={(from[1] + to[1]) / 2}
          r={Math.hypot(to[0] - from[0], to[1] - from[1]) / 2}
          vectorEffect="non-scaling-stroke"
        />
      )}
    </g>
  );
}

interface MarkProps {
  point: Point;
  words: string;
  held: boolean;
  scale: number;
  toLeft: boolean;
  through: boolean;
  grab: (event: PointerEvent, point: Point) => void;
  select: (landmark: string) => void;
}

function MarkPoint({ point, words, held, scale, toLeft, through, grab, select }: MarkProps) {
  return (
    <g
      className="point"
      pointerEvents={through ? "none" : undefined}
      transform={`translate(${point.x} ${point.y}) scale(${1 / scale})`}
      role="button"
      tabIndex={0}
      aria-pressed={held}
      aria-label={`${words}, ${point.hidden ? "covered" : point.source}`}
      data-landmark={point.landmark}
      data-x={point.x.toFixed(2)}
      data-y={point.y.toFixed(2)}
      onPointerDown={(event) => grab(event, point)}
      onFocus={() => select(point.landmark)}
    >
      <title>{words}</title>
      <circle r={14} fill="transparent" className="halo" />
      <circle
        r={Math.max(2 * point.sigma * scale, 3)}
        fill="none"
        stroke="#fff"
        strokeOpacity={0.35}
      />
      <MarkShape source={point.hidden ? "hidden" : point.source} held={held} />
      {held && (
        <text
          x={toLeft ? -14 : 14}
          textAnchor={toLeft ? "end" : "start"}
          y={-12}
          fill="#fff"
          stroke="var(--ground)"
          strokeWidth={4}
          paintOrder="stroke"
          fontSize={17}
          fontWeight={600}
          pointerEvents="none"
        >
          {words}
        </text>
      )}
    </g>
  );
}

/** A mark's source by shape: found a ring, followed a dot, placed a lozenge, covered a dashed ring. */
export function MarkShape({ source, held }: { source: string; held: boolean }) {
  const line = {
    stroke: held ? "var(--in-hand)" : "var(--mark)",
    strokeWidth: held ? 2.6 : 1.8,
  };
  const under = {
    stroke: "var(--ground)",
    strokeWidth: line.strokeWidth + 2.4,
    strokeOpacity: 0.75,
  };
  if (source === "placed")
    return (
      <>
        <path d="M0-7 7 0 0 7-7 0z" fill="none" {...under} />
        <path d="M0-7 7 0 0 7-7 0z" fill="none" {...line} />
      </>
    );
  if (source === "followed")
    return (
      <>
        <circle r={4.6} fill="var(--ground)" fillOpacity={0.75} />
        <circle r={3.2} fill={line.stroke} />
      </>
    );
  const dash = source === "hidden" ? "3 3" : undefined;
  return (
    <>
      {source !== "hidden" && <circle r={5.5} fill="none" {...under} />}
      <circle r={5.5} fill="none" strokeDasharray={dash} {...line} />
    </>
  );
}
