import type { Sheet } from "../api/client";
import { boxOf, SCALE } from "./geometry";
import { notesOf } from "./notes";
import type { Shape } from "./shapes";

/** Room around the parts, for names and what stands beside them. */
const MARGIN = 26;
/** Letters of a note are about so wide and high, in pixels of the drawing. */
const [LETTER, LINE] = [6.2, 16];

/** The part of the plane that a drawing takes; with its notes if they are drawn. */
export function frameOf(
  sheet: Sheet,
  notes: boolean,
): { x: number; y: number; width: number; height: number } {
  const boxes = [
    ...sheet.components.map((c) => boxOf(c.extent)),
    ...sheet.connections.flatMap((c) =>
      c.points.map(([x = 0, y = 0]) => ({ x: x * SCALE, y: -y * SCALE, width: 0, height: 0 })),
    ),
    ...(notes
      ? writtenNotes(sheet).map((n) => ({
          x: n.x,
          y: n.y - LINE,
          width: n.text.length * LETTER,
          height: LINE,
        }))
      : []),
  ];
  const [left, top] = [Math.min(...boxes.map((b) => b.x)), Math.min(...boxes.map((b) => b.y))];
  const [right, bottom] = [
    Math.max(...boxes.map((b) => b.x + b.width)),
    Math.max(...boxes.map((b) => b.y + b.height)),
  ];
  return {
    x: left - MARGIN,
    y: top - MARGIN,
    width: right - left + 2 * MARGIN,
    height: bottom - top + 2 * MARGIN,
  };
}

/** The lines of the notes, where they stand in pixels of the drawing. */
export function writtenNotes(sheet: Sheet): { text: string; x: number; y: number }[] {
  return notesOf(sheet.graphics as unknown as Shape[]).flatMap((note) =>
    note.text.split("\n").map((text, i) => ({
      text: text.replaceAll("$", ""),
      x: note.x * SCALE,
      y: -note.y * SCALE + (i + 1) * LINE,
    })),
  );
}
