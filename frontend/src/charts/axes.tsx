import { formatNumber } from "../ui/format";
import type { Scale } from "./scale";
import { ticks } from "./svg";

/** Size of a picture with the margins that its axes take. */
export interface Frame {
  width: number;
  height: number;
  left: number;
  right: number;
  top: number;
  bottom: number;
}

interface Props {
  frame: Frame;
  x: Scale;
  y: Scale;
  xWords: string;
  yWords: string;
}

/** Both axes of a picture with their rules, numbers and words. */
export function Axes({ frame, x, y, xWords, yWords }: Props) {
  const { width, height, left, right, top, bottom } = frame;
  return (
    <g fontSize={11.5} fill="var(--color-secondary)">
      {ticks(x.low, x.high, 6).map((v) => (
        <g key={`x${v}`}>
          <path d={`M${x.at(v)} ${top}V${height - bottom}`} stroke="var(--color-base-300)" />
          <text x={x.at(v)} y={height - bottom + 14} textAnchor="middle">
            {formatNumber(v)}
          </text>
        </g>
      ))}
      {ticks(y.low, y.high, 5).map((v) => (
        <g key={`y${v}`}>
          <path d={`M${left} ${y.at(v)}H${width - right}`} stroke="var(--color-base-300)" />
          <text x={left - 5} y={y.at(v) + 4} textAnchor="end">
            {formatNumber(v)}
          </text>
        </g>
      ))}
      <text x={(left + width) / 2} y={height - 5} textAnchor="middle">
        {xWords}
      </text>
      <text x={left} y={top - 7} fill="var(--color-base-content)">
        {yWords}
      </text>
    </g>
  );
}
