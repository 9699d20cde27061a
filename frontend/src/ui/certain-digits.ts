import { formatNumber } from "./format";

/** A number in writing, cut where its digits are no longer certain. */
export interface CertainParts {
  certain: string;
  doubtful: string;
  /** What follows the digits: the power of ten. */
  rest: string;
}

/** How many significant digits of a number stay where it may be off by so much. */
export function certainDigits(value: number, off: number): number {
  if (off === 0) return Infinity;
  if (value === 0) return 0;
  return Math.max(
    0,
    Math.floor(Math.log10(Math.abs(value))) - Math.ceil(Math.log10(2 * off) - 1e-9) + 1,
  );
}

/** The number as it is shown elsewhere, in its certain and its doubtful digits. */
export function certainParts(value: number, off: number): CertainParts {
  const text = formatNumber(value);
  const power = text.indexOf("e");
  const [digits, rest] = power < 0 ? [text, ""] : [text.slice(0, power), text.slice(power)];
  const certain = certainDigits(value, off);
  let counted = 0;
  for (let i = 0; i < digits.length; i++) {
    const sign = digits[i]!;
    if (!/[0-9]/.test(sign) || (sign === "0" && counted === 0)) continue;
    if (counted === certain)
      return { certain: digits.slice(0, i), doubtful: digits.slice(i), rest };
    counted++;
  }
  return { certain: digits, doubtful: "", rest };
}
