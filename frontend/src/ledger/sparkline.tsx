import type { Curve } from "../api/client";

/** A small curve of one variable, with the time cursor in it. */
export function Sparkline({
  curve,
  colour,
  cursor,
}: {
  curve: Curve | undefined;
  colour: string;
  cursor: number | null;
}) {
  const width = 72;
  const height = 18;
  if (!curve || curve.time.length < 2)
    return <svg width={width} height={height} aria-hidden="true" />;
  const { time, values } = curve;
  const [first, last] = [time[0]!, time.at(-1)!];
  const low = values.reduce((a, b) => Math.min(a, b), Infinity);
  const high = values.reduce((a, b) => Math.max(a, b), -Infinity);
  const x = (t: number) => ((t - first) / (last - first || 1)) * (width - 2) + 1;
  const y = (v: number) =>
    high > low ? height - 2 - ((v - low) / (high - low)) * (height - 4) : height / 2;
  const points = time.map((t, i) => `${x(t).toFixed(1)},${y(values[i]!).toFixed(1)}`).join(" ");
  return (
    <svg width={width} height={height} aria-hidden="true" data-testid={`peek-${curve.name}`}>
      <polyline points={points} fill="none" stroke={colour} strokeWidth={1.25} />
      {cursor !== null && cursor >= first && cursor <= last && (
        <line
          x1={x(cursor)}
          x2={x(cursor)}
          y1={0}
          y2={height}
          stroke="var(--color-secondary)"
          strokeDasharray="2 2"
        />
      )}
    </svg>
  );
}
