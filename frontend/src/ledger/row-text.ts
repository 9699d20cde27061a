import type { Row } from "../api/client";
import { exactNumber, formatNumber } from "../format";

/** What a row shows when nobody is editing it. */
export function shownText(row: Row): string {
  if (row.expression !== null) return row.expression;
  if (row.shown !== null) return formatNumber(row.shown);
  return row.value === null ? "" : String(row.value);
}

/** What a row offers for editing: every digit. */
export function editText(row: Row): string {
  if (row.expression !== null) return row.expression;
  if (row.shown !== null) return exactNumber(row.shown);
  return row.value === null ? "" : String(row.value);
}
