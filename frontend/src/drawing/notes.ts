import type { Shape } from "./shapes";

export interface Note {
  index: number;
  text: string;
  /** Upper left corner in units of the drawing. */
  x: number;
  y: number;
  width: number;
}

/** The texts of the sheet's own drawing. */
export function notesOf(graphics: Shape[]): Note[] {
  return graphics
    .filter((shape) => shape.is === "Text" && shape.extent)
    .map((shape) => {
      const [[x1 = 0, y1 = 0] = [], [x2 = 0, y2 = 0] = []] = shape.extent!;
      return {
        index: shape.index ?? 0,
        text: shape.textString ?? "",
        x: Math.min(x1, x2),
        y: Math.max(y1, y2),
        width: Math.abs(x2 - x1),
      };
    });
}
