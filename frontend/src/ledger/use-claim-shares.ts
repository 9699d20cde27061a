import type { ModelView, Schemas } from "../api/client";
import { useSweeps } from "../api/queries";
import type { Scenario } from "../state/scenarios";
import { shareWords } from "../ui/claim-share";

/** What sweeps say of a claim, and whether what a fit left uncertain is more than its margin. */
export interface ClaimShare {
  words: string;
  doubtful: boolean;
}

type Sweep = Pick<
  Schemas["SweepView"],
  "name" | "scenario" | "state" | "fit" | "varied" | "claims"
>;

/** What sweeps say of each claim in a scenario. */
export function useClaimShares(view: ModelView, scenario: Scenario): Map<string, ClaimShare> {
  const list = useSweeps(view, view.claims.length > 0);
  return sharesOf(list.data?.sweeps ?? [], scenario);
}

/** In how many points of the newest sweep of a scenario each claim holds; a sweep over what a fit left uncertain counts for
 * every scenario that sets what was fitted. */
export function sharesOf(
  sweeps: Sweep[],
  scenario: Pick<Scenario, "name" | "changes">,
): Map<string, ClaimShare> {
  const newest = sweeps.find(
    (s) =>
      s.state === "done" &&
      (s.scenario === scenario.name ||
        (s.fit !== null && s.varied.every((v) => v.name in scenario.changes))),
  );
  if (!newest) return new Map();
  return new Map(
    newest.claims
      .filter((c) => c.hold + c.fail > 0)
      .map((c) => {
        const doubtful = newest.fit !== null && c.hold > 0 && c.fail > 0;
        const words = `${shareWords(c)} (${newest.name})`;
        const beside = "the margin is smaller than what the fit left uncertain: ";
        return [c.text, { doubtful, words: doubtful ? beside + words : words }];
      }),
  );
}
