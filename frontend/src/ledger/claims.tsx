import { useQuery } from "@tanstack/react-query";
import { Trash2 } from "lucide-react";
import { useState } from "react";

import { ask, asRefusal, client, type ModelView, type RunView } from "../api/client";
import { HowSure } from "../runs/how-sure";
import { useEdits } from "../state/use-edits";
import { BASE, outdated, scenarioOf, type Judged } from "../state/scenarios";
import { usePlace } from "../state/place";
import { DraftInput } from "../ui/draft-input";
import { numericalWords, verdictWords } from "../ui/verdict-words";
import { useClaimShares, type ClaimShare } from "./use-claim-shares";

const NOTHING = () => undefined;
/** Balances of one kind that are listed at most. */
const MOST_BALANCES = 12;

/** What must hold for runs of the model, with the verdict on the newest run of the chosen scenario. */
export function Claims({ view, run }: { view: ModelView; run: RunView | undefined }) {
  const scenario = scenarioOf(
    view,
    usePlace((s) => s.scenario),
  );
  const [typed, setTyped] = useState("");
  const edits = useEdits(view, NOTHING);
  const judged = new Map(run?.claims.map((c) => [c.text, c]));
  const late = run && outdated(view, run);
  const shares = useClaimShares(view, scenario);
  const add = () =>
    typed.trim() &&
    edits.mutate({ do: "add claim", text: typed }, { onSuccess: () => setTyped("") });
  return (
    <section className="rule-b py-1.5" aria-label="Claims" data-testid="claims">
      <h3 className="muted flex items-baseline justify-between px-3 pb-1 text-[12px] font-semibold">
        Claims
        <span className="font-normal">
          {run
            ? `${run.scenario}, run ${run.number}${late ? ", earlier model" : ""}`
            : "not run yet"}
        </span>
      </h3>
      {view.claims.map((text, number) => (
        <ClaimRow
          key={text}
          view={view}
          text={text}
          number={number}
          off={scenario.off.includes(text)}
          judged={judged.get(text)}
          share={shares.get(text)}
          scenario={scenario.name}
        />
      ))}
      <form
        className="px-3 pt-1"
        onSubmit={(event) => {
          event.preventDefault();
          add();
        }}
      >
        <input
          className={`input input-sm mono w-full ${edits.error ? "border-error" : ""}`}
          aria-label="New claim"
          placeholder="max(basin.level) < 1.2 m"
          title="What must hold: measures such as max, final, period, settle; units; ≈ with ± (or ~= and +-)"
          value={typed}
          onChange={(event) => {
            setTyped(event.target.value);
            edits.reset();
          }}
          onKeyDown={(event) => event.key === "Escape" && setTyped("")}
          data-testid="new-claim"
        />
        {edits.error && (
          <p role="alert" className="pt-0.5 text-[12px] text-error" data-testid="claim-fault">
            ✕ {asRefusal(edits.error).sentence}
          </p>
        )}
        {typed !== "" && !edits.error && (
          <p className="muted pt-0.5 text-[11.5px]">
            Enter keeps it. {typed.includes("~=") ? "~= stands for ≈, +- for ±." : ""}
          </p>
        )}
      </form>
      {run && view.claims.length > 0 && (
        <div className="px-2 pt-1">
          <HowSure key={run.id} run={run} />
        </div>
      )}
      <Balances view={view} onTake={(text) => edits.mutate({ do: "add claim", text })} />
    </section>
  );
}

/** Balances that the equations of the parts suggest, by what is balanced; each is claimed with a click. */
function Balances({ view, onTake }: { view: ModelView; onTake: (text: string) => void }) {
  const [open, setOpen] = useState(false);
  const balances = useQuery({
    queryKey: ["balances", view.project, view.model, view.meaning],
    queryFn: () =>
      ask(
        client.GET("/api/projects/{project}/models/{model}/balances", {
          params: { path: { project: view.project, model: view.model } },
        }),
      ),
    enabled: open && !view.problem,
    staleTime: Infinity,
    retry: false,
  });
  const offered = (balances.data?.balances ?? []).filter((b) => !view.claims.includes(b.text));
  const kinds = [...new Set(offered.map((b) => b.kind))];
  return (
    <div className="px-3 pt-1 text-[12px]">
      <button
        type="button"
        className="muted hover:underline"
        onClick={() => setOpen(!open)}
        aria-expanded={open}
        title="Claims that a quantity is conserved, ready-made from the equations of the parts"
        data-testid="balances"
      >
        {open ? "▾" : "▸"} Suggested balances
      </button>
      {open && (
        <div className="max-h-56 overflow-y-auto pt-1" data-testid="balance-list">
          {balances.isLoading && <p className="muted">Looking through the equations…</p>}
          {(balances.data || view.problem) && offered.length === 0 && (
            <p className="muted">
              {view.problem
                ? "The model cannot be run yet."
                : "No part stores or passes on what could be balanced, or all is claimed."}
            </p>
          )}
          {kinds.map((kind) => (
            <div key={kind} className="pb-1">
              <p className="font-medium">{kind}</p>
              {offered
                .filter((b) => b.kind === kind)
                .slice(0, MOST_BALANCES)
                .map((b) => (
                  <button
                    key={b.text}
                    type="button"
                    className="mono block w-full py-0.5 text-left text-[11.5px] break-all hover:bg-base-200"
                    onClick={() => onTake(b.text)}
                    title="Claim it"
                    data-testid="offered-claim"
                  >
                    + {b.text}
                  </button>
                ))}
            </div>
          ))}
        </div>
      )}
    </div>
  );
}

