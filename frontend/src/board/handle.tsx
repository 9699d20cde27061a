import { useRef, type ReactNode } from "react";

import { COLUMNS, ROW, type Box } from "./grid";

interface Props {
  box: Box;
  /** Width of a column in pixels. */
  column: number;
  /** Whether it changes the size, not the place. */
  resizes?: boolean;
  className: string;
  testid: string;
  onBox: (box: Box, done: boolean) => void;
  children?: ReactNode;
}

/** Something by which a tile is dragged to another place or size. */
export function Handle({ box, column, resizes, className, testid, onBox, children }: Props) {
  const begun = useRef<{ x: number; y: number; box: Box } | null>(null);
  const boxAt = (from: { x: number; y: number; box: Box }, event: React.PointerEvent): Box => {
    const [right, down] = [(event.clientX - from.x) / column, (event.clientY - from.y) / ROW];
    return resizes
      ? {
          ...from.box,
          width: Math.min(from.box.width + right, COLUMNS - from.box.x),
          height: from.box.height + down,
        }
      : { ...from.box, x: from.box.x + right, y: from.box.y + down };
  };
  return (
    <div
      className={`${className} touch-none select-none`}
      data-testid={testid}
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        begun.current = { x: event.clientX, y: event.clientY, box };
      }}
      onPointerMove={(event) => {
        if (begun.current) onBox(boxAt(begun.current, event), false);
      }}
      onPointerUp={(event) => {
        if (!begun.current) return;
        const placed = boxAt(begun.current, event);
        begun.current = null;
        onBox(placed, true);
      }}
    >
      {children}
    </div>
  );
}
