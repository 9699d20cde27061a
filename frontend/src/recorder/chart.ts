import uPlot from "uplot";

import { formatNumber, withIn } from "../ui/format";
import { shortName } from "../state/measured";
import { TIME_UNITS } from "../state/suited-unit";
import { RUN_COLOURS } from "../state/shown-runs";
import { useTime } from "../state/time";
import { bounds, DASHES, inside, valueAt, type DrawnCurve } from "../charts/curves";
import { freePlace } from "../charts/labels";
import type { Axis } from "../state/strip-plan";

/** What a strip draws; read anew at each frame. */
export interface ChartState {
  curves: DrawnCurve[];
  axes: Axis[];
  extent: [number, number];
  marks: { a: number | null; b: number | null };
  events: { time: number }[];
  current: number | null;
  timeUnit: string;
}

/** What a chart is made with; another one needs another chart. */
export interface ChartKind {
  /** Whether it carries the words of the time axis. */
  last: boolean;
  logarithmic: boolean;
  /** Whether it has an axis at the right, and whether it leaves room for one as other strips do. */
  second: boolean;
  room: boolean;
}

const SYNC = "recorder";
/** How far up and down a curve goes, in widths of the strip, to be drawn as a band of hairlines. */
const BAND = 1;
/** A step that cannot be seen, in pixels. */
const TINY = 0.7;
/** How much is seen of points. */
const DOTTED = 0.6;
/** Events in view up to which each has a mark of its own. */
const FEW_EVENTS = 60;
const SCALES = { left: "y", right: "right" } as const;

export function themeColour(name: string): string {
  return getComputedStyle(document.documentElement).getPropertyValue(name).trim();
}

export function strokeOf(slot: number): string {
  return themeColour(`--run-${slot % RUN_COLOURS}`);
}

/**
 * A chart of axes, cursor and zoom, whose curves are drawn here: each from its own points, only those in view.
 * Joining the curves of many runs on one time axis would cost more than drawing them.
 */
export function makeChart(element: HTMLElement, kind: ChartKind, read: () => ChartState): uPlot {
  const ink = themeColour("--color-secondary");
  const rule = themeColour("--color-base-300");
  const font = '12px "IBM Plex Sans Variable", sans-serif';
  const axis = {
    stroke: ink,
    font,
    grid: { stroke: rule, width: 1 },
    ticks: { stroke: rule, width: 1, size: 4 },
  };
  const log = kind.logarithmic
    ? {
        filter: decades,
        grid: { ...axis.grid, filter: decades },
        ticks: { ...axis.ticks, filter: decades },
      }
    : {};
  const values = (_: uPlot, ticks: (number | null)[]) =>
    ticks.map((v) => (v === null ? "" : formatNumber(v)));
  const scaleFor = (side: "left" | "right"): uPlot.Scale => ({
    ...(kind.logarithmic ? { distr: 3 as const, log: 10 as const } : {}),
    range: () => {
      // Not what the chart has, which is still the range before.
      const [low, high] = useTime.getState().range ?? read().extent;
      const range = bounds(
        read().curves.filter((c) => c.side === side),
        low,
        high,
        kind.logarithmic,
      );
      return kind.logarithmic ? wholeDecades(range) : padded(range);
    },
  });
  const colours = new Map<number, string>();
  const colour = (slot: number) =>
    colours.get(slot) ?? colours.set(slot, strokeOf(slot)).get(slot)!;
  const contrast = themeColour("--color-base-content");
  const hidden = { points: { show: false }, paths: () => null };
  const chart = new uPlot(
    {
      width: element.clientWidth,
      height: element.clientHeight,
      legend: { show: false },
      scales: {
        x: { time: false, range: (_, min, max) => [min, max] },
        y: scaleFor("left"),
        ...(kind.second ? { right: scaleFor("right") } : {}),
      },
      axes: [
        {
          ...axis,
          show: true,
          size: kind.last ? 26 : 6,
          label: kind.last ? () => withIn("time", read().timeUnit) : "",
          labelSize: kind.last ? 14 : 0,
          labelFont: font,
          incrs: () => timeSteps(read().timeUnit),
          values: (_, ticks) => {
            const size = TIME_UNITS[read().timeUnit]!;
            return kind.last ? ticks.map((v) => formatNumber(v / size)) : [];
          },
        },
        { ...axis, ...log, size: 58, values, space: tickSpace },
        ...(kind.second
          ? [
              {
                ...axis,
                ...log,
                side: 1 as const,
                scale: "right",
                size: 58,
                values,
                space: tickSpace,
                grid: { show: false },
              },
            ]
          : []),
      ],
      series: [
        {},
        { scale: "y", ...hidden },
        ...(kind.second ? [{ scale: "right", ...hidden }] : []),
      ],
      padding: [6, kind.second ? 0 : kind.room ? 58 : 24, 0, 0],
      cursor: {
        sync: { key: SYNC, setSeries: false },
        drag: { x: true, y: false, setScale: false, dist: 4 },
        y: false,
        points: { show: false },
      },
      hooks: {
        init: [(u) => attach(u, read)],
        setSelect: [
          (u) => {
            if (u.select.width > 3) {
              useTime
                .getState()
                .setRange([
                  u.posToVal(u.select.left, "x"),
                  u.posToVal(u.select.left + u.select.width, "x"),
                ]);
            }
            u.setSelect({ left: 0, width: 0, top: 0, height: 0 }, false);
          },
        ],
        setCursor: [dots(read, colour)],
        draw: [
          (u) => drawCurves(u, read(), kind.logarithmic, colour),
          (u) => drawCursor(u, useTime.getState().cursor, contrast),
          (u) => drawMarks(u, read().marks, ink, contrast),
          (u) => drawEvents(u, read().events, ink),
          (u) => drawNames(u, read().curves, colour),
        ],
      },
    },
    // Two points that only span the axes; the curves are read where they are drawn.
    [[0, 1], [1, 1], ...(kind.second ? [[1, 1]] : [])] as uPlot.AlignedData,
    element,
  );
  chart.root.addEventListener("dblclick", () => useTime.getState().setRange(null));
  return chart;
}

