import { formatUnit } from "../ui/format";
import { Plot } from "./plot";

export interface LiveCurve {
  experiment: string;
  variable: string;
  unit: string;
  time: number[];
  measured: number[];
  best: number[];
}

/** A measured output, and what the model makes of it with the best values so far, while a fit goes on. */
export function BestSoFar({ curve }: { curve: LiveCurve }) {
  const { variable, experiment, unit, time } = curve;
  return (
    <div data-testid="best-so-far">
      <Plot
        label={`${variable} in ${experiment}, measured and with the best values so far`}
        height={150}
        xWords="time in s"
        yWords={unit ? `${variable} in ${formatUnit(unit)}` : variable}
        lines={[
          {
            name: `measured, ${experiment}`,
            x: time,
            y: curve.measured,
            colour: "var(--color-secondary)",
            dots: true,
          },
          { name: "best so far", x: time, y: curve.best, colour: "var(--run-0)" },
        ]}
      />
    </div>
  );
}
