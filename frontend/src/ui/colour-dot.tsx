import { runColour } from "../state/shown-runs";

/** The colour of a scenario; older runs of it are rings, the fainter the older. */
export function ColourDot({ slot, shade = 1 }: { slot: number; shade?: number }) {
  const colour = runColour(slot);
  return (
    <span
      className="inline-block size-2.5 shrink-0 rounded-full border-2"
      style={{
        background: shade < 1 ? "transparent" : colour,
        borderColor: colour,
        opacity: Math.sqrt(shade),
      }}
      data-shade={shade}
      aria-hidden="true"
    />
  );
}
