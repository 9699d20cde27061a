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
