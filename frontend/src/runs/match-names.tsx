import { useQuery } from "@tanstack/react-query";
import { Link2 } from "lucide-react";
import { useId, useState } from "react";

import type { ModelView, RunView } from "../api/client";
import { fetchRun, keys } from "../api/queries";
import { nameThere, useMatches } from "../state/matches";
import { namesOn } from "../state/strip-plan";
import { useStripPlans } from "../state/strips";
import { DraftInput } from "../ui/draft-input";
import { Popover } from "../ui/popover";

/** Names of variables that are offered at most. */
const MOST_NAMES = 2000;

/** Which variable of a run of another model is drawn with each curve. */
export function MatchNames({ view, run }: { view: ModelView; run: RunView }) {
  return (
    <Popover
      label={<Link2 size={12} />}
      words={`Match the names of ${run.model}`}
      title={`Which variables of ${run.model} are drawn with those of ${view.model}`}
      className="muted h-full px-1 hover:text-base-content"
      panelClass="max-h-[70vh] w-[26rem] overflow-y-auto p-3"
      testid={`match-${run.number}`}
    >
      {() => <Pairs view={view} run={run} />}
    </Popover>
  );
}

function Pairs({ view, run }: { view: ModelView; run: RunView }) {
  const list = useId();
  const known = useMatches((s) => s.known);
  const match = useMatches((s) => s.match);
  const strips = useStripPlans((s) => s.strips);
  const detail = useQuery({ queryKey: keys.run(run.id), queryFn: () => fetchRun(run.id) });
  const [refused, setRefused] = useState<{ name: string; words: string } | null>(null);
  const there = new Set(detail.data?.variables.map((v) => v.name));
  return (
    <>
      <p className="muted pb-2">
        Curves of {run.model.split(".").at(-1)} are drawn with those of the same name here. Where
        names differ, say which belongs to which.
      </p>
      <datalist id={list}>
        {[...there].slice(0, MOST_NAMES).map((name) => (
          <option key={name} value={name} />
        ))}
      </datalist>
      {namesOn(strips).map((name) => {
        const other = nameThere(known, view.model, run, name);
        return (
          <div key={name} className="grid grid-cols-2 items-center gap-2 py-0.5">
            <span className="mono truncate" title={name}>
              {name}
            </span>
            <DraftInput
              value={there.has(other) ? other : ""}
              label={`${name} in ${run.model}`}
              testid={`match-of-${name}`}
              list={list}
              placeholder="nothing here"
              className="input input-sm mono w-full"
              refusal={refused?.name === name ? refused.words : null}
              onKeep={(text, done) => {
                const wanted = text.trim();
                if (wanted && !there.has(wanted))
                  return setRefused({ name, words: `this run has no '${wanted}'.` });
                match(view.model, run.model, name, wanted);
                done();
              }}
              onAgain={() => setRefused(null)}
            />
          </div>
        );
      })}
    </>
  );
}