/** Least distance of two numbers at an axis, in pixels: in a low strip closer, so that two of them have room. */
function tickSpace(_: uPlot, __: number, ___: number, ____: number, length: number): number {
  return Math.min(30, Math.max(14, length / 3));
}

/** Distances of ticks in s that are round in a unit of time. */
function timeSteps(unit: string): number[] {
  const size = TIME_UNITS[unit]!;
  const decimal = Array.from({ length: 60 }, (_, k) => [1, 2, 5].map((m) => m * 10 ** (k - 30)));
  if (size <= 1) return decimal.flat();
  const own = unit === "h" ? [3, 6, 12, 24, 48] : unit === "min" ? [15, 30] : [];
  return [
    ...decimal.flat().filter((step) => step * 12 <= size),
    ...[...decimal.flat(), ...own]
      .map((step) => Math.round(step * size))
      .filter((step) => step * 12 > size),
  ].sort((a, b) => a - b);
}

/** Show what the recorder's range asks for. */
export function applyRange(u: uPlot, extent: [number, number]): void {
  const [min, max] = useTime.getState().range ?? extent;
  u.setScale("x", { min, max });
}

/** Only whole powers of ten on a logarithmic axis. */
function decades(_: uPlot, splits: number[]): (number | null)[] {
  return splits.map((v) => (Math.abs(Math.log10(v) - Math.round(Math.log10(v))) < 1e-6 ? v : null));
}

function wholeDecades(range: [number, number] | null): [number, number] {
  if (!range) return [0.1, 1];
  const [low, high] = range.map((v) => Math.log10(v)) as [number, number];
  const [first, last] = [Math.floor(low), Math.ceil(high)];
  return [10 ** first, 10 ** (last > first ? last : first + 1)];
}

function padded(range: [number, number] | null): [number, number] {
  if (!range || !Number.isFinite(range[0]) || !Number.isFinite(range[1])) return [0, 1];
  const [min, max] = range;
  const room = max > min ? (max - min) * 0.07 : Math.abs(max) * 0.1 || 1;
  // A quantity that only touches zero keeps zero as its floor.
  return [min >= 0 && min < (max - min) * 0.1 ? Math.min(0, min) : min - room, max + room];
}

