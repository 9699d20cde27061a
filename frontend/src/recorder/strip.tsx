import { ImageDown, X } from "lucide-react";
import { useEffect, useLayoutEffect, useRef, useState } from "react";
import uPlot from "uplot";

import { useTheme } from "../brand/theme";
import { formatNumber, formatUnit } from "../format";
import { RUN_COLOURS, useView } from "../workspace/state";
import { DASHES, joined, type DrawnCurve } from "./curves";
import { freePlace } from "./labels";
import { asPng, save, stripSvg } from "./svg";

interface Props {
  names: string[];
  unit: string;
  curves: DrawnCurve[];
  /** The whole time axis, when nothing is zoomed. */
  extent: [number, number];
  current: number | null;
  last: boolean;
  marks: { a: number | null; b: number | null };
  runName: (run: number) => string;
  /** What the variables of the current run change by from A to B, in the shown unit. */
  differences: Record<string, number>;
  /** Events of the current run, marked at the upper edge. */
  events: { time: number; cause: string }[];
  onRemove: () => void;
}

const SYNC = "recorder";
/** How much of an older run of the same scenario is seen. */
const FADED = 0.45;

/** One chart of the recorder; all strips share the time axis and the cursor. */
export function Strip({ names, unit, curves, extent, current, last, marks, runName, differences, events, onRemove }: Props) {
  const host = useRef<HTMLDivElement>(null);
  const chart = useRef<uPlot | null>(null);
  const [theme] = useTheme();
  const [logarithmic, setLogarithmic] = useState(false);
  const range = useView((s) => s.range);
  const cursor = useView((s) => s.cursor);
  const shape = JSON.stringify([theme, last, logarithmic, unit, extent, curves.map((c) => [c.run, c.name, c.slot, c.faded, c.run === current])]);
  const latest = useRef({ curves, range, cursor, extent, marks, events });
  useLayoutEffect(() => {
    latest.current = { curves, range, cursor, extent, marks, events };
  });

  useEffect(() => {
    const element = host.current!;
    const options = chartOptions(element, curves, current, last, latest, logarithmic);
    const made = new uPlot(options, joined(latest.current.curves, logarithmic), element);
    chart.current = made;
    const [min, max] = latest.current.range ?? latest.current.extent;
    made.setScale("x", { min, max });
    const watcher = new ResizeObserver(() => made.setSize({ width: element.clientWidth, height: element.clientHeight }));
    watcher.observe(element);
    void document.fonts.ready.then(() => chart.current === made && made.redraw(false, true));
    return () => {
      watcher.disconnect();
      made.destroy();
      chart.current = null;
    };
    // eslint-disable-next-line react-hooks/exhaustive-deps -- `shape` says when the chart must be made anew
  }, [shape]);

  useEffect(() => {
    chart.current?.setData(joined(curves, logarithmic), false);
    const [min, max] = latest.current.range ?? latest.current.extent;
    chart.current?.setScale("x", { min, max });
  }, [curves, logarithmic]);

  useEffect(() => {
    const [min, max] = range ?? extent;
    chart.current?.setScale("x", { min, max });
  }, [range, extent]);

  useEffect(() => {
    chart.current?.redraw(false);
  }, [cursor, marks, events]);

  const picture = async (points: boolean) => {
    const [width, height] = [900, 340];
    const svg = stripSvg({
      curves, unit, range: range ?? extent, width, height, colour: strokeOf, ink: themeColour("--color-base-content"),
      rule: themeColour("--color-base-300"), ground: themeColour("--color-base-100"), runName,
    });
    save(`${names.join(" ")}.${points ? "png" : "svg"}`, points ? await asPng(svg, width, height) : new Blob([svg], { type: "image/svg+xml" }));
  };
  const between = names.flatMap((name) => (differences[name] === undefined ? [] : [{ name, change: differences[name] }]));

  return (
    <div className="rule-t relative flex min-h-0 flex-1" data-testid="strip" role="group" aria-label={`Strip of ${names.join(", ")}`}>
      <div className="w-40 shrink-0 overflow-hidden py-1 pl-3 text-[12px]">
        <button type="button" className="muted float-right px-1 hover:text-base-content" onClick={onRemove} aria-label={`Remove the strip of ${names.join(", ")}`} title="Remove this strip">
          <X size={12} />
        </button>
        <button
          type="button"
          className="muted float-right px-1 hover:text-base-content"
          onClick={(event) => void picture(event.shiftKey)}
          aria-label={`Picture of the strip of ${names.join(", ")}`}
          title="Save this strip as SVG; with Shift as PNG"
          data-testid={`picture-${names.join("-")}`}
        >
          <ImageDown size={12} />
        </button>
        <button
          type="button"
          className={`muted float-right px-1 text-[11px] hover:text-base-content ${logarithmic ? "font-semibold underline" : ""}`}
          onClick={() => setLogarithmic(!logarithmic)}
          aria-pressed={logarithmic}
          aria-label={`Logarithmic axis for ${names.join(", ")}`}
          title="Logarithmic axis; values that are not positive are left out"
          data-testid={`log-${names.join("-")}`}
        >
          log
        </button>
        <p className="muted">{formatUnit(unit) ? `in ${formatUnit(unit)}` : "no unit"}</p>
        {names.map((name, order) => (
          <p key={name} className="flex items-center gap-1.5" title={name}>
            <svg width="20" height="6" className="shrink-0" aria-hidden="true">
              <line x1="0" x2="20" y1="3" y2="3" stroke="currentColor" strokeWidth="1.5" strokeDasharray={DASHES[order % DASHES.length]!.join(" ")} />
            </svg>
            <span className="dense truncate">{name}</span>
          </p>
        ))}
        {between.map(({ name, change }) => (
          <p key={name} className="mono muted truncate text-[11.5px]" title={`${name}: B less A`} data-testid={`difference-${name}`}>
            Δ {formatNumber(change)} {formatUnit(unit)}
          </p>
        ))}
      </div>
      <div ref={host} className="min-h-0 min-w-0 flex-1" data-testid={`chart-${names.join("-")}`} />
    </div>
  );
}

