import type { Sheet } from "../api/client";
import { boxOf } from "./geometry";
import { Symbol } from "./symbol";
import { Arrows } from "./transitions";
import { Wire } from "./wire";

/** A small drawing of a whole sheet. */
export function Thumbnail({ sheet }: { sheet: Sheet }) {
  if (sheet.components.length === 0) return <p className="muted grid h-full place-items-center">written as equations</p>;
  const boxes = sheet.components.map((c) => boxOf(c.extent));
  const margin = 26;
  const left = Math.min(...boxes.map((b) => b.x), ...(boxes.length ? [] : [-100])) - margin;
  const top = Math.min(...boxes.map((b) => b.y), ...(boxes.length ? [] : [-60])) - margin;
  const right = Math.max(...boxes.map((b) => b.x + b.width), ...(boxes.length ? [] : [100])) + margin;
  const bottom = Math.max(...boxes.map((b) => b.y + b.height), ...(boxes.length ? [] : [60])) + margin;
  return (
    <svg viewBox={`${left} ${top} ${right - left} ${bottom - top}`} className="thumbnail h-full w-full" aria-hidden="true">
      {sheet.connections.map((c) => (
        <Wire key={`${c.from} ${c.to}`} connection={c} />
      ))}
      <Arrows sheet={sheet} />
      {sheet.components.map((c, i) => (
        <g key={c.name} transform={`translate(${boxes[i]!.x} ${boxes[i]!.y})`}>
          <Symbol component={c} />
        </g>
      ))}
    </svg>
  );
}
