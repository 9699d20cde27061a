import { formatNumber } from "../ui/format";
import { Plot } from "./plot";
import { largestGap, movesOn, type Pair } from "./types";

interface Props {
  pair: Pair;
  /** Of the output, and of the input. */
  unit: string;
  inputUnit: string;
}

/** The response to a step; beside it that of the model itself, where a size was asked for; and the one to an impulse. */
export function Steps({ pair, unit, inputUnit }: Props) {
  const { large } = pair;
  const size = large?.amplitude ?? 1;
  const linear = pair.step.map((v) => v * size);
  const own = large?.values;
  const gap = own ? largestGap(linear, own) : null;
  const yWords = unit ? `deviation in ${unit}` : "deviation";
  return (
    <>
      <h4 className="font-medium">
        {pair.output} after a step of {pair.input} by {formatNumber(size)} {inputUnit}
      </h4>
      <Plot
        label="response to a step"
        xWords="time in s"
        yWords={yWords}
        lines={[
          { name: "linear model", x: pair.time, y: linear, colour: "var(--run-0)" },
          ...(own
            ? [
                {
                  name: "the model itself",
                  x: pair.time,
                  y: own,
                  colour: "var(--run-1)",
                  dash: "6 3",
                },
              ]
            : []),
        ]}
      />
      {gap !== null && (
        <p data-testid="linear-gap">
          For this step the linear model is off by at most {formatNumber(gap.most, 3)} {unit}
          {gap.share !== null && `, ${formatNumber(100 * gap.share, 3)} % of the largest deviation`}
          .
        </p>
      )}
      {own && movesOn(own, large.drift ?? 0) && (
        <p className="text-warning">
          △ Without the step it moves on by up to {formatNumber(large.drift ?? 0, 3)} {unit}, as
          something changes with time: the linear model holds for a short while only.
        </p>
      )}
      {large?.fault && (
        <p role="alert" className="text-error">
          ✕ The model itself does not run through that step: {large.fault}
        </p>
      )}
      <h4 className="font-medium">
        {pair.output} after an impulse of {pair.input} of area 1{" "}
        {inputUnit ? `${inputUnit}·s` : "s"}
      </h4>
      <Plot
        label="response to an impulse"
        xWords="time in s"
        yWords={yWords}
        lines={[{ name: "impulse", x: pair.time, y: pair.impulse, colour: "var(--run-0)" }]}
      />
    </>
  );
}