function themeColour(name: string): string {
  return getComputedStyle(document.documentElement).getPropertyValue(name).trim();
}

function strokeOf(slot: number): string {
  return themeColour(`--run-${slot % RUN_COLOURS}`);
}

/** Only whole powers of ten on a logarithmic axis. */
function decades(_: uPlot, splits: number[]): (number | null)[] {
  return splits.map((v) => (Math.abs(Math.log10(v) - Math.round(Math.log10(v))) < 1e-6 ? v : null));
}

type Latest = React.RefObject<{ curves: DrawnCurve[]; range: [number, number] | null; cursor: number | null; extent: [number, number]; marks: { a: number | null; b: number | null }; events: { time: number }[] }>;

function chartOptions(element: HTMLElement, curves: DrawnCurve[], current: number | null, last: boolean, latest: Latest, logarithmic: boolean): uPlot.Options {
  const ink = themeColour("--color-secondary");
  const rule = themeColour("--color-base-300");
  const font = '12px "IBM Plex Sans Variable", sans-serif';
  const axis = { stroke: ink, font, grid: { stroke: rule, width: 1 }, ticks: { stroke: rule, width: 1, size: 4 } };
  const several = new Set(curves.map((c) => c.name)).size > 1;
  return {
    width: element.clientWidth,
    height: element.clientHeight,
    legend: { show: false },
    scales: { x: { time: false, range: (_, min, max) => [min, max] }, y: logarithmic ? { distr: 3, log: 10 } : { range: (_, min, max) => padded(min, max) } },
    axes: [
      { ...axis, show: true, size: last ? 26 : 6, label: last ? "time in s" : "", labelSize: last ? 14 : 0, labelFont: font, values: (_, ticks) => (last ? ticks.map((v) => formatNumber(v)) : []) },
      { ...axis, ...(logarithmic ? { filter: decades, grid: { ...axis.grid, filter: decades }, ticks: { ...axis.ticks, filter: decades } } : {}), size: 58, values: (_, ticks) => ticks.map((v) => (v === null ? "" : formatNumber(v))) },
    ],
    series: [
      {},
      ...curves.map((curve) => ({
        label: curve.name,
        stroke: strokeOf(curve.slot),
        alpha: curve.faded ? FADED : 1,
        width: curve.run === current ? 1.9 : 1.3,
        dash: DASHES[curve.order % DASHES.length]!,
        spanGaps: !logarithmic,
        points: { show: false },
      })),
    ],
    padding: [6, 24, 0, 0],
    cursor: {
      sync: { key: SYNC, setSeries: false },
      drag: { x: true, y: false, setScale: false, dist: 4 },
      y: false,
      points: { size: 5 },
    },
    hooks: {
      init: [(u) => attach(u, latest)],
      setSelect: [
        (u) => {
          if (u.select.width > 3) {
            useView.getState().setRange([u.posToVal(u.select.left, "x"), u.posToVal(u.select.left + u.select.width, "x")]);
          }
          u.setSelect({ left: 0, width: 0, top: 0, height: 0 }, false);
        },
      ],
      draw: [(u) => drawCursor(u, latest.current.cursor), (u) => drawMarks(u, latest.current.marks), (u) => drawEvents(u, latest.current.events), (u) => several && drawNames(u, curves)],
    },
  };
}

function padded(min: number | null, max: number | null): [number, number] {
  if (min === null || max === null || !Number.isFinite(min) || !Number.isFinite(max)) return [0, 1];
  const room = max > min ? (max - min) * 0.07 : Math.abs(max) * 0.1 || 1;
  // A quantity that only touches zero keeps zero as its floor.
  return [min >= 0 && min < (max - min) * 0.1 ? Math.min(0, min) : min - room, max + room];
}

