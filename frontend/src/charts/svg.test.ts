import { expect, it } from "vitest";

import { stripSvg, ticks } from "./svg";

it("takes round numbers for ticks", () => {
  expect(ticks(0, 10, 5)).toEqual([0, 2, 4, 6, 8, 10]);
  expect(ticks(-0.3, 0.31, 6).map((v) => Number(v.toFixed(6)))).toEqual([-0.2, 0, 0.2]);
  expect(ticks(3, 3, 5)).toEqual([3]);
});

it("draws each curve with its colour, dash and name, within the axes", () => {
  const curve = (run: number, order: number, name: string) => ({
    run,
    slot: run,
    order,
    name,
    unit: "m",
    side: run === 2 ? ("right" as const) : ("left" as const),
    time: [0, 1, 2],
    values: [0, 5, 1],
  });
  const svg = stripSvg({
    curves: [curve(1, 0, "a<b"), curve(2, 1, "c")],
    range: [0, 2],
    width: 640,
    height: 300,
    colour: (slot) => `#00000${slot}`,
    ink: "#111",
    rule: "#ddd",
    ground: "#fff",
    runName: (run) => `run ${run}`,
  });
  expect(svg.match(/<path d="M[\d. L]+" stroke="#00000[12]"/g)).toHaveLength(2);
  expect(svg).toContain("a&lt;b");
  expect(svg).toContain("run 2");
  expect(svg).toContain("c (right)");
  expect(svg).toContain('stroke-dasharray="9 4"');
  expect(svg).not.toContain("NaN");
});
