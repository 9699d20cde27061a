import { useQuery } from "@tanstack/react-query";
import { useState } from "react";

import { ask, client } from "../api/client";
import { withIn } from "../ui/format";
import { Axes } from "../charts/axes";
import { scaleOf } from "../charts/scale";
import { Choice } from "./choice";
import { FRAME, type Detail } from "./part";

const { width: WIDTH, height: HEIGHT, left: LEFT, right: RIGHT, top: TOP, bottom: BOTTOM } = FRAME;

/** The family of curves of one variable: the middle, half of all, nine tenths of all. */
export function Curves({ sweep, onPick }: { sweep: Detail; onPick: (point: number) => void }) {
  const [name, setName] = useState(sweep.curves[0]!);
  const answer = useQuery({
    queryKey: ["bands", sweep.id, name, sweep.done],
    queryFn: () =>
      ask(
        client.GET("/api/sweeps/{sweep}/bands", {
          params: { path: { sweep: sweep.id }, query: { name } },
        }),
      ),
    placeholderData: (before) => before,
  });
  const bands = answer.data;
  if (!bands) return <p className="muted">Opening…</p>;
  const all = [
    ...bands.curves.flatMap((c) => c.values),
    ...Object.values(bands.percentiles).flat(),
  ];
  const x = scaleOf(bands.time, LEFT, WIDTH - RIGHT);
  const y = scaleOf(all, HEIGHT - BOTTOM, TOP);
  const line = (values: (number | null)[]) =>
    values
      .map((v, i) => (v === null ? "" : `${x.at(bands.time[i]!).toFixed(1)} ${y.at(v).toFixed(1)}`))
      .filter(Boolean)
      .join("L");
  const area = (low: string, high: string) => {
    const [a, b] = [bands.percentiles[low], bands.percentiles[high]];
    return a && b ? `M${line(b)}L${line(a).split("L").reverse().join("L")}Z` : "";
  };
  return (
    <div>
      <Choice
        words="curves of"
        value={name}
        options={sweep.curves}
        onChange={setName}
        testid="band-name"
      />
      <svg
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        className="w-full max-w-4xl"
        role="img"
        aria-label={`Curves of ${name} at all points, with bands`}
        data-testid="bands"
      >
        <Axes frame={FRAME} x={x} y={y} xWords="time in s" yWords={withIn(name, bands.unit)} />
        <path d={area("5", "95")} fill="var(--run-0)" opacity={0.15} />
        <path d={area("25", "75")} fill="var(--run-0)" opacity={0.25} />
        {bands.curves.map((curve) => (
          <path
            key={curve.point}
            d={`M${line(curve.values)}`}
            fill="none"
            stroke="var(--run-0)"
            strokeWidth={1}
            opacity={0.35}
            className="cursor-pointer hover:opacity-100"
            onClick={() => onPick(curve.point)}
          />
        ))}
        {bands.percentiles["50"] && (
          <path
            d={`M${line(bands.percentiles["50"])}`}
            fill="none"
            stroke="var(--color-base-content)"
            strokeWidth={2}
          />
        )}
      </svg>
      <p className="muted text-[12px]">
        Dark line: the median. Bands: half of all points, and nine tenths of them. Up to 40 single
        curves.
      </p>
    </div>
  );
}
