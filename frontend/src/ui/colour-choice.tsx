import { RUN_COLOURS } from "../state/shown-runs";
import { ColourDot } from "./colour-dot";

interface Props {
  /** The slot of the colour that is chosen now, if one is. */
  chosen: number | undefined;
  onChoose: (slot: number) => void;
  testid: (slot: number) => string;
}

/** The colours of runs and curves, one of which is chosen. */
export function ColourChoice({ chosen, onChoose, testid }: Props) {
  return Array.from({ length: RUN_COLOURS }, (_, slot) => (
    <button
      key={slot}
      type="button"
      role="radio"
      aria-checked={chosen === slot}
      aria-label={`Colour ${slot + 1}`}
      className={`p-1 ${chosen === slot ? "border border-base-content" : "border border-transparent"}`}
      onClick={() => onChoose(slot)}
      data-testid={testid(slot)}
    >
      <ColourDot slot={slot} />
    </button>
  ));
}
