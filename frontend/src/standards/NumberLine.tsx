/** Limits and margins of a measure on a line, each to be dragged or moved by the arrow keys. */
import * as Slider from "@radix-ui/react-slider";
import type { Figures, StandardBand } from "../api/standards";
import { figure, unitOf } from "../shared/format";
import { handlesOf, lineOf, moved, type Handle } from "./numberLine";
import { t } from "../shared/words";

const SAID: Record<Handle, string> = {
  "margin-low": t("where the margin below ends"),
  low: t("lower limit"),
  high: t("upper limit"),
  "margin-high": t("where the margin above ends"),
};

/** Whether it ends a margin, not the standard. */
const ofMargin = (handle: Handle) => handle.startsWith("margin");

interface Props {
  band: StandardBand;
  figures: Figures;
  change: (figures: Figures) => void;
}

export function NumberLine({ band, figures, change }: Props) {
  const line = lineOf(band.base, figures, band.decimals);
  const handles = handlesOf(figures);
  const share = (value: number) => (value - line.from) / (line.to - line.from);
  // An open side reaches to the end of the line.
  const zone = [
    figures.low === null ? 0 : share(figures.low),
    figures.high === null ? 1 : share(figures.high),
  ] as const;
  const margin = [
    figures.low === null ? 0 : share(figures.low - figures.watch_low),
    figures.high === null ? 1 : share(figures.high + figures.watch_high),
  ] as const;
  return (
    <div className="number-line">
      <Slider.Root
        min={line.from}
        max={line.to}
        step={line.step}
        value={handles.map((one) => one.at)}
        onValueChange={(values) => {
          const n = values.findIndex((value, at) => value !== handles[at]?.at);
          const handle = handles[n]?.handle;
          const value = values[n];
          if (handle && value !== undefined) change(moved(figures, handle, value));
        }}
      >
        <Slider.Track>
          <span className="margin" style={between(margin)} />
          <span className="within" style={between(zone)} />
        </Slider.Track>
        {handles.map(({ handle, at }) => (
          <Slider.Thumb
            key={handle}
            className={ofMargin(handle) ? "edge" : "limit"}
            aria-label={`${band.name}: ${SAID[handle]}`}
            aria-valuetext={`${figure(at, band.decimals)}${unitOf(band.unit)}`}
          >
            {!ofMargin(handle) && (
              <span className="figures">{figure(at, Math.max(band.decimals, 1))}</span>
            )}
          </Slider.Thumb>
        ))}
      </Slider.Root>
      <div className="ticks figures" aria-hidden>
        {line.ticks.map((tick) => (
          <span key={tick} style={{ left: `${share(tick) * 100}%` }}>
            {figure(tick, line.decimals)}
          </span>
        ))}
      </div>
    </div>
  );
}

function between([from, to]: readonly [number, number]) {
  return { left: `${from * 100}%`, width: `${(to - from) * 100}%` };
}
