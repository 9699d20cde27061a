import { describe, expect, it } from "vitest";

import { boxOf, wirePath } from "../drawing/geometry";
import { asPoints, evaluate } from "../drawing/replay";
import { fillIn } from "../drawing/words";

describe("replay of moving symbols", () => {
  const lookup = (name: string) => ({ level: 0.5, height: 2 })[name];
  it("evaluates an extent with values at the cursor", () => {
    const rising = [
      "list",
      [
        "list",
        ["-", 90],
        ["+", ["-", 100], ["/", ["*", 190, ["ref", "level"]], ["ref", "height"]]],
      ],
      ["list", 90, ["-", 100]],
    ];
    expect(asPoints(evaluate(rising, lookup))).toEqual([
      [-90, -52.5],
      [90, -100],
    ]);
  });
  it("leaves a shape alone when a value is not known", () => {
    expect(asPoints(evaluate(["list", ["list", ["ref", "nothing"], 1]], lookup))).toBeNull();
    expect(evaluate(["if", [">", ["ref", "nothing"], 1], 1, 2], lookup)).toBeNull();
    expect(evaluate(["if", [">", ["ref", "level"], 1], 1, ["call", "sqrt", 4]], lookup)).toBe(2);
  });
});

describe("drawing", () => {
  it("turns an extent into a box on the screen, mirrored or not", () => {
    expect(boxOf([0, 0, 20, 10])).toEqual({
      x: 0,
      y: -20,
      width: 40,
      height: 20,
      mirrored: false,
      flipped: false,
    });
    expect(boxOf([20, 10, 0, 0])).toMatchObject({ x: 0, y: -20, mirrored: true, flipped: true });
  });
  it("routes through every corner", () => {
    expect(
      wirePath(
        [
          [0, 0],
          [10, 0],
          [10, 10],
        ],
        0,
      ),
    ).toBe("M0 0L20 0Q20 0 20 0L20 -20");
  });
  it("fills names and values into texts", () => {
    const words = {
      name: "outlet",
      className: "Movrel.Process.Orifice",
      labels: { diameter: "0.15 m" },
    };
    expect(fillIn("%name: %diameter, 50 %% of %class", words)).toBe(
      "outlet: 0.15 m, 50 % of Orifice",
    );
  });
});
