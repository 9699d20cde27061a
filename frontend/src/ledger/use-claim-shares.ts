import { useQuery } from "@tanstack/react-query";

import { ask, client, type ModelView, type Schemas } from "../api/client";
import type { Scenario } from "../state/scenarios";
import { shareWords } from "../ui/claim-share";

/** What sweeps say of a claim, and whether what a fit left uncertain is more than its margin. */
export interface ClaimShare {
  words: string;
  doubtful: boolean;
}

/** Milliseconds between two looks at sweeps that are under way. */
const UNDER_WAY = 2000;

type Sweep = Pick<
  Schemas["SweepView"],
  "name" | "scenario" | "state" | "fit" | "varied" | "claims"
>;

/** What sweeps say of each claim in a scenario. */
export function useClaimShares(view: ModelView, scenario: Scenario): Map<string, ClaimShare> {
  const list = useQuery({
    queryKey: ["sweeps", view.project, view.model],
    queryFn: () =>
      ask(
        client.GET("/api/projects/{project}/models/{model}/sweeps", {
          params: { path: { project: view.project, model: view.model } },
        }),
      ),
    enabled: view.claims.length > 0,
    // A sweep that is under way says nothing yet of the claims, and will.
    refetchInterval: ({ state }) =>
      state.data?.sweeps.some((s) => s.state === "running") ? UNDER_WAY : false,
  });
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
