import { DASHES } from "../charts/curves";
import { Dash } from "../charts/dash";
import { lookWords, readLook, type ChosenLook } from "../state/looks";
import { ColourChoice } from "../ui/colour-choice";
import { Popover } from "../ui/popover";

interface Props {
  name: string;
  /** How it is drawn now; no slot where its runs have several. */
  shown: { slot: number | undefined; dash: number };
  /** What was chosen, in words. */
  chosen: string | undefined;
  onChange: (words: string) => void;
}

/** The line of a curve in the legend; a click chooses its colour and its dash. */
export function CurveLookMenu({ name, shown, chosen, onChange }: Props) {
  const look = readLook(chosen);
  const choose = (fields: ChosenLook) => onChange(lookWords({ ...look, ...fields }));
  return (
    <Popover
      label={<Dash order={shown.dash} slot={shown.slot} />}
      words={`Colour and dash of ${name}`}
      title={`Colour and dash of ${name}`}
      className="shrink-0 cursor-pointer py-1"
      testid={`look-${name}`}
    >
      {(close) => (
        <div className="flex flex-col gap-2">
          <div role="radiogroup" aria-label="Colour" className="flex items-center gap-1">
            <ColourChoice
              chosen={look.slot}
              onChoose={(slot) => choose({ slot })}
              testid={(slot) => `look-colour-${slot + 1}`}
            />
          </div>
          <div role="radiogroup" aria-label="Dash" className="flex items-center gap-1">
            {DASHES.map((_, dash) => (
              <button
                key={dash}
                type="button"
                role="radio"
                aria-checked={look.dash === dash}
                aria-label={`Dash ${dash + 1}`}
                className={`px-1 py-2 ${look.dash === dash ? "border border-base-content" : "border border-transparent"}`}
                onClick={() => choose({ dash })}
                data-testid={`look-dash-${dash + 1}`}
              >
                <Dash order={dash} slot={look.slot} />
              </button>
            ))}
          </div>
          <button
            type="button"
            className="btn btn-xs self-start font-normal"
            disabled={!chosen}
            onClick={() => (onChange(""), close())}
            data-testid="look-automatic"
          >
            Automatic
          </button>
        </div>
      )}
    </Popover>
  );
}
