import { useMemo } from "react";

import type { Row, RunVariable, Sheet } from "../api/client";
import { withUnit } from "../ui/format";
import { domainClass, SCALE } from "./geometry";
import type { WireMarks } from "../state/place";
import { middleOf, quantitiesOf } from "./wire-quantities";

export type Values = Record<string, number | null | undefined>;

interface MarksProps {
  sheet: Sheet;
  rows: Row[];
  variables: RunVariable[];
  values: Values;
  marks: WireMarks;
  /** How much larger than in the drawing the words are. */
  size: number;
}

/** Values written at the longest stretch of each wire, or arrows along what flows, as part of a drawing. */
export function CarriedMarks({ sheet, rows, variables, values, marks, size }: MarksProps) {
  const carried = useMemo(
    () =>
      sheet.connections.flatMap((wire) => {
        // Wires of a cable lie on each other but for their ends.
        const at = middleOf(wire.cable ? wire.points.slice(-2) : wire.points);
        return at ? [{ wire, at, ...quantitiesOf(wire, sheet.connections, rows) }] : [];
      }),
    [sheet.connections, rows],
  );
  const known = useMemo(() => new Map(variables.map((v) => [v.name, v])), [variables]);
  const shown = (name: string, sign = 1) => {
    const [raw, variable] = [values[name], known.get(name)];
    return typeof raw === "number" && variable
      ? { value: (raw * variable.factor + variable.offset) * sign, unit: variable.shown_unit }
      : null;
  };
  return carried.map(({ wire, at, shared, flow }) => {
    const mark =
      marks === "flow" && flow
        ? shown(flow.row.name, flow.sign)
        : shared && marks === "values"
          ? shown(shared.name)
          : null;
    if (!mark) return null;
    const standing = Math.abs(at.angle) > 45 && Math.abs(at.angle) < 135;
    const still = marks === "flow" && Math.abs(mark.value) < 1e-9;
    const value = still
      ? 0
      : Number((marks === "flow" ? Math.abs(mark.value) : mark.value).toPrecision(4));
    return (
      <g
        key={`${wire.from} ${wire.to}`}
        transform={`translate(${at.x * SCALE} ${-at.y * SCALE}) scale(${size})`}
        className={domainClass(wire.domain)}
        data-testid={`carries-${wire.from}`}
      >
        {marks === "flow" && !still && (
          <path
            d="M-6 -5 L5 0 L-6 5 Z"
            fill="var(--domain)"
            transform={`rotate(${-at.angle + (mark.value < 0 ? 180 : 0)})`}
          />
        )}
        <text
          className="wire-value"
          x={standing ? 9 : 0}
          y={standing ? 4 : -8}
          textAnchor={standing ? "start" : "middle"}
        >
          {withUnit(value, mark.unit)}
        </text>
      </g>
    );
  });
}
