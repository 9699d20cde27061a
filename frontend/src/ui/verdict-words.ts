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
