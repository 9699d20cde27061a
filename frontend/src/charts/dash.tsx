import { runColour } from "../state/shown-runs";
import { DASHES } from "./curves";

/** The line of a curve as its legend shows it; in ink where it has several colours. */
export function Dash({ order, slot }: { order: number; slot?: number | undefined }) {
  return (
    <svg width="20" height="6" className="shrink-0" aria-hidden="true">
      <line
        x1="0"
        x2="20"
        y1="3"
        y2="3"
        stroke={slot === undefined ? "currentColor" : runColour(slot)}
        strokeWidth={slot === undefined ? 1.5 : 2}
        strokeDasharray={DASHES[order % DASHES.length]!.join(" ")}
      />
    </svg>
  );
}
