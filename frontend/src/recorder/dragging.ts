import { useState, type DragEvent } from "react";

import { CURVE } from "../state/dragged-curve";
import { useStripPlans } from "../state/strips";
import { placed, type StripPlan } from "../state/strip-plan";

/** A place where a variable can be dropped: onto a strip, or with none onto one of its own; and whether one is over it. */
export function useCurveDrop(target: StripPlan | null) {
  const [over, setOver] = useState(false);
  const handlers = {
    onDragOver: (event: DragEvent) => {
      if (!event.dataTransfer.types.includes(CURVE)) return;
      event.preventDefault();
      setOver(true);
    },
    onDragLeave: () => setOver(false),
    onDrop: (event: DragEvent) => {
      setOver(false);
      const { strips, setStrips, unitOf } = useStripPlans.getState();
      const name = event.dataTransfer.getData(CURVE);
      if (name) setStrips(placed(strips ?? [], name, target, unitOf));
    },
  };
  return { over, handlers };
}
