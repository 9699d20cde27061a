import { ViewportPortal } from "@xyflow/react";

import type { Sheet } from "../api/client";
import { Arrows, type Arrow, type Dragged } from "../drawing/arrows";

/** The arrows of state machines on the sheet. */
export function Transitions({
  sheet,
  dragged,
  onPick,
}: {
  sheet: Sheet;
  dragged: Dragged;
  onPick: (arrow: Arrow) => void;
}) {
  if (sheet.transitions.length === 0) return null;
  return (
    <ViewportPortal>
      <svg
        className="pointer-events-none absolute top-0 left-0 overflow-visible"
        width={1}
        height={1}
        data-testid="transitions"
      >
        <Arrows sheet={sheet} dragged={dragged} onPick={onPick} />
      </svg>
    </ViewportPortal>
  );
}
