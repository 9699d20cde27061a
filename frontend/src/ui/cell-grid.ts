/** Cells in rows, as texts; all rows have the same number of cells. */
export type Grid = string[][];
/** A cell: its row and its column. */
export type Cell = readonly [number, number];

/** The cells of a text whose rows are lines and whose cells are parted by tabulators, as a spreadsheet has it. */
export function gridOf(text: string): Grid {
  const rows = text
    .replace(/\r/g, "")
    .replace(/\n+$/, "")
    .split("\n")
    .map((line) => line.split("\t").map((cell) => cell.trim()));
  return even(rows);
}

/** The text of cells; rows at the end in which nothing stands are left out. */
export function textOf(grid: Grid): string {
  const last = grid.findLastIndex((row) => row.some((cell) => cell !== ""));
  return grid
    .slice(0, last + 1)
    .map((row) => row.join("\t"))
    .join("\n");
}

/** The cells with one of them written anew; a row is put below when it is the last one. */
export function written(grid: Grid, [row, column]: Cell, text: string): Grid {
  return withRoom(
    grid.map((cells, r) => (r === row ? cells.map((c, k) => (k === column ? text : c)) : cells)),
  );
}

/** The cells with a pasted block from a cell on; rows are put below as needed, columns are not. */
export function pasted(grid: Grid, [row, column]: Cell, block: Grid): Grid {
  const columns = grid[0]!.length;
  const rows = Math.max(grid.length, row + block.length);
  return withRoom(
    Array.from({ length: rows }, (_, r) =>
      Array.from({ length: columns }, (_, c) => {
        const given = block[r - row]?.[c - column];
        return c >= column && given !== undefined ? given : (grid[r]?.[c] ?? "");
      }),
    ),
  );
}

/** The text of the cells between two corners; `textAt` gives that of each. */
export function copied(
  textAt: (row: number, column: number) => string | null,
  one: Cell,
  other: Cell,
): string {
  const [top, left, bottom, right] = corners(one, other);
  return Array.from({ length: bottom - top + 1 }, (_, r) =>
    Array.from({ length: right - left + 1 }, (_, c) => textAt(top + r, left + c) ?? "").join("\t"),
  ).join("\n");
}

/** The cells with those between two corners emptied. */
export function emptied(grid: Grid, one: Cell, other: Cell): Grid {
  return grid.map((row, r) => row.map((cell, c) => (isBetween([r, c], one, other) ? "" : cell)));
}

/** Whether a cell lies between two corners. */
export function isBetween([row, column]: Cell, one: Cell, other: Cell): boolean {
  const [top, left, bottom, right] = corners(one, other);
  return row >= top && row <= bottom && column >= left && column <= right;
}

/** The cells with an empty row at the end, in which one can go on. */
export function withRoom(grid: Grid): Grid {
  const filled = grid.at(-1)?.some((cell) => cell !== "") ?? true;
  return filled ? [...grid, grid[0]!.map(() => "")] : grid;
}

function corners(one: Cell, other: Cell): [number, number, number, number] {
  return [
    Math.min(one[0], other[0]),
    Math.min(one[1], other[1]),
    Math.max(one[0], other[0]),
    Math.max(one[1], other[1]),
  ];
}

function even(rows: Grid): Grid {
  const columns = Math.max(...rows.map((row) => row.length));
  return rows.map((row) => [...row, ...Array<string>(columns - row.length).fill("")]);
}
