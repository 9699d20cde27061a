import type { SheetCable } from "./cables";
import { domainClass, SCALE, wirePath } from "./geometry";
import { middleOf } from "./wire-quantities";

/** The line of a cable, with a stroke across it and the number of its wires, as on single-line diagrams. */
export function CableTrunk({ cable }: { cable: SheetCable }) {
  const at = middleOf(cable.trunk);
  const domains = new Set(cable.wires.map((wire) => wire.domain));
  const upright = at ? Math.abs(Math.abs(at.angle) - 90) < 45 : false;
  return (
    <g className={domainClass(domains.size === 1 ? cable.wires[0]!.domain : "other")} fill="none">
      <title>{`${cable.name}: ${cable.wires.length} wires`}</title>
      <path
        d={wirePath(cable.trunk)}
        stroke="var(--domain)"
        style={{ strokeWidth: "calc(4px * var(--line-scale, 1))" }}
        strokeLinejoin="round"
        strokeLinecap="round"
      />
      {at && (
        <g transform={`translate(${at.x * SCALE} ${-at.y * SCALE})`}>
          <path d="M-5 6 L5 -6" stroke="var(--domain)" strokeWidth={1.5} />
          <text
            x={upright ? 10 : 0}
            y={upright ? 4 : -9}
            textAnchor={upright ? "start" : "middle"}
            className="wire-value"
          >
            {cable.wires.length}
          </text>
        </g>
      )}
    </g>
  );
}
