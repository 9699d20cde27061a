import { usePlace } from "./place";
import { BASE } from "./scenarios";
import { NO_SELECTION, useSelection } from "./selection";
import { useShownRuns, type ShownRun } from "./shown-runs";
import type { StripPlan } from "./strip-plan";
import { useStripPlans } from "./strips";
import { NO_TIME, useTime } from "./time";

/** Step into a part of what is open, or out of it: runs, strips, time and scenario stay. */
export function openPart(): void {
  useSelection.setState(NO_SELECTION);
  usePlace.setState({ view: "sheet", line: null });
}

/** Begin with a model: nothing is selected, the kept runs and strips are shown. */
export function openModel(opened: string, shown: ShownRun[], strips: StripPlan[] | null): void {
  useSelection.setState(NO_SELECTION);
  useTime.setState(NO_TIME);
  useShownRuns.setState({ shown, current: shown.at(-1)?.run ?? null, live: null });
  useStripPlans.setState({ strips });
  usePlace.setState({ opened, view: "sheet", line: null, scenario: BASE });
}
