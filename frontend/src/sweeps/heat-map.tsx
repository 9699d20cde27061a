import { useState } from "react";

import { formatNumber, formatUnit, withUnit, withIn } from "../ui/format";
import { scaleOf, shade, steps } from "../charts/scale";
import { Choice } from "./choice";
import { FRAME, type PartProps, type Point } from "./part";

const { width: WIDTH, height: HEIGHT, left: LEFT, top: TOP, bottom: BOTTOM } = FRAME;

/** A measure over two parameters; points of a grid are cells, others dots. */
export function HeatMap({ sweep, picked, onPick }: PartProps) {
  const names = sweep.varied.map((v) => v.name);
  const [across, setAcross] = useState(names[0]!);
  const [up, setUp] = useState(names[1]!);
  const [measure, setMeasure] = useState(sweep.measures[0]!);
  const at = sweep.measures.indexOf(measure);
  const known = sweep.points.filter((p) => typeof p.measures[at] === "number");
  const z = scaleOf(
    known.map((p) => p.measures[at]),
    0,
    1,
  );
  const [xs, ys] = [
    steps(sweep.points.map((p) => p.values[across]!)),
    steps(sweep.points.map((p) => p.values[up]!)),
  ];
  const grid = sweep.sample === "grid";
  const [x, y] = [
    scaleOf(xs, LEFT + (grid ? 20 : 8), WIDTH - 130),
    scaleOf(ys, HEIGHT - BOTTOM - (grid ? 14 : 8), TOP + 24),
  ];
  const [cellWidth, cellHeight] = [
    (WIDTH - 150 - LEFT) / xs.length,
    (HEIGHT - BOTTOM - TOP - 24) / ys.length,
  ];
  const px = (p: Point) =>
    grid ? LEFT + 4 + xs.indexOf(p.values[across]!) * cellWidth : x.at(p.values[across]!);
  const py = (p: Point) =>
    grid ? HEIGHT - BOTTOM - (ys.indexOf(p.values[up]!) + 1) * cellHeight : y.at(p.values[up]!);
  const some = (all: number[]) =>
    all.filter((_, i) => all.length <= 8 || i % Math.ceil(all.length / 8) === 0);
  return (
    <div>
      <div className="flex gap-3">
        <Choice
          words="measure"
          value={measure}
          options={sweep.measures}
          onChange={setMeasure}
          testid="map-measure"
        />
        <Choice
          words="horizontal axis"
          value={across}
          options={names}
          onChange={setAcross}
          testid="map-across"
        />
        <Choice words="vertical axis" value={up} options={names} onChange={setUp} testid="map-up" />
      </div>
      <svg
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        className="w-full max-w-4xl"
        role="img"
        aria-label={`${measure} over ${across} and ${up}`}
        data-testid="heat-map"
      >
        {sweep.points.map((p) => {
          const value = p.measures[at];
          const fill = typeof value === "number" ? shade(z.at(value)) : "none";
          const common = {
            fill,
            stroke:
              p.number === picked
                ? "var(--color-base-content)"
                : p.state === "failed"
                  ? "var(--color-error)"
                  : "none",
            strokeWidth: 2,
            className: "cursor-pointer",
            onClick: () => onPick(p.number),
            "data-testid": `cell-${p.number}`,
          };
          const title = (
            <title>{`${across} ${withUnit(p.values[across], sweep.units[across] ?? "")}, ${up} ${withUnit(p.values[up], sweep.units[up] ?? "")}: ${typeof value === "number" ? withUnit(value, sweep.units[measure] ?? "") : p.reason || p.state}`}</title>
          );
          return grid ? (
            <rect
              key={p.number}
              x={px(p)}
              y={py(p)}
              width={cellWidth + 0.3}
              height={cellHeight + 0.3}
              {...common}
              pointerEvents="all"
              shapeRendering="crispEdges"
            >
              {title}
            </rect>
          ) : (
            <circle key={p.number} cx={px(p)} cy={py(p)} r={5} {...common} pointerEvents="all">
              {title}
            </circle>
          );
        })}
        <g fontSize={12} fill="var(--color-secondary)">
          {some(xs).map((v) => (
            <text
              key={v}
              x={grid ? LEFT + 4 + (xs.indexOf(v) + 0.5) * cellWidth : x.at(v)}
              y={HEIGHT - BOTTOM + 15}
              textAnchor="middle"
            >
              {formatNumber(v, 3)}
            </text>
          ))}
          {some(ys).map((v) => (
            <text
              key={v}
              x={LEFT - 4}
              y={(grid ? HEIGHT - BOTTOM - (ys.indexOf(v) + 0.5) * cellHeight : y.at(v)) + 4}
              textAnchor="end"
            >
              {formatNumber(v, 3)}
            </text>
          ))}
          <text x={(LEFT + WIDTH - 130) / 2} y={HEIGHT - 6} textAnchor="middle">
            {withIn(across, sweep.units[across])}
          </text>
          <text x={4} y={TOP - 6}>
            {withIn(up, sweep.units[up])}
          </text>
        </g>
        <g fontSize={12} fill="var(--color-secondary)">
          {Array.from({ length: 40 }, (_, i) => (
            <rect
              key={i}
              x={WIDTH - 110}
              y={HEIGHT - BOTTOM - ((i + 1) * (HEIGHT - BOTTOM - 40)) / 40}
              width={16}
              height={(HEIGHT - BOTTOM - 40) / 40 + 0.5}
              fill={shade(i / 39)}
            />
          ))}
          <text x={WIDTH - 90} y={HEIGHT - BOTTOM}>
            {formatNumber(z.low, 4)}
          </text>
          <text x={WIDTH - 90} y={48}>
            {formatNumber(z.high, 4)}
          </text>
          <text x={WIDTH - 110} y={30} fill="var(--color-base-content)">
            {formatUnit(sweep.units[measure] ?? "")}
          </text>
        </g>
      </svg>
    </div>
  );
}
