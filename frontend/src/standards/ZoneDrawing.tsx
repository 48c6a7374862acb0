/** A plain face with the zones of the standard; their edges can be dragged. */
import { useRef, useState, type PointerEvent } from "react";
import { zones, type Changes } from "../api/standards";
import type { Schemas } from "../api/client";
import { Layout, holdOf, type Drawing } from "../shared/drawing/figure";
import { Face } from "../shared/drawing/MeasuredDrawing";
import { t } from "../shared/words";

interface Props {
  instrument: string;
  body: { bands: Changes; school: string; view: "front" | "side" };
  drawing: Drawing;
  /** The figures as they then are, and the band that was meant. */
  onDragged: (bands: Changes, key: string) => void;
}

const WIDTH = 460;
const HEIGHT = 420;
const MARGIN = { left: 24, right: 24, top: 16, bottom: 16 };

export function ZoneDrawing({ instrument, body, drawing, onDragged }: Props) {
  const svg = useRef<SVGSVGElement>(null);
  const held = useRef<Schemas["ZoneEnum"] | null>(null);
  const asking = useRef(false);
  const next = useRef<readonly [number, number] | null>(null);
  const [live, setLive] = useState<Drawing | null>(null);
  const shown = live ?? drawing;
  const layout = new Layout(shown, WIDTH, HEIGHT, MARGIN);
  // A drag is measured on the sheet it began on.
  const base = new Layout(drawing, WIDTH, HEIGHT, MARGIN);

  function where(event: PointerEvent): readonly [number, number] {
    const area = (svg.current as SVGSVGElement).getBoundingClientRect();
    const scale = WIDTH / area.width;
    return base.back([(event.clientX - area.left) * scale, (event.clientY - area.top) * scale]);
  }

  /** Ask what the drag means, one question at a time; the last answer counts. */
  async function ask(zone: Schemas["ZoneEnum"]): Promise<void> {
    if (asking.current) return;
    asking.current = true;
    let last: Schemas["Zones"] | null = null;
    try {
      while (next.current) {
        const [x, y] = next.current;
        next.current = null;
        last = await zones(instrument, { ...body, drag: { zone, x, y } });
        setLive(last.drawing);
      }
    } catch {
      // Figures that can't be: the zone stays as it was.
      last = null;
    } finally {
      asking.current = false;
    }
    if (held.current !== null) return;
    setLive(null);
    if (last) onDragged(last.bands, last.told);
  }

  return (
    <svg
      ref={svg}
      className="drawing figures zones"
      viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
      role="img"
      aria-label={t(
        "Zones of the standard on a plain face. The same numbers can be typed beside it.",
      )}
      onPointerMove={(event) => {
        if (!held.current) return;
        next.current = where(event);
        void ask(held.current);
      }}
      onPointerUp={(event) => {
        if (held.current) next.current = where(event);
      }}
      onLostPointerCapture={() => {
        const zone = held.current;
        held.current = null;
        if (zone) void ask(zone);
      }}
    >
      <Face layout={layout} mouth={holdOf(shown)} />
      {Object.entries(shown.zones).map(([name, corners]) => (
        <polygon
          key={name}
          className="grip"
          data-grip={name}
          points={corners.map(([x = 0, y = 0]) => layout.at([x, y]).join(",")).join(" ")}
          onPointerDown={(event) => {
            held.current = name as Schemas["ZoneEnum"];
            svg.current?.setPointerCapture(event.pointerId);
          }}
        />
      ))}
    </svg>
  );
}
