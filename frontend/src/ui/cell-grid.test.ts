import { expect, it } from "vitest";

import { copied, emptied, gridOf, pasted, textOf, withRoom, written } from "./cell-grid";

const grid = () => withRoom(gridOf("0\t0\n1\t1"));

it("reads and writes cells as a spreadsheet does, with room for one row more", () => {
  expect(grid()).toEqual([["0", "0"], ["1", "1"], ["", ""]]); // prettier-ignore
  expect(textOf(grid())).toBe("0\t0\n1\t1");
  expect(textOf(written(grid(), [2, 0], "5"))).toBe("0\t0\n1\t1\n5\t");
  expect(written(grid(), [2, 0], "5")).toHaveLength(4);
});

it("pastes from the cell on, with more rows as needed, but no more columns", () => {
  expect(textOf(pasted(grid(), [1, 1], gridOf("7\t8\n9 kN\t1\r\n3\t2\n")))).toBe(
    "0\t0\n1\t7\n\t9 kN\n\t3",
  );
  expect(textOf(pasted(grid(), [0, 0], gridOf("4")))).toBe("4\t0\n1\t1");
});

it("copies and empties what lies between two corners, in whatever order", () => {
  const at = (row: number, column: number) => grid()[row]?.[column] ?? null;
  expect(copied(at, [1, 1], [0, 0])).toBe("0\t0\n1\t1");
  expect(copied(at, [1, 0], [1, 1])).toBe("1\t1");
  expect(textOf(emptied(grid(), [1, 0], [0, 0]))).toBe("\t0\n\t1");
});
