import { DASHES } from "./curves";

/** The line of the curve at a place in a strip, as its legend shows it. */
export function Dash({ order }: { order: number }) {
  return (
    <svg width="20" height="6" className="shrink-0" aria-hidden="true">
      <line
        x1="0"
        x2="20"
        y1="3"
        y2="3"
        stroke="currentColor"
        strokeWidth="1.5"
        strokeDasharray={DASHES[order % DASHES.length]!.join(" ")}
      />
    </svg>
  );
}