/** Pointer and wheel: hovering previews the cursor, a click pins it, the wheel zooms. */
function attach(u: uPlot, read: () => ChartState): void {
  const view = useTime.getState();
  let pressed: number | null = null;
  u.over.addEventListener("pointermove", (event) => {
    // Dots and handles that lie above count from where they are themselves.
    if (event.target === u.over) view.setHover(u.posToVal(event.offsetX, "x"));
  });
  u.over.addEventListener("pointerleave", () => view.setHover(null));
  u.over.addEventListener("pointerdown", (event) => {
    pressed = event.offsetX;
  });
  u.over.addEventListener("click", (event) => {
    if (pressed !== null && Math.abs(event.offsetX - pressed) < 4)
      view.setCursor(u.posToVal(event.offsetX, "x"));
  });
  u.over.addEventListener(
    "wheel",
    (event) => {
      event.preventDefault();
      zoomAround(u.posToVal(event.offsetX, "x"), event.deltaY < 0 ? 0.8 : 1.25, read().extent);
    },
    { passive: false },
  );
}

/** Zoom about an instant, never beyond what there is. */
export function zoomAround(at: number, factor: number, extent: [number, number]): void {
  const { range, setRange } = useTime.getState();
  const [min, max] = range ?? extent;
  const low = Math.max(extent[0], at - (at - min) * factor);
  const high = Math.min(extent[1], at + (max - at) * factor);
  setRange(low <= extent[0] && high >= extent[1] ? null : [low, high], true);
}

/** A dot on each curve under the pointer. */
function dots(read: () => ChartState, colour: (slot: number) => string): (u: uPlot) => void {
  const made: HTMLElement[] = [];
  return (u) => {
    const left = u.cursor.left ?? -1;
    const { curves } = read();
    const at = left >= 0 ? u.posToVal(left, "x") : null;
    curves.forEach((curve, i) => {
      const value = at === null ? null : valueAt(curve.time, curve.values, at);
      let dot = made[i];
      if (value === null) {
        if (dot) dot.style.display = "none";
        return;
      }
      if (!dot) {
        dot = document.createElement("div");
        dot.style.cssText =
          "position:absolute;left:-3px;top:-3px;width:6px;height:6px;border-radius:3px;pointer-events:none";
        u.over.append(dot);
        made[i] = dot;
      }
      dot.style.display = "";
      dot.style.background = colour(curve.slot);
      dot.style.transform = `translate(${left}px, ${u.valToPos(value, SCALES[curve.side])}px)`;
    });
    for (const dot of made.slice(curves.length)) dot.style.display = "none";
  };
}

function drawCurves(
  u: uPlot,
  { curves, current }: ChartState,
  logarithmic: boolean,
  colour: (slot: number) => string,
): void {
  const { left, top, width, height } = u.bbox;
  const [min, max] = [u.scales.x!.min ?? 0, u.scales.x!.max ?? 1];
  const kx = width / (max - min);
  u.ctx.save();
  u.ctx.beginPath();
  u.ctx.rect(left, top, width, height);
  u.ctx.clip();
  for (const curve of curves) {
    const scale = u.scales[SCALES[curve.side]];
    if (!scale) continue;
    const of = logarithmic ? Math.log10 : (v: number) => v;
    const high = of(scale.max ?? 1);
    const ky = height / (high - of(scale.min ?? 0));
    const [first, last] = inside(curve.time, min, max);
    if (curve.dots) {
      u.ctx.fillStyle = colour(curve.slot);
      u.ctx.globalAlpha = DOTTED;
      const side = 2 * devicePixelRatio;
      for (let i = first; i <= last; i += 1) {
        const y = top + (high - of(curve.values[i]!)) * ky;
        if (Number.isFinite(y))
          u.ctx.fillRect(left + (curve.time[i]! - min) * kx - side / 2, y - side / 2, side, side);
      }
      continue;
    }
    u.ctx.beginPath();
    let down = false;
    let [beforeX, beforeY, travel] = [0, 0, 0];
    for (let i = first; i <= last; i += 1) {
      const value = logarithmic ? Math.log10(curve.values[i]!) : curve.values[i]!;
      // What has no logarithm is left out.
      if (!Number.isFinite(value)) {
        down = false;
        continue;
      }
      const x = left + (curve.time[i]! - min) * kx;
      const y = top + (high - value) * ky;
      if (down && i < last && x - beforeX < TINY && Math.abs(y - beforeY) < TINY) continue;
      if (down) u.ctx.lineTo(x, y);
      else u.ctx.moveTo(x, y);
      travel += down ? Math.abs(y - beforeY) : 0;
      [beforeX, beforeY] = [x, y];
      down = true;
    }
    // A curve that goes up and down all the time is a band: its width and corners cannot be seen, but take most of the time.
    const band = travel > BAND * width;
    u.ctx.lineJoin = last - first > width / 3 ? "bevel" : "round";
    u.ctx.strokeStyle = colour(curve.slot);
    u.ctx.globalAlpha = curve.shade ?? 1;
    u.ctx.lineWidth = band ? 1 : (curve.run === current ? 1.9 : 1.3) * devicePixelRatio;
    u.ctx.setLineDash(DASHES[curve.order % DASHES.length]!.map((d) => d * devicePixelRatio));
    u.ctx.stroke();
  }
  u.ctx.restore();
}

