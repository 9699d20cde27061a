import type { Schemas } from "../api/client";
import { formatNumber } from "../ui/format";

export type AnalysisView = Schemas["AnalysisView"];
export type Preview = Schemas["TablePreview"];
export type Measurements = Schemas["Measurements"];
export type DataFile = Schemas["DataFile"];

export interface Figures {
  rmse: number;
  mean_absolute: number;
  bias: number;
  r2: number;
  fit: number;
  /** Of the residual, by lag from 1 on, and the bound within which that of white noise stays. */
  autocorrelation: number[];
  bound: number;
}

export interface FittedOutput {
  experiment: string;
  variable: string;
  unit: string;
  error_unit: string;
  time: number[];
  measured: number[];
  before: number[];
  after: number[];
  figures_before: Figures;
  figures_after: Figures;
  figures_held_back?: Figures | null;
  white: boolean;
}

export interface FitResult {
  parameters: {
    name: string;
    value: number;
    low: number;
    high: number;
    deviation: number;
    at_bound: string;
    experiment: string;
    unit: string;
  }[];
  correlation: number[][];
  undetermined: string[];
  notes: string[];
  runs: number;
  seconds: number;
  outputs: FittedOutput[];
}

export interface ProfileResult {
  name: string;
  experiment: string;
  values: number[];
  costs: number[];
  limit: number;
  low: number | null;
  high: number | null;
}

export interface BootstrapResult {
  parameters: { name: string; experiment: string; low: number; high: number; values: number[] }[];
}

export interface ComparisonResult {
  ranking: {
    name: string;
    model: string;
    scenario: string;
    error: number | null;
    failure: string;
    starts: Record<string, number>;
    figures: (Figures & { variable: string; unit: string; white: boolean })[];
  }[];
  outputs: {
    variable: string;
    unit: string;
    error_unit: string;
    time: number[];
    measured: number[];
    rivals: { name: string; predicted: number[]; accumulated: number[] }[];
  }[];
  notes: string[];
}

export interface Pair {
  input: string;
  output: string;
  gain: number | null;
  zeros: [number, number][];
  numerator: number[];
  denominator: number[];
  frequency: number[];
  size: number[];
  phase: number[];
  real: number[];
  imaginary: number[];
  time: number[];
  step: number[];
  impulse: number[];
  /** What the model itself makes of a step of a size that was asked for. */
  large?: { amplitude: number; values?: number[]; drift?: number; fault: string };
  /** Poles by branch of the loop that is closed by a gain and a minus; none for very many states. */
  locus: { gains: number[]; real: number[][]; imaginary: number[][] } | null;
  margins: {
    gain: number | null;
    gain_at: number | null;
    phase: number | null;
    phase_at: number | null;
  } | null;
}

export interface LinearResult {
  model: {
    states: string[];
    inputs: string[];
    outputs: string[];
    A: number[][];
    units: Record<string, string>;
    operating_point: Record<string, number>;
    rates: Record<string, number>;
    time: number;
    notes: string[];
  };
  modes: {
    real: number;
    imaginary: number;
    frequency: number;
    damping: number;
    time_constant: number | null;
    states: Record<string, number>;
  }[];
  stable: boolean;
  controllable: number;
  observable: number;
  pairs: Pair[];
  component: string;
  /** Inputs and parameters that were found for held values. */
  trimmed: Record<string, number>;
}

export interface StepModel {
  kind: string;
  gain: number;
  time_constant: number;
  damping: number;
  dead_time: number;
  intervals: Partial<Record<string, [number, number]>>;
  figures: Figures;
  notes: string[];
  predicted: number[];
  settings: {
    controller: string;
    gain: number;
    integral_time: number;
    derivative_time: number;
  } | null;
  no_settings: string;
  component: string;
}

export interface StepResult {
  input: string;
  response: string;
  input_unit: string;
  response_unit: string;
  time: number[];
  measured: number[];
  level: number[];
  notes: string[];
  models: StepModel[];
}

/** What stands in a field as a number; none for anything else. */
export function numberOf(text: string): number | null {
  const value = Number(text.trim().replace(",", "."));
  return text.trim() !== "" && Number.isFinite(value) ? value : null;
}

/** The variable that a column may be, by the words of its name; none when nothing is alike. */
export function likelyVariable(column: string, names: string[]): string {
  const words = column
    .toLowerCase()
    .split(/[^a-zäöü0-9]+/)
    .filter((w) => w.length > 1);
  let best = "";
  let most = 0;
  for (const name of names) {
    const parts = name.toLowerCase().split(/[^a-z0-9]+/);
    const score = words.filter((w) =>
      parts.some((p) => p === w || (p.length > 2 && w.startsWith(p))),
    ).length;
    if (score > most || (score > 0 && score === most && name.length < best.length))
      [best, most] = [name, score];
  }
  return best;
}

/** Whether anything of the input reaches the output. */
export function passes(pair: Pair): boolean {
  return pair.real.some((v) => v !== 0) || pair.imaginary.some((v) => v !== 0);
}

/** How far two curves are apart at most, and as a share of the largest of the second. */
export function largestGap(a: number[], b: number[]): { most: number; share: number | null } {
  const most = Math.max(0, ...a.map((v, k) => Math.abs(v - (b[k] ?? v))));
  const largest = Math.max(0, ...b.map(Math.abs));
  return { most, share: largest > 0 ? most / largest : null };
}

/** Whether a curve is hardly more than what happens without the step. */
export function movesOn(deviation: number[], drift: number): boolean {
  return drift > 0.1 * Math.max(0, ...deviation.map(Math.abs));
}

export interface ClosedPole {
  real: number;
  imaginary: number;
  damping: number;
}

/** The poles of a root locus at one of its gains, the slowest first. */
export function polesAt(
  locus: { real: number[][]; imaginary: number[][] },
  gain: number,
): ClosedPole[] {
  return locus.real
    .map((real, k) => {
      const [re, im] = [real[gain] ?? 0, locus.imaginary[k]?.[gain] ?? 0];
      const size = Math.hypot(re, im);
      return { real: re, imaginary: im, damping: size > 0 ? -re / size : 0 };
    })
    .sort((a, b) => Math.hypot(a.real, a.imaginary) - Math.hypot(b.real, b.imaginary));
}

/** A polynomial in s as people write it. */
export function polynomial(coefficients: number[]): string {
  const order = coefficients.length - 1;
  const largest = Math.max(...coefficients.map(Math.abs));
  const terms = coefficients.flatMap((c, k) => {
    if (Math.abs(c) <= 1e-12 * largest) return [];
    const power = order - k;
    const s = power === 0 ? "" : power === 1 ? " s" : ` s^${power}`;
    return [`${formatNumber(c, 4)}${s}`];
  });
  return terms.join(" + ").replaceAll("+ -", "− ") || "0";
}
