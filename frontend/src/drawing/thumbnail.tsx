import type { Sheet } from "../api/client";
import { frameOf } from "./picture-frame";
import { SheetPicture } from "./sheet-picture";

/** A small drawing of a whole sheet, without words. */
export function Thumbnail({ sheet }: { sheet: Sheet }) {
  if (sheet.components.length === 0)
    return <p className="muted grid h-full place-items-center">written as equations</p>;
  const { x, y, width, height } = frameOf(sheet, false);
  return (
    <svg
      viewBox={`${x} ${y} ${width} ${height}`}
      className="thumbnail h-full w-full"
      aria-hidden="true"
    >
      <SheetPicture sheet={sheet} notes={false} />
    </svg>
  );
}