function ClaimRow({
  view,
  text,
  number,
  off,
  judged,
  share,
  scenario,
}: {
  view: ModelView;
  text: string;
  number: number;
  off: boolean;
  judged: Judged | undefined;
  share: ClaimShare | undefined;
  scenario: string;
}) {
  const edits = useEdits(view, NOTHING);
  const numerical = judged ? numericalWords(judged) : { words: "", doubtful: false };
  return (
    <div
      className="group flex items-start gap-1.5 px-3 py-0.5"
      data-testid={`claim-${number}`}
      data-holds={off ? "off" : String(judged?.holds ?? "unknown")}
    >
      <Sign judged={judged} off={off} doubtful={numerical.doubtful || (share?.doubtful ?? false)} />
      <div className="min-w-0 flex-1">
        <DraftInput
          value={text}
          label={`Claim ${number + 1}`}
          testid={`claim-text-${number}`}
          wraps
          className={`mono block w-full resize-none border-0 bg-transparent leading-snug [field-sizing:content] ${off ? "muted line-through" : ""}`}
          refusal={edits.error ? asRefusal(edits.error).sentence : null}
          onKeep={(typed, done) =>
            edits.mutate({ do: "change claim", number, text: typed }, { onSuccess: done })
          }
          onAgain={edits.reset}
        />
        {!off && judged && <p className="muted text-[11.5px]">{verdictWords(judged)}</p>}
        {!off && numerical.words && (
          <p
            className={`text-[11.5px] ${numerical.doubtful ? "text-warning" : "muted"}`}
            data-testid={`claim-numerical-${number}`}
          >
            {numerical.words}
          </p>
        )}
        {!off && share && (
          <p
            className={`text-[11.5px] ${share.doubtful ? "text-warning" : "muted"}`}
            data-testid={`claim-share-of-${number}`}
          >
            {share.words}
          </p>
        )}
      </div>
      <span className="flex shrink-0 opacity-0 group-focus-within:opacity-100 group-hover:opacity-100">
        {scenario !== BASE && (
          <button
            type="button"
            className="btn btn-ghost btn-xs px-1 font-normal"
            onClick={() => edits.mutate({ do: "scenario claim", scenario, claim: text, off: !off })}
            data-testid={`claim-off-${number}`}
          >
            {off ? "judge" : "leave out"}
          </button>
        )}
        <button
          type="button"
          className="btn btn-ghost btn-xs px-1"
          onClick={() => edits.mutate({ do: "change claim", number, text: null })}
          aria-label={`Delete claim ${number + 1}`}
          title="Delete this claim"
          data-testid={`claim-delete-${number}`}
        >
          <Trash2 size={12} />
        </button>
      </span>
    </div>
  );
}

function Sign({
  judged,
  off,
  doubtful,
}: {
  judged: Judged | undefined;
  off: boolean;
  doubtful: boolean;
}) {
  if (off || !judged)
    return (
      <span
        className="muted w-4 shrink-0"
        title={off ? "Not judged in this scenario" : "Not judged yet"}
      >
        ○
      </span>
    );
  if (judged.holds === null)
    return (
      <span className="w-4 shrink-0 text-warning" title="Cannot be judged">
        ?
      </span>
    );
  if (doubtful)
    return (
      <span
        className="w-4 shrink-0 text-warning"
        title={`${judged.holds ? "Holds" : "Fails"}, but by less than is certain`}
      >
        ≈
      </span>
    );
  return judged.holds ? (
    <span className="w-4 shrink-0 text-success" title="Holds">
      ✓
    </span>
  ) : (
    <span className="w-4 shrink-0 text-error" title="Fails">
      ✕
    </span>
  );
}
