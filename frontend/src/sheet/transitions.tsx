import type { Sheet } from "../api/client";
import { Arrows, type Arrow, type Dragged } from "../drawing/arrows";
import { Overlay } from "./overlay";

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
    <Overlay data-testid="transitions">
      <Arrows sheet={sheet} dragged={dragged} onPick={onPick} />
    </Overlay>
  );
}
