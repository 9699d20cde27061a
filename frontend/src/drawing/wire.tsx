import type { SheetConnection } from "../api/client";
import { domainClass, SCALE, wirePath } from "./geometry";

/** How the wires of a domain are drawn: width, dash, and whether as a double line. */
const LINES: Record<string, { width: number; dash?: string; double?: boolean }> = {
  signal: { width: 1.25 },
  translational: { width: 2 },
  rotational: { width: 3.5, double: true },
  electrical: { width: 1.5 },
  thermal: { width: 1.5, dash: "8 4" },
  hydraulic: { width: 2.5 },
  pneumatic: { width: 2, dash: "5 4" },
  process: { width: 4.25, double: true },
  moist: { width: 1.5, dash: "8 3 2 3" },
  refrigerant: { width: 2.5, dash: "9 4" },
};

/** A width that shrinks less than the drawing does, so that wires are seen from afar; see the sheet. */
function widthOf(pixels: number): string {
  return `calc(${pixels}px * var(--line-scale, 1))`;
}

/** A wire in its domain's colour and line; signals end in an arrow. */
export function Wire({ connection }: { connection: SheetConnection }) {
  const points =
    connection.direction === "backward" ? [...connection.points].reverse() : connection.points;
  const path = wirePath(points);
  const className = domainClass(connection.domain);
  const line = LINES[className.replace("domain-", "")] ?? { width: 1.5 };
  const end = points.at(-1);
  const before = points.at(-2);
  const angle =
    end && before ? (Math.atan2(-(end[1]! - before[1]!), end[0]! - before[0]!) * 180) / Math.PI : 0;
  return (
    <g className={className} fill="none" data-wire={`${connection.from} ${connection.to}`}>
      <title>{`${connection.from} to ${connection.to}`}</title>
      <path
        d={path}
        stroke="var(--domain)"
        style={{ strokeWidth: widthOf(line.width) }}
        strokeDasharray={line.dash}
        strokeLinejoin="round"
      />
      {line.double && (
        <path
          d={path}
          stroke="var(--color-base-200)"
          style={{ strokeWidth: widthOf(line.width - 2.5) }}
          strokeLinejoin="round"
        />
      )}
      {connection.direction && end && (
        <polygon
          points="-11,-3.5 -4,0 -11,3.5"
          fill="var(--domain)"
          transform={`translate(${end[0]! * SCALE} ${-end[1]! * SCALE}) rotate(${angle})`}
        />
      )}
    </g>
  );
}
