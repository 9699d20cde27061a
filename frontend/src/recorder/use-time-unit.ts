import { useEffect } from "react";

import type { ModelView } from "../api/client";
import { suitedTimeUnit } from "../state/suited-unit";
import { useTime } from "../state/time";

/** The unit in which the times of a model are shown: the one that it says, or the one that suits what is shown. */
export function useTimeUnit(view: ModelView, [low, high]: [number, number]): string {
  const unit = view.settings?.time_unit || suitedTimeUnit(high - low);
  const setUnit = useTime((s) => s.setUnit);
  useEffect(() => setUnit(unit), [unit, setUnit]);
  return unit;
}
