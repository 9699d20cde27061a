import type { Row } from "../api/client";
import { editText } from "./row-text";

/** A parameter that is a vector or matrix of numbers, gathered from the rows of its elements. */
export interface Table {
  name: string;
  label: string;
  description: string;
  /** The elements, row by row; of a vector one in each. */
  elements: Row[][];
  editable: boolean;
  /** The expression that gives all of it, where it is not written element by element. */
  whole: string | null;
}

/** Rows in their order, those of one table gathered in the place of its first element. */
export function gathered(rows: Row[]): (Row | Table)[] {
  const items: (Row | Table)[] = [];
  const tables = new Map<string, Table>();
  for (const row of rows) {
    const match = /^(.*)\[(\d+)(?:,(\d+))?\]$/.exec(row.name);
    if (!match || (row.type !== "Real" && row.type !== "Integer")) {
      items.push(row);
      continue;
    }
    let table = tables.get(match[1]!);
    if (!table) {
      table = {
        name: match[1]!,
        label: row.label.replace(/\[[\d,]+\]$/, ""),
        description: row.description,
        elements: [],
        editable: true,
        whole: row.whole,
      };
      tables.set(table.name, table);
      items.push(table);
    }
    (table.elements[Number(match[2]) - 1] ??= [])[Number(match[3] ?? 1) - 1] = row;
    table.editable &&= row.editable;
  }
  return items;
}

/** A table as text: one row in a line, parted by tabulators, as a spreadsheet takes them; or the expression that gives it. */
export function asText(table: Table): string {
  return table.whole ?? table.elements.map((row) => row.map(editText).join("\t")).join("\n");
}

/** The size of a table in words. */
export function sizeWords(table: Table): string {
  const [rows, columns] = [table.elements.length, table.elements[0]?.length ?? 0];
  return columns > 1 ? `${rows} × ${columns}` : `${rows} value${rows === 1 ? "" : "s"}`;
}

/** Points of a small curve of the second column over the first, within a box of that size; empty when there is none. */
export function curveOf(table: Table, width: number, height: number): string {
  const points = table.elements
    .map((row) => [row[0]?.value, row[1]?.value])
    .filter((p): p is [number, number] => p.every((v) => typeof v === "number"));
  if (points.length < 2) return "";
  const [xs, ys] = [points.map((p) => p[0]), points.map((p) => p[1])];
  const [x0, x1, y0, y1] = [Math.min(...xs), Math.max(...xs), Math.min(...ys), Math.max(...ys)];
  return points
    .map(
      ([x, y]) =>
        `${(((x - x0) / (x1 - x0 || 1)) * width).toFixed(1)},${(height - ((y - y0) / (y1 - y0 || 1)) * height).toFixed(1)}`,
    )
    .join(" ");
}