/** Pointer and wheel: hovering previews the cursor, a click pins it, the wheel zooms, double click shows all. */
function attach(u: uPlot, latest: Latest): void {
  const view = useView.getState();
  let pressed: number | null = null;
  u.over.addEventListener("pointermove", () => {
    if (u.cursor.left !== undefined && u.cursor.left >= 0) view.setHover(u.posToVal(u.cursor.left, "x"));
  });
  u.over.addEventListener("pointerleave", () => view.setHover(null));
  u.over.addEventListener("pointerdown", (event) => {
    pressed = event.offsetX;
  });
  u.over.addEventListener("click", (event) => {
    if (pressed !== null && Math.abs(event.offsetX - pressed) < 4) view.setCursor(u.posToVal(event.offsetX, "x"));
  });
  u.over.addEventListener("dblclick", () => view.setRange(null));
  u.over.addEventListener(
    "wheel",
    (event) => {
      event.preventDefault();
      const { extent } = latest.current;
      const [min, max] = latest.current.range ?? extent;
      const at = u.posToVal(event.offsetX, "x");
      const factor = event.deltaY < 0 ? 0.8 : 1.25;
      const low = Math.max(extent[0], at - (at - min) * factor);
      const high = Math.min(extent[1], at + (max - at) * factor);
      view.setRange(low <= extent[0] && high >= extent[1] ? null : [low, high]);
    },
    { passive: false },
  );
}

function drawCursor(u: uPlot, cursor: number | null): void {
  if (cursor === null || cursor < (u.scales.x!.min ?? 0) || cursor > (u.scales.x!.max ?? 0)) return;
  const x = u.valToPos(cursor, "x", true);
  u.ctx.save();
  u.ctx.strokeStyle = themeColour("--color-base-content");
  u.ctx.lineWidth = 1.25 * devicePixelRatio;
  u.ctx.beginPath();
  u.ctx.moveTo(x, u.bbox.top);
  u.ctx.lineTo(x, u.bbox.top + u.bbox.height);
  u.ctx.stroke();
  u.ctx.restore();
}

/** The marks A and B, and what the curves differ in between them. */
function drawMarks(u: uPlot, marks: { a: number | null; b: number | null }): void {
  u.ctx.save();
  u.ctx.strokeStyle = themeColour("--color-secondary");
  u.ctx.fillStyle = themeColour("--color-base-content");
  u.ctx.lineWidth = devicePixelRatio;
  u.ctx.setLineDash([6 * devicePixelRatio, 3 * devicePixelRatio]);
  u.ctx.font = `600 ${11 * devicePixelRatio}px "IBM Plex Sans Variable", sans-serif`;
  for (const [letter, time] of [["A", marks.a], ["B", marks.b]] as const) {
    if (time === null || time < (u.scales.x!.min ?? 0) || time > (u.scales.x!.max ?? 0)) continue;
    const x = u.valToPos(time, "x", true);
    u.ctx.beginPath();
    u.ctx.moveTo(x, u.bbox.top);
    u.ctx.lineTo(x, u.bbox.top + u.bbox.height);
    u.ctx.stroke();
    u.ctx.fillText(letter, x + 3 * devicePixelRatio, u.bbox.top + 11 * devicePixelRatio);
  }
  u.ctx.restore();
}

/** A small mark at the upper edge for each event. */
function drawEvents(u: uPlot, events: { time: number }[]): void {
  const size = 3 * devicePixelRatio;
  u.ctx.save();
  u.ctx.fillStyle = themeColour("--color-secondary");
  for (const { time } of events) {
    if (time < (u.scales.x!.min ?? 0) || time > (u.scales.x!.max ?? 0)) continue;
    const x = u.valToPos(time, "x", true);
    u.ctx.beginPath();
    u.ctx.moveTo(x - size, u.bbox.top);
    u.ctx.lineTo(x + size, u.bbox.top);
    u.ctx.lineTo(x, u.bbox.top + 1.6 * size);
    u.ctx.fill();
  }
  u.ctx.restore();
}

/** The variable's name at the end of the newest run's curves, so that no legend has to be searched. */
function drawNames(u: uPlot, curves: DrawnCurve[]): void {
  const newest = curves.at(-1)?.run;
  const taken: number[] = [];
  u.ctx.save();
  u.ctx.font = `${11 * devicePixelRatio}px "IBM Plex Sans Variable", sans-serif`;
  u.ctx.textAlign = "right";
  u.ctx.textBaseline = "bottom";
  curves.forEach((curve, i) => {
    if (curve.run !== newest) return;
    const values = u.data[i + 1]!;
    const times = u.data[0];
    let k = times.length - 1;
    const max = u.scales.x!.max ?? Infinity;
    while (k > 0 && (values[k] === null || values[k] === undefined || times[k]! > max)) k -= 1;
    const value = values[k];
    if (value === null || value === undefined) return;
    const x = Math.min(u.valToPos(times[k]!, "x", true), u.bbox.left + u.bbox.width) - 4 * devicePixelRatio;
    const line = 12 * devicePixelRatio;
    const y = freePlace(u.valToPos(value, "y", true) - 3 * devicePixelRatio, line, u.bbox.top + line, u.bbox.top + u.bbox.height, taken);
    taken.push(y);
    u.ctx.fillStyle = strokeOf(curve.slot);
    u.ctx.fillText(curve.name, x, y);
  });
  u.ctx.restore();
}
