import { formatNumber, withIn } from "../ui/format";
import { scaleOf, shade } from "../charts/scale";
import { FRAME, type PartProps, type Point } from "./part";

const { width: WIDTH, height: HEIGHT } = FRAME;

/** Every point as a line across an axis for each parameter and measure. */
export function Parallel({ sweep, picked, onPick }: PartProps) {
  const axes = [
    ...sweep.varied.map((v) => ({
      words: withIn(v.name, sweep.units[v.name]),
      of: (p: Point) => p.values[v.name] ?? null,
    })),
    ...sweep.measures.map((text, i) => ({
      words: withIn(text, sweep.units[text]),
      of: (p: Point) => p.measures[i] ?? null,
    })),
  ];
  const done = sweep.points.filter((p) => p.state === "done");
  const scales = axes.map((axis) => scaleOf(done.map(axis.of), HEIGHT - 30, 40));
  const x = (i: number) => 60 + (i * (WIDTH - 120)) / Math.max(axes.length - 1, 1);
  const last = axes.length - 1;
  const tone = scaleOf(done.map(axes[last]!.of), 0, 1);
  return (
    <svg
      viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
      className="w-full max-w-4xl"
      role="img"
      aria-label="All points over all parameters and measures"
      data-testid="parallel"
    >
      {done.map((p) => {
        const values = axes.map((axis) => axis.of(p));
        const points = values
          .map((v, i) => (v === null ? null : `${x(i)} ${scales[i]!.at(v).toFixed(1)}`))
          .filter(Boolean);
        const value = values[last];
        return (
          <path
            key={p.number}
            d={`M${points.join("L")}`}
            fill="none"
            stroke={
              p.number === picked
                ? "var(--color-base-content)"
                : shade(typeof value === "number" ? tone.at(value) : 0)
            }
            strokeWidth={p.number === picked ? 2.5 : 1.2}
            opacity={p.number === picked ? 1 : 0.6}
            className="cursor-pointer"
            onClick={() => onPick(p.number)}
          />
        );
      })}
      <g fontSize={11.5} fill="var(--color-secondary)">
        {axes.map((axis, i) => (
          <g key={axis.words}>
            <path d={`M${x(i)} 40V${HEIGHT - 30}`} stroke="var(--color-base-content)" />
            <text x={x(i)} y={16} textAnchor="middle" fill="var(--color-base-content)">
              {axis.words}
            </text>
            <text x={x(i)} y={33} textAnchor="middle">
              {formatNumber(scales[i]!.high, 4)}
            </text>
            <text x={x(i)} y={HEIGHT - 14} textAnchor="middle">
              {formatNumber(scales[i]!.low, 4)}
            </text>
          </g>
        ))}
      </g>
    </svg>
  );
}
