import { formatNumber, formatTime, withUnit } from "./format";
import type { Judged } from "../state/scenarios";

/** Value, limit and margin of a verdict, or why there is none. */
export function verdictWords(judged: Judged): string {
  if (judged.holds === null)
    return judged.reason ? `cannot be judged: ${judged.reason}` : "not judged yet";
  if (judged.value === null || judged.value === undefined) return judged.holds ? "holds" : "fails";
  const where =
    judged.instant !== null && judged.instant !== undefined
      ? ` at ${formatTime(judged.instant)}`
      : "";
  const value = `${withUnit(judged.value, judged.unit ?? "") || formatNumber(judged.value)}${where}`;
  const margin =
    judged.margin === null || judged.margin === undefined
      ? ""
      : judged.holds && judged.margin < 0
        ? ", equal within rounding"
        : `, ${judged.holds ? "margin" : "fails by"} ${withUnit(Math.abs(judged.margin), judged.unit ?? "") || formatNumber(Math.abs(judged.margin))}`;
  return `${value}${margin}`;
}

/** Share of a margin from which on its numerical uncertainty is told. */
const NOTABLE = 1e-3;

/** What the numbers of a run leave open of a verdict, and whether that is more than its margin; empty where it is not known. */
export function numericalWords(judged: Judged): { words: string; doubtful: boolean } {
  const { numerical, margin, unit } = judged;
  if (numerical === null || numerical === undefined || margin === null || margin === undefined)
    return { words: "", doubtful: false };
  const round = Number(numerical.toPrecision(2));
  const size = withUnit(round, unit ?? "") || formatNumber(round);
  if (numerical >= Math.abs(margin))
    return {
      words: `the margin is smaller than the numerical uncertainty, ${size}`,
      doubtful: true,
    };
  const words = numerical > NOTABLE * Math.abs(margin) ? `numerical uncertainty ${size}` : "";
  return { words, doubtful: false };
}
