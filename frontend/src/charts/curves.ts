import type { Curve } from "../api/client";
import type { Axis } from "../state/strip-plan";

/** One drawn curve: a variable of a run, in the unit that its axis shows. */
export interface DrawnCurve {
  run: number;
  slot: number;
  name: string;
  order: number;
  unit: string;
  side: "left" | "right";
  time: number[];
  values: number[];
  /** How much of it is seen, where it is not all of it: runs that are older, or stand behind. */
  shade?: number;
  /** Whether only its points are drawn: measurements. */
  dots?: boolean;
}

/** The dashes of curves: `order` counts them. */
export const DASHES: number[][] = [[], [9, 4], [3, 3], [9, 3, 2, 3]];

/** A variable of a run as its strip shows it; `own` says how it is shown where no axis is for its unit. */
export function drawn(
  curve: Curve,
  run: number,
  slot: number,
  order: number,
  axes: Axis[],
): DrawnCurve {
  const axis = axes.find((a) => a.declared === curve.unit);
  const { factor, offset } = axis ?? { factor: 1, offset: 0 };
  return {
    run,
    slot,
    order,
    name: curve.name,
    unit: axis?.unit ?? curve.unit,
    side: axis?.side ?? "left",
    time: curve.time,
    values:
      factor === 1 && offset === 0 ? curve.values : curve.values.map((v) => v * factor + offset),
  };
}

/** The largest absolute value of a variable among the curves of runs. */
export function sizeAmong(curves: Iterable<Curve[]>, name: string): number {
  let size = 0;
  for (const of of curves) {
    const values = of.find((c) => c.name === name)?.values ?? [];
    for (const value of values) if (Math.abs(value) > size) size = Math.abs(value);
  }
  return size;
}

/** The places of a curve's points in a range of times, with one beyond each end; times never fall. */
export function inside(time: number[], low: number, high: number): [number, number] {
  return [
    Math.max(firstFrom(time, low) - 1, 0),
    Math.min(firstFrom(time, high, true), time.length - 1),
  ];
}

/** The first place whose time is at least (or, if asked, greater than) an instant. */
function firstFrom(time: number[], instant: number, beyond = false): number {
  let [low, high] = [0, time.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (time[middle]! < instant || (beyond && time[middle] === instant)) low = middle + 1;
    else high = middle;
  }
  return low;
}

/** The value of a curve at an instant, after what happens there; null outside of it. */
export function valueAt(time: number[], values: number[], instant: number): number | null {
  const after = firstFrom(time, instant, true);
  if (after === 0 || (after === time.length && time.at(-1)! < instant)) return null;
  if (after === time.length || time[after - 1] === instant) return values[after - 1]!;
  const [t0, t1] = [time[after - 1]!, time[after]!];
  return values[after - 1]! + ((instant - t0) / (t1 - t0)) * (values[after]! - values[after - 1]!);
}

/** Least and greatest value of curves in a range of times; null where nothing is. */
export function bounds(
  curves: DrawnCurve[],
  low: number,
  high: number,
  positive = false,
): [number, number] | null {
  let [least, most] = [Infinity, -Infinity];
  for (const { time, values } of curves) {
    const [first, last] = inside(time, low, high);
    for (let i = first; i <= last; i += 1) {
      const value = values[i]!;
      if (positive && !(value > 0)) continue;
      if (value < least) least = value;
      if (value > most) most = value;
    }
  }
  return least <= most ? [least, most] : null;
}