function drawCursor(u: uPlot, cursor: number | null, ink: string): void {
  if (cursor === null || cursor < (u.scales.x!.min ?? 0) || cursor > (u.scales.x!.max ?? 0)) return;
  const x = u.valToPos(cursor, "x", true);
  u.ctx.save();
  u.ctx.strokeStyle = ink;
  u.ctx.lineWidth = 1.25 * devicePixelRatio;
  u.ctx.beginPath();
  u.ctx.moveTo(x, u.bbox.top);
  u.ctx.lineTo(x, u.bbox.top + u.bbox.height);
  u.ctx.stroke();
  u.ctx.restore();
}

/** The marks A and B. */
function drawMarks(u: uPlot, marks: ChartState["marks"], line: string, ink: string): void {
  if (marks.a === null && marks.b === null) return;
  u.ctx.save();
  u.ctx.strokeStyle = line;
  u.ctx.fillStyle = ink;
  u.ctx.lineWidth = devicePixelRatio;
  u.ctx.setLineDash([6 * devicePixelRatio, 3 * devicePixelRatio]);
  u.ctx.font = `600 ${11 * devicePixelRatio}px "IBM Plex Sans Variable", sans-serif`;
  for (const [letter, time] of [
    ["A", marks.a],
    ["B", marks.b],
  ] as const) {
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
function drawEvents(u: uPlot, events: { time: number }[], ink: string): void {
  const size = 3 * devicePixelRatio;
  u.ctx.save();
  u.ctx.fillStyle = ink;
  const [min, max] = [u.scales.x!.min ?? 0, u.scales.x!.max ?? 0];
  const seen = events.filter(({ time }) => time >= min && time <= max);
  if (seen.length > FEW_EVENTS) u.ctx.globalAlpha = 0.4;
  for (const { time } of seen) {
    const x = u.valToPos(time, "x", true);
    if (seen.length > FEW_EVENTS) {
      u.ctx.fillRect(x, u.bbox.top, devicePixelRatio, 1.6 * size);
      continue;
    }
    u.ctx.beginPath();
    u.ctx.moveTo(x - size, u.bbox.top);
    u.ctx.lineTo(x + size, u.bbox.top);
    u.ctx.lineTo(x, u.bbox.top + 1.6 * size);
    u.ctx.fill();
  }
  u.ctx.restore();
}

/** The variable's name at the end of the newest run's curves where there are several, so that no legend has to be searched. */
function drawNames(u: uPlot, curves: DrawnCurve[], colour: (slot: number) => string): void {
  if (new Set(curves.map((c) => c.name)).size < 2) return;
  const newest = curves.at(-1)?.run;
  const max = u.scales.x!.max ?? Infinity;
  const used: number[] = [];
  u.ctx.save();
  u.ctx.font = `${11 * devicePixelRatio}px "IBM Plex Sans Variable", sans-serif`;
  u.ctx.textAlign = "right";
  u.ctx.textBaseline = "bottom";
  for (const curve of curves) {
    const time = Math.min(curve.time.at(-1) ?? 0, max);
    const value = curve.run === newest ? valueAt(curve.time, curve.values, time) : null;
    if (value === null) continue;
    const x =
      Math.min(u.valToPos(time, "x", true), u.bbox.left + u.bbox.width) - 4 * devicePixelRatio;
    const line = 12 * devicePixelRatio;
    const y = freePlace(
      u.valToPos(value, SCALES[curve.side], true) - 3 * devicePixelRatio,
      line,
      u.bbox.top + line,
      u.bbox.top + u.bbox.height,
      used,
    );
    used.push(y);
    u.ctx.fillStyle = colour(curve.slot);
    u.ctx.fillText(shortName(curve.name), x, y);
  }
  u.ctx.restore();
}
