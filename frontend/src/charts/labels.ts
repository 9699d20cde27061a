/** The place nearest to where a label wants to stand that is within bounds and clear of others. */
export function freePlace(
  wanted: number,
  line: number,
  top: number,
  bottom: number,
  used: number[],
): number {
  const start = Math.min(Math.max(wanted, top), bottom);
  for (let k = 0; k < 20; k += 1) {
    for (const y of [start - k * line, start + k * line]) {
      if (y >= top && y <= bottom && !used.some((other) => Math.abs(other - y) < line)) return y;
    }
  }
  return start;
}
