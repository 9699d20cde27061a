import { expect, it } from "vitest";

import type { Sheet } from "../api/client";
import { frameOf, writtenNotes } from "./picture-frame";

const sheet = (extents: number[][], points: number[][][], notes: unknown[] = []) =>
  ({
    components: extents.map((extent, i) => ({ name: `c${i}`, extent })),
    connections: points.map((p) => ({ points: p })),
    graphics: notes,
  }) as unknown as Sheet;

it("holds parts, wires and, if asked, notes, with room around", () => {
  // Two pixels to a unit of the drawing, y downwards, 26 pixels around.
  expect(frameOf(sheet([[0, 0, 20, 20]], []), false)).toEqual({
    x: -26,
    y: -66,
    width: 92,
    height: 92,
  });
  expect(
    frameOf(
      sheet(
        [[0, 0, 20, 20]],
        [
          [
            [0, 0],
            [60, 0],
          ],
        ],
      ),
      false,
    ).width,
  ).toBe(172);
  const note = {
    is: "Text",
    extent: [
      [0, 100],
      [50, 90],
    ],
    textString: "a $x^2$\nb",
  };
  const noted = sheet([[0, 0, 20, 20]], [], [note]);
  expect(frameOf(noted, true).y).toBeLessThan(frameOf(noted, false).y);
  expect(writtenNotes(noted).map((n) => [n.text, n.y])).toEqual([
    ["a x^2", -184],
    ["b", -168],
  ]);
});
