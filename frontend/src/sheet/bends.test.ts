import { describe, expect, it } from "vitest";

import { followed } from "./bends";

const square = (points: number[][]) =>
  points.every((p, i) => i === 0 || p[0] === points[i - 1]![0] || p[1] === points[i - 1]![1]);

describe("a wire whose parts are dragged", () => {
  const wire = [
    [0, 0],
    [20, 0],
    [20, 30],
    [50, 30],
  ];
  it("goes along as a whole when both ends do", () => {
    expect(followed(wire, [5, -5], [5, -5])).toEqual([
      [5, -5],
      [25, -5],
      [25, 25],
      [55, 25],
    ]);
  });
  it("keeps its other end and its right angles when one does", () => {
    expect(followed(wire, [0, 0], [10, 12])).toEqual([
      [0, 0],
      [20, 0],
      [20, 42],
      [60, 42],
    ]);
    expect(followed(wire, [-7, 4], [0, 0])).toEqual([
      [-7, 4],
      [20, 4],
      [20, 30],
      [50, 30],
    ]);
  });
  it("gets corners where it was straight", () => {
    const bent = followed(
      [
        [0, 0],
        [40, 0],
      ],
      [0, 0],
      [0, 10],
    );
    expect(bent).toEqual([
      [0, 0],
      [20, 0],
      [20, 10],
      [40, 10],
    ]);
    for (let i = -20; i <= 20; i += 5) expect(square(followed(wire, [i, 7], [3, -i]))).toBe(true);
  });
});
