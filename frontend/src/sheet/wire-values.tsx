import { useStore, ViewportPortal } from "@xyflow/react";
import { useMemo } from "react";

import type { ModelView, RunDetail } from "../api/client";
import { withUnit } from "../format";
import { domainClass, SCALE } from "./geometry";
import { middleOf, quantitiesOf, type WireMarks } from "./wire-quantities";

interface Props {
  view: ModelView;
  run: RunDetail | undefined;
  values: Record<string, number | null> | undefined;
  marks: WireMarks;
}

/** What the wires carry at the time cursor, written at their longest stretch, or arrows along what flows. */
export function WireValues({ view, run, values, marks }: Props) {
  const carried = useMemo(() => {
    const { connections } = view.sheet;
    return connections.flatMap((wire) => {
      const at = middleOf(wire.points);
      return at ? [{ wire, at, ...quantitiesOf(wire, connections, view.rows) }] : [];
    });
  }, [view.sheet, view.rows]);
  const variables = useMemo(() => new Map(run?.variables.map((v) => [v.name, v])), [run?.variables]);
  // Words keep their size on the screen.
  const size = useStore((s) => 1 / Math.max(s.transform[2], 0.25));
  if (marks === "plain" || !values) return null;
  const shown = (name: string, sign = 1) => {
    const [raw, variable] = [values[name], variables.get(name)];
    return typeof raw === "number" && variable ? { value: (raw * variable.factor + variable.offset) * sign, unit: variable.shown_unit } : null;
  };
  return (
    <ViewportPortal>
      <svg className="pointer-events-none absolute top-0 left-0 overflow-visible" width={1} height={1} data-testid="wire-values">
        {carried.map(({ wire, at, shared, flow }) => {
          const found = marks === "flow" && flow ? shown(flow.row.name, flow.sign) : shared && marks === "values" ? shown(shared.name) : null;
          if (!found) return null;
          const standing = Math.abs(at.angle) > 45 && Math.abs(at.angle) < 135;
          const still = marks === "flow" && Math.abs(found.value) < 1e-9;
          const words = withUnit(still ? 0 : Number((marks === "flow" ? Math.abs(found.value) : found.value).toPrecision(4)), found.unit);
          return (
            <g key={`${wire.from} ${wire.to}`} transform={`translate(${at.x * SCALE} ${-at.y * SCALE}) scale(${size})`} className={domainClass(wire.domain)} data-testid={`carries-${wire.from}`}>
              {marks === "flow" && !still && <path d="M-6 -5 L5 0 L-6 5 Z" fill="var(--domain)" transform={`rotate(${-at.angle + (found.value < 0 ? 180 : 0)})`} />}
              <text className="wire-value" x={standing ? 9 : 0} y={standing ? 4 : -8} textAnchor={standing ? "start" : "middle"}>
                {words}
              </text>
            </g>
          );
        })}
      </svg>
    </ViewportPortal>
  );
}
