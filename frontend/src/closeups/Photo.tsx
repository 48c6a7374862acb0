/** The photo with its marks: placed by a click, dragged, and seen near in a loupe. */
import { useRef, useState, type PointerEvent } from "react";
import type { CloseUp } from "../api/closeups";
import { MarkShape } from "../bench/MarksLayer";
import { useBox } from "../shared/useBox";
import type { Draft, Spot } from "./marks";
import { t } from "../shared/words";

/** How much nearer the loupe is than the photo, and its side, px of the page. */
const ZOOM = 4;
const LOUPE = 190;
/** A mark is taken in hand within so many px of the page. */
const NEAR = 12;

interface Props {
  page: CloseUp;
  draft: Draft;
  /** The mark that is asked for or in hand. */
  held: string | null;
  asking: boolean;
  place: (at: Spot) => void;
  select: (id: string | null) => void;
  move: (id: string, at: Spot) => void;
  drop: () => void;
}

export function Photo({ page, draft, held, asking, place, select, move, drop }: Props) {
  const svg = useRef<SVGSVGElement>(null);
  const drag = useRef<string | null>(null);
  const [hover, setHover] = useState<Spot | null>(null);
  const [frame, box] = useBox<HTMLDivElement>();
  const scale = Math.min(box.width / page.width, box.height / page.height) || 1;
  const [width, height] = [page.width * scale, page.height * scale];
  const names = new Map(page.asked.map((mark) => [mark.id, mark.name]));
  const inHand = held !== null ? draft.marks[held] : undefined;
  const near = hover ?? inHand ?? null;

  function where(event: PointerEvent): Spot {
    const area = (svg.current as SVGSVGElement).getBoundingClientRect();
    return {
      x: (event.clientX - area.left) / scale - 0.5,
      y: (event.clientY - area.top) / scale - 0.5,
    };
  }

  function at(spot: Spot): string | null {
    const [first] = Object.entries(draft.marks)
      .map(([id, m]) => ({ id, far: Math.hypot(m.x - spot.x, m.y - spot.y) * scale }))
      .filter(({ far }) => far < NEAR)
      .sort((a, b) => a.far - b.far);
    return first?.id ?? null;
  }

  return (
    <div ref={frame} className="photo">
      <div style={{ width, height, position: "relative" }}>
        <svg
          ref={svg}
          width={width}
          height={height}
          viewBox={`-0.5 -0.5 ${page.width} ${page.height}`}
          role="group"
          aria-label={t("Photo with its marks")}
          className={asking ? "asking" : undefined}
          onPointerDown={(event) => {
            if (event.button !== 0) return;
            const spot = where(event);
            const id = asking ? null : at(spot);
            if (id) {
              drag.current = id;
              select(id);
              svg.current?.setPointerCapture(event.pointerId);
            } else if (asking) place(spot);
            else select(null);
          }}
          onPointerMove={(event) => {
            const spot = where(event);
            setHover(spot);
            if (drag.current) move(drag.current, spot);
          }}
          onPointerLeave={() => setHover(null)}
          onLostPointerCapture={() => {
            if (drag.current) drop();
            drag.current = null;
          }}
        >
          <Picture page={page} />
          <Lines page={page} scale={scale} />
          {Object.entries(draft.marks).map(([id, spot]) => (
            <Mark
              key={id}
              id={id}
              name={names.get(id) ?? id}
              spot={spot}
              scale={scale}
              held={held === id}
              select={select}
            />
          ))}
        </svg>
        {near && (asking || inHand) && (
          <svg
            className="loupe"
            width={LOUPE}
            height={LOUPE}
            style={{ top: 10, ...(near.x * scale < width / 2 ? { right: 10 } : { left: 10 }) }}
            viewBox={[
              near.x - LOUPE / scale / ZOOM / 2,
              near.y - LOUPE / scale / ZOOM / 2,
              LOUPE / scale / ZOOM,
              LOUPE / scale / ZOOM,
            ].join(" ")}
            aria-hidden
          >
            <Picture page={page} />
            <Cross spot={near} scale={scale * ZOOM} />
          </svg>
        )}
      </div>
    </div>
  );
}

function Picture({ page }: { page: CloseUp }) {
  return (
    <image
      href={`/private/close-ups/${page.id}.jpg`}
      x={-0.5}
      y={-0.5}
      width={page.width}
      height={page.height}
    />
  );
}

function Lines({ page, scale }: { page: CloseUp; scale: number }) {
  return (
    <g pointerEvents="none" fill="none" strokeLinecap="round" data-found>
      {page.lines.map(({ name, points }) => {
        const path = `M${points.map(({ x, y }) => `${x} ${y}`).join("L")}`;
        return (
          <g key={name}>
            <path
              d={path}
              stroke="var(--ground)"
              strokeOpacity={0.6}
              strokeWidth={3.6 / scale}
            />
            <path d={path} stroke="var(--in-hand)" strokeWidth={1.5 / scale} />
          </g>
        );
      })}
    </g>
  );
}

function Cross({ spot, scale }: { spot: Spot; scale: number }) {
  const arms = [
    [1, 0],
    [-1, 0],
    [0, 1],
    [0, -1],
  ] as const;
  return (
    <path
      d={arms
        .map(
          ([x, y]) =>
            `M${spot.x + (x * 6) / scale} ${spot.y + (y * 6) / scale}l${(x * 24) / scale} ${(y * 24) / scale}`,
        )
        .join("")}
      stroke="var(--in-hand)"
      strokeWidth={1.2 / scale}
    />
  );
}

interface MarkProps {
  id: string;
  name: string;
  spot: Spot;
  scale: number;
  held: boolean;
  select: (id: string) => void;
}

function Mark({ id, name, spot, scale, held, select }: MarkProps) {
  return (
    <g
      transform={`translate(${spot.x} ${spot.y}) scale(${1 / scale})`}
      role="button"
      tabIndex={0}
      aria-pressed={held}
      aria-label={name}
      className="point"
      data-mark={id}
      data-x={spot.x.toFixed(1)}
      data-y={spot.y.toFixed(1)}
      onFocus={() => select(id)}
    >
      <title>{name}</title>
      <circle r={NEAR} fill="transparent" />
      <MarkShape source="placed" held={held} />
    </g>
  );
}
