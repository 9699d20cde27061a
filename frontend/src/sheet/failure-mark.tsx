import type { SeenRun, Sheet } from "../api/client";
import { boxOf } from "../drawing/geometry";
import { partOf } from "./selection";
import { Overlay } from "./overlay";

/** How far outside of its symbol a part is framed, in pixels of the drawing. */
const OUT = 2;

/** Where a run failed, as it is seen from where one looks. */
function placeInside({ place, instance }: SeenRun): string {
  if (!instance) return place;
  return place.startsWith(`${instance}.`) ? place.slice(instance.length + 1) : "";
}

/** A frame around the part in which the run failed. */
export function FailureMark({ sheet, run }: { sheet: Sheet; run: SeenRun | undefined }) {
  const part =
    run?.state === "failed"
      ? sheet.components.find((c) => c.name === partOf(placeInside(run)))
      : undefined;
  if (!run || !part) return null;
  const { x, y, width, height } = boxOf(part.extent);
  return (
    <Overlay
      role="img"
      aria-label={`The run failed in ${part.name}: ${run.reason}`}
      data-testid={`failed-in-${part.name}`}
    >
      <rect
        x={x - OUT}
        y={y - OUT}
        width={width + 2 * OUT}
        height={height + 2 * OUT}
        rx={3}
        fill="none"
        stroke="var(--color-error)"
        strokeWidth={2}
        strokeDasharray="5 3"
      />
      <text
        x={x + width + OUT + 4}
        y={y - OUT + 12}
        fill="var(--color-error)"
        fontSize={14}
        fontWeight={600}
      >
        ✕
      </text>
    </Overlay>
  );
}
