import uPlot from "uplot";

import type { Curve, RunVariable } from "../api/client";

/** One drawn curve: a variable of a run, in the unit that is shown. */
export interface DrawnCurve {
  run: number;
  slot: number;
  name: string;
  order: number;
  unit: string;
  time: number[];
  values: number[];
  /** Of an older run of the same scenario. */
  faded?: boolean;
}

/** Dash of a variable by its place on the strip; a run is told by colour. */
export const DASHES: number[][] = [[], [9, 4], [3, 3], [9, 3, 2, 3]];

/** Times that increase strictly: the second side of an event moves by a hair, so that the jump stays. */
export function strictlyIncreasing(time: number[]): number[] {
  const span = (time.at(-1) ?? 0) - (time[0] ?? 0) || 1;
  const hair = span * 1e-10;
  const result = new Array<number>(time.length);
  let last = -Infinity;
  time.forEach((t, i) => {
    last = t > last ? t : last + hair;
    result[i] = last;
  });
  return result;
}

/** A variable in the shown unit of the first one of its strip, where both are of one kind. */
export function likeFirst(strip: string[], variables: RunVariable[], name: string): RunVariable | undefined {
  const own = variables.find((v) => v.name === name);
  const lead = variables.find((v) => v.name === strip[0]);
  return own && lead && own.unit === lead.unit ? { ...own, shown_unit: lead.shown_unit, factor: lead.factor, offset: lead.offset } : own;
}

export function drawn(curve: Curve, run: number, slot: number, order: number, variable: RunVariable | undefined): DrawnCurve {
  const factor = variable?.factor ?? 1;
  const offset = variable?.offset ?? 0;
  return {
    run,
    slot,
    order,
    name: curve.name,
    unit: variable?.shown_unit ?? curve.unit,
    time: strictlyIncreasing(curve.time),
    values: curve.values.map((v) => v * factor + offset),
  };
}

/** All curves on one time axis, as the chart wants them; on a logarithmic one without what is not positive. */
export function joined(curves: DrawnCurve[], logarithmic = false): uPlot.AlignedData {
  if (curves.length === 0) return [[], []];
  const drawn = (values: number[]) => (logarithmic ? values.map((v) => (v > 0 ? v : null)) : values);
  return uPlot.join(curves.map((c) => [c.time, drawn(c.values)] as uPlot.AlignedData));
}
