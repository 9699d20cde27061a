import type { SheetConnection } from "../api/client";
import { domainClass, SCALE } from "./geometry";

/** A dot at each place where wires part, so that a crossing is not taken for a joint. */
export function BranchDots({ connections }: { connections: SheetConnection[] }) {
  return connections.flatMap(({ from, to, dots, domain }) =>
    dots.map(([x = 0, y = 0]) => (
      <circle
        key={`${from} ${to} ${x} ${y}`}
        className={domainClass(domain)}
        cx={x * SCALE}
        cy={-y * SCALE}
        r={3.2}
        fill="var(--domain)"
        data-branch
      />
    )),
  );
}
