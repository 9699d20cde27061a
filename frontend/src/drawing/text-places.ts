import type { SheetComponent } from "../api/client";
import { boxOf } from "./geometry";
import type { Shape } from "./shapes";

/** Whether a text stands above or below a symbol. */
export function isOutside(text: Shape, [, y1 = -100, , y2 = 100]: number[]): boolean {
  const [[, a = 0] = [], [, b = 0] = []] = text.extent ?? [];
  return Math.min(a, b) >= Math.max(y1, y2) || Math.max(a, b) <= Math.min(y1, y2);
}

/** The texts of a symbol where they stand when it is turned or mirrored: upright, and never mirrored themselves. */
export function placedTexts(
  component: Pick<SheetComponent, "rotation" | "icon" | "extent">,
): Shape[] {
  const box = boxOf(component.extent);
  const upended = Math.round(component.rotation / 90) % 2 !== 0;
  return (component.icon.graphics as unknown as Shape[])
    .filter((shape) => shape.is === "Text")
    .map((shape) =>
      isOutside(shape, component.icon.extent)
        ? upended
          ? beside(shape, component.icon.extent)
          : shape
        : turned(shape, component, box),
    );
}

/** Whether a text is the name of the part. */
export function isName(text: Shape): boolean {
  return (text.textString ?? "").includes("%name");
}

/** A text somewhere else, in coordinates of its symbol. */
export function movedBy(text: Shape, dx: number, dy: number): Shape {
  return {
    ...text,
    extent: (text.extent ?? []).map(([x = 0, y = 0]) => [x + dx, y + dy]),
  };
}

/** A sign within a symbol, at its place when the symbol is turned or mirrored: a plus stays at its port. */
export function turned(
  text: Shape,
  { rotation, icon }: Pick<SheetComponent, "rotation" | "icon">,
  { mirrored, flipped }: { mirrored: boolean; flipped: boolean },
): Shape {
  const [x1 = -100, y1 = -100, x2 = 100, y2 = 100] = icon.extent;
  const [[a = 0, b = 0] = [], [c = 0, d = 0] = []] = text.extent ?? [];
  const [middleX, middleY] = [(x1 + x2) / 2, (y1 + y2) / 2];
  const x = ((a + c) / 2 - middleX) * (mirrored ? -1 : 1);
  const y = ((b + d) / 2 - middleY) * (flipped ? -1 : 1);
  const angle = (rotation * Math.PI) / 180;
  const atX = middleX + x * Math.cos(angle) - y * Math.sin(angle);
  const atY = middleY + x * Math.sin(angle) + y * Math.cos(angle);
  const [w, h] = [(c - a) / 2, (d - b) / 2];
  return {
    ...text,
    extent: [
      [atX - w, atY - h],
      [atX + w, atY + h],
    ],
  };
}

/** Where a text above or below a symbol stands when the symbol is turned upright: at its side, clear of the wires. */
export function beside(text: Shape, [, y1 = -100, x2 = 100, y2 = 100]: number[]): Shape {
  const [[, a = 0] = [], [, b = 0] = []] = text.extent ?? [];
  const height = Math.abs(a - b);
  const above = Math.min(a, b) >= Math.max(y1, y2);
  const top = above ? height + 6 : -6;
  return {
    ...text,
    extent: [
      [x2 * 0.75, top],
      [x2 * 0.75 + 300, top - height],
    ],
    horizontalAlignment: "Left",
  };
}
