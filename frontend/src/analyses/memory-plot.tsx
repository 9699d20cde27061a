import { Plot } from "./plot";
import type { Figures } from "./types";

/** How much residuals remember: their autocorrelation by lag, between the bounds of white noise (95 %). */
export function MemoryPlot({
  variable,
  series,
}: {
  variable: string;
  series: { name: string; colour: string; figures: Figures }[];
}) {
  const longest = Math.max(0, ...series.map((s) => s.figures.autocorrelation.length));
  const bound = series[0]?.figures.bound ?? 0;
  if (longest === 0) return null;
  const ends = [1, Math.max(longest, 2)];
  return (
    <Plot
      label={`autocorrelation of the residual of ${variable}`}
      height={110}
      legend={false}
      xWords="lag in samples"
      yWords="autocorrelation"
      lines={[
        ...[bound, -bound].map((at, i) => ({
          name: `bound ${i}`,
          x: ends,
          y: [at, at],
          colour: "var(--color-secondary)",
          dash: "5 4",
        })),
        { name: "none", x: ends, y: [0, 0], colour: "var(--color-base-300)" },
        ...series.map((s) => ({
          name: s.name,
          x: s.figures.autocorrelation.map((_, k) => k + 1),
          y: s.figures.autocorrelation,
          colour: s.colour,
        })),
      ]}
    />
  );
}
