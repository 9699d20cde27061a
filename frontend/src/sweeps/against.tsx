import { useState } from "react";

import { withUnit, withIn } from "../ui/format";
import { Axes } from "../charts/axes";
import { scaleOf } from "../charts/scale";
import { Choice } from "./choice";
import { FRAME, type PartProps } from "./part";

const { width: WIDTH, height: HEIGHT, left: LEFT, right: RIGHT, top: TOP, bottom: BOTTOM } = FRAME;

/** A measure over one parameter, a point for every run. */
export function Against({ sweep, picked, onPick }: PartProps) {
  const names = sweep.varied.map((v) => v.name);
  const [name, setName] = useState(names[0]!);
  const [measure, setMeasure] = useState(sweep.measures[0]!);
  const at = sweep.measures.indexOf(measure);
  const points = sweep.points.filter((p) => typeof p.measures[at] === "number");
  const x = scaleOf(
    points.map((p) => p.values[name]),
    LEFT,
    WIDTH - RIGHT,
  );
  const y = scaleOf(
    points.map((p) => p.measures[at]),
    HEIGHT - BOTTOM,
    TOP,
  );
  return (
    <div>
      <div className="flex gap-3">
        <Choice
          words="measure"
          value={measure}
          options={sweep.measures}
          onChange={setMeasure}
          testid="against-measure"
        />
        <Choice
          words="against"
          value={name}
          options={names}
          onChange={setName}
          testid="against-parameter"
        />
      </div>
      <svg
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        className="w-full max-w-4xl"
        role="img"
        aria-label={`${measure} against ${name}`}
        data-testid="against"
      >
        <Axes
          frame={FRAME}
          x={x}
          y={y}
          xWords={withIn(name, sweep.units[name])}
          yWords={withIn(measure, sweep.units[measure])}
        />
        {points.map((p) => (
          <circle
            key={p.number}
            cx={x.at(p.values[name]!)}
            cy={y.at(p.measures[at]!)}
            r={p.number === picked ? 5 : 3}
            fill={p.number === picked ? "var(--color-primary)" : "var(--run-0)"}
            className="cursor-pointer"
            onClick={() => onPick(p.number)}
          >
            <title>{`point ${p.number + 1}: ${withUnit(p.measures[at], sweep.units[measure] ?? "")}`}</title>
          </circle>
        ))}
      </svg>
    </div>
  );
}
