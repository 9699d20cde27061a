/** Prefixes of units, so that numbers are as short as engineers write them: 100 µF, 2 MN·m/rad. */

/** Units that people use with a prefix, and the powers of ten, from and to, of those that they use. */
const PREFIXED: Record<string, [number, number]> = {
  F: [-12, 0], H: [-9, 0], Ohm: [-6, 9], S: [-9, 3], V: [-9, 6], A: [-12, 6], C: [-12, 0], W: [-9, 9], VA: [0, 9],
  J: [-9, 9], N: [-6, 9], Pa: [-3, 9], Hz: [-3, 9], s: [-12, 0], m: [-9, 3], T: [-9, 0], Wb: [-9, 0],
}; // prettier-ignore
const SIGNS: Record<number, string> = {
  [-12]: "p",
  [-9]: "n",
  [-6]: "u",
  [-3]: "m",
  0: "",
  3: "k",
  6: "M",
  9: "G",
};
/** Sizes between which a number is read well without a prefix. */
const [SMALL, LARGE] = [0.01, 1e4];

/** What a number is multiplied by, and the unit in which it is shown then. */
export interface Suited {
  factor: number;
  unit: string;
}

/** The unit that suits numbers up to a size; the same one where it suits, or takes no prefix. */
export function suitedUnit(size: number, unit: string): Suited {
  const same = { factor: 1, unit };
  const [, first, rest] = /^([A-Za-z]+)((?:[./].*)?)$/.exec(unit) ?? [];
  const powers = first === undefined ? undefined : PREFIXED[first];
  if (!powers || !Number.isFinite(size) || size === 0 || (size >= SMALL && size < LARGE))
    return same;
  const wanted = Math.floor(Math.log10(size * (1 + 1e-12)) / 3) * 3;
  const power = Math.min(Math.max(wanted, powers[0]), powers[1]);
  return power === 0 ? same : { factor: 10 ** -power, unit: `${SIGNS[power]}${first}${rest}` };
}

/** A number in the unit that suits it, unless it is longer to read there. */
export function suited(
  value: number,
  unit: string,
  text: (value: number) => string,
): { value: number; unit: string } {
  const { factor, unit: other } = suitedUnit(Math.abs(value), unit);
  const scaled = Number((value * factor).toPrecision(15));
  return factor !== 1 && text(scaled).length < text(value).length
    ? { value: scaled, unit: other }
    : { value, unit };
}

/** Units of time that have names of their own, in s. */
export const TIME_UNITS: Record<string, number> = {
  ns: 1e-9,
  us: 1e-6,
  ms: 1e-3,
  s: 1,
  min: 60,
  h: 3600,
  d: 86400,
};

/** The unit for an axis over a time in s. */
export function suitedTimeUnit(span: number): string {
  if (span > 4 * 86400) return "d";
  if (span > 4 * 3600) return "h";
  if (span > 1200) return "min";
  if (span >= 0.5) return "s";
  return span >= 5e-4 ? "ms" : span >= 5e-7 ? "us" : "ns";
}
