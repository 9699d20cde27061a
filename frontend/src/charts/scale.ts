/** A straight scale from values to pixels; a range of nothing is widened. */
export interface Scale {
  low: number;
  high: number;
  at: (value: number) => number;
}

export function scaleOf(values: (number | null | undefined)[], from: number, to: number): Scale {
  const known = values.filter((v): v is number => typeof v === "number" && Number.isFinite(v));
  let low = known.reduce((a, b) => Math.min(a, b), Infinity);
  let high = known.reduce((a, b) => Math.max(a, b), -Infinity);
  if (!(high > low))
    [low, high] = Number.isFinite(low)
      ? [low - (Math.abs(low) * 0.1 || 1), low + (Math.abs(low) * 0.1 || 1)]
      : [0, 1];
  return { low, high, at: (value) => from + ((value - low) / (high - low)) * (to - from) };
}

/** A colour between blue and orange by way of a light middle, told apart by everybody; `share` from 0 to 1. */
export function shade(share: number): string {
  const stops = [
    [0, 90, 160],
    [110, 170, 210],
    [240, 240, 230],
    [240, 170, 80],
    [190, 70, 0],
  ] as const;
  const place = Math.min(Math.max(share, 0), 1) * (stops.length - 1);
  const [a, b] = [stops[Math.floor(place)]!, stops[Math.ceil(place)]!];
  const mixed = a.map((v, i) => Math.round(v + (b[i]! - v) * (place - Math.floor(place))));
  return `rgb(${mixed.join(" ")})`;
}

/** The distinct values of a list, sorted. */
export function steps(values: number[]): number[] {
  return [...new Set(values)].sort((a, b) => a - b);
}
