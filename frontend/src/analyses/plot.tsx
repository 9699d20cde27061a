import { useId } from "react";

import { ticks } from "../charts/svg";
import { scaleOf } from "../charts/scale";
import { formatNumber } from "../ui/format";

export interface Line {
  name: string;
  x: number[];
  y: number[];
  colour: string;
  dots?: boolean;
  /** Points that are marked, instead of a curve. */
  marks?: "cross" | "ring" | "disc";
  dash?: string;
}

interface Props {
  lines: Line[];
  xWords: string;
  yWords: string;
  height?: number;
  width?: number;
  /** A logarithmic axis across. */
  logarithmic?: boolean;
  /** Whether several curves are named below. */
  legend?: boolean;
  label: string;
}

const [LEFT, TOP, RIGHT, BOTTOM] = [62, 8, 12, 34];

/** Curves on axes with numbers, for a page. */
export function Plot({
  lines,
  xWords,
  yWords,
  height = 190,
  width = 640,
  logarithmic,
  legend = true,
  label,
}: Props) {
  const clip = useId();
  const xs = lines.flatMap((l) => l.x).map((v) => (logarithmic ? Math.log10(v) : v));
  const across = scaleOf([Math.min(...xs), Math.max(...xs)], LEFT, width - RIGHT);
  const up = scaleOf(
    lines.flatMap((l) => l.y),
    height - BOTTOM,
    TOP,
  );
  const place = (v: number) => across.at(logarithmic ? Math.log10(v) : v);
  const horizontal = logarithmic
    ? Array.from(
        { length: Math.floor(across.high) - Math.ceil(across.low) + 1 },
        (_, k) => 10 ** (Math.ceil(across.low) + k),
      )
    : ticks(across.low, across.high, 7);
  return (
    <figure className="flex flex-col gap-1">
      <svg width={width} height={height} role="img" aria-label={label} className="max-w-full">
        <clipPath id={clip}>
          <rect x={LEFT} y={TOP} width={width - LEFT - RIGHT} height={height - TOP - BOTTOM} />
        </clipPath>
        {ticks(up.low, up.high, 5).map((v) => (
          <g key={v}>
            <line
              x1={LEFT}
              x2={width - RIGHT}
              y1={up.at(v)}
              y2={up.at(v)}
              stroke="var(--color-base-300)"
            />
            <text
              x={LEFT - 6}
              y={up.at(v) + 4}
              textAnchor="end"
              fontSize="11"
              fill="var(--color-secondary)"
            >
              {formatNumber(v, 4)}
            </text>
          </g>
        ))}
        {horizontal.map((v) => (
          <g key={v}>
            <line
              x1={place(v)}
              x2={place(v)}
              y1={TOP}
              y2={height - BOTTOM}
              stroke="var(--color-base-300)"
            />
            <text
              x={place(v)}
              y={height - BOTTOM + 14}
              textAnchor="middle"
              fontSize="11"
              fill="var(--color-secondary)"
            >
              {formatNumber(v, 4)}
            </text>
          </g>
        ))}
        <text
          x={(LEFT + width) / 2}
          y={height - 4}
          textAnchor="middle"
          fontSize="11"
          fill="var(--color-secondary)"
        >
          {xWords}
        </text>
        <text
          x={12}
          y={(TOP + height - BOTTOM) / 2}
          textAnchor="middle"
          fontSize="11"
          fill="var(--color-secondary)"
          transform={`rotate(-90 12 ${(TOP + height - BOTTOM) / 2})`}
        >
          {yWords}
        </text>
        <g clipPath={`url(#${clip})`}>
          {lines.map((l) =>
            l.marks ? null : l.dots ? (
              l.x.map((x, i) => (
                <circle
                  key={`${l.name} ${i}`}
                  cx={place(x)}
                  cy={up.at(l.y[i]!)}
                  r="1.4"
                  fill={l.colour}
                  opacity="0.6"
                />
              ))
            ) : (
              <polyline
                key={l.name}
                fill="none"
                stroke={l.colour}
                strokeWidth="1.6"
                {...(l.dash ? { strokeDasharray: l.dash } : {})}
                points={l.x
                  .map((x, i) => `${place(x).toFixed(1)},${up.at(l.y[i]!).toFixed(1)}`)
                  .join(" ")}
              />
            ),
          )}
        </g>
        {lines.map(
          (l) =>
            l.marks &&
            l.x.map((x, i) => (
              <Mark
                key={`${l.name} ${i}`}
                kind={l.marks!}
                x={place(x)}
                y={up.at(l.y[i]!)}
                colour={l.colour}
              />
            )),
        )}
      </svg>
      {legend && lines.length > 1 && (
        <figcaption className="flex flex-wrap gap-x-4 pl-16 text-[12px]">
          {lines.map((l) => (
            <span key={l.name} className="flex items-center gap-1">
              <svg width="18" height="6" aria-hidden="true">
                <line
                  x1="0"
                  x2="18"
                  y1="3"
                  y2="3"
                  stroke={l.colour}
                  strokeWidth="2"
                  {...(l.dots
                    ? { strokeDasharray: "2 3" }
                    : l.dash
                      ? { strokeDasharray: l.dash }
                      : {})}
                />
              </svg>
              {l.name}
            </span>
          ))}
        </figcaption>
      )}
    </figure>
  );
}

interface MarkProps {
  kind: NonNullable<Line["marks"]>;
  x: number;
  y: number;
  colour: string;
}

function Mark({ kind, x, y, colour }: MarkProps) {
  if (kind === "cross")
    return (
      <path
        d={`M${x - 4},${y - 4} l8,8 M${x - 4},${y + 4} l8,-8`}
        stroke={colour}
        strokeWidth="1.4"
      />
    );
  return (
    <circle
      cx={x}
      cy={y}
      r="4"
      fill={kind === "disc" ? colour : "none"}
      stroke={colour}
      strokeWidth="1.4"
    />
  );
}
