import { runColour } from "../state/shown-runs";

/** The colour of a scenario; an older run of it is a ring. */
export function ColourDot({ slot, faded = false }: { slot: number; faded?: boolean }) {
  const colour = runColour(slot);
  return (
    <span
      className="inline-block size-2.5 shrink-0 rounded-full border-2"
      style={{ background: faded ? "transparent" : colour, borderColor: colour }}
      data-faded={faded}
      aria-hidden="true"
    />
  );
}
