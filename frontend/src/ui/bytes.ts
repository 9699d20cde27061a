const UNITS = ["B", "kB", "MB", "GB", "TB"];

/** A number of bytes with three digits at most and a decimal prefix. */
export function bytes(count: number): string {
  let [size, step] = [count, 0];
  while (size >= 999.5 && step < UNITS.length - 1) [size, step] = [size / 1000, step + 1];
  const digits = step === 0 || size >= 100 ? 0 : size >= 10 ? 1 : 2;
  return `${size.toFixed(digits)}\u2009${UNITS[step]}`;
}
