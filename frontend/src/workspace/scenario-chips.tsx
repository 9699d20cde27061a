import { Copy, MoreHorizontal, Plus, Trash2 } from "lucide-react";
import { useEffect, useRef, useState } from "react";

import { asRefusal, type ModelView, type RunView } from "../api/client";
import { DraftInput } from "../ui/draft-input";
import { useEdits } from "../state/use-edits";
import { ColourChoice } from "../ui/colour-choice";
import { ColourDot } from "../ui/colour-dot";
import {
  BASE,
  claimCount,
  freeName,
  newestRuns,
  outdated,
  scenariosOf,
  type Scenario,
} from "../state/scenarios";
import { usePlace } from "../state/place";
import { stateWords } from "../ui/run-words";
import { PanelAt } from "../ui/popover";

interface Props {
  view: ModelView;
  runs: RunView[];
  onFault: (sentence: string | null) => void;
}

/** The scenarios of the model, each in its colour with the state of its newest run; one of them is edited and run. */
export function ScenarioChips({ view, runs, onFault }: Props) {
  const active = usePlace((s) => s.scenario);
  const setScenario = usePlace((s) => s.setScenario);
  const edits = useEdits(view, onFault);
  const newest = newestRuns(runs);
  const add = (like: string) => {
    const name = freeName(view, like === BASE ? "scenario 1" : `${like} copy`);
    edits.mutate({ do: "add scenario", name, like }, { onSuccess: () => setScenario(name) });
  };
  return (
    <div
      className="flex min-w-0 flex-1 items-center gap-1 overflow-x-auto"
      role="group"
      aria-label="Scenarios"
    >
      {scenariosOf(view).map((scenario) => (
        <Chip
          key={scenario.name}
          scenario={scenario}
          run={newest.get(scenario.name)}
          view={view}
          active={active === scenario.name}
          onPick={() => setScenario(scenario.name)}
          onCopy={() => add(scenario.name)}
          onFault={onFault}
        />
      ))}
      <button
        type="button"
        className="btn btn-ghost btn-sm shrink-0 px-1.5"
        onClick={() => add(active)}
        aria-label="New scenario"
        title="A scenario: changes against the base, made by duplicating the chosen one"
        data-testid="add-scenario"
      >
        <Plus size={15} />
      </button>
    </div>
  );
}

interface ChipProps {
  scenario: Scenario;
  run: RunView | undefined;
  view: ModelView;
  active: boolean;
  onPick: () => void;
  onCopy: () => void;
  onFault: (sentence: string | null) => void;
}

function Chip({ scenario, run, view, active, onPick, onCopy, onFault }: ChipProps) {
  const [open, setOpen] = useState<{ left: number; top: number } | null>(null);
  const host = useRef<HTMLSpanElement>(null);
  const changes = Object.keys(scenario.changes).length + Object.keys(scenario.settings).length;
  const verdict = run
    ? ` Newest run: ${stateWords(run)}${outdated(view, run) ? ", of an earlier state of the model" : ""}.`
    : " Not run yet.";
  return (
    <span
      ref={host}
      className={`flex h-7 shrink-0 items-center border ${active ? "border-base-content" : "border-base-300"}`}
      data-testid="scenario"
      data-scenario={scenario.name}
      data-state={run?.state ?? "none"}
    >
      <button
        type="button"
        className="flex h-full items-center gap-1.5 px-2"
        onClick={onPick}
        aria-pressed={active}
        title={`${scenario.name === BASE ? "The model as it is" : `${changes} change${changes === 1 ? "" : "s"} against the base`}.${verdict}${scenario.note ? ` ${scenario.note}` : ""}`}
        data-testid={`scenario-${scenario.name}`}
      >
        <ColourDot slot={scenario.colour} />
        <span className="max-w-40 truncate">{scenario.name}</span>
        {run && <RunSign run={run} stale={outdated(view, run)} />}
        {run && run.claims.length > 0 && <ClaimSign run={run} />}
      </button>
      {scenario.name !== BASE && (
        <button
          type="button"
          className="muted h-full px-1 hover:text-base-content"
          onClick={() => {
            const box = host.current!.getBoundingClientRect();
            setOpen(
              open
                ? null
                : { left: Math.min(box.left, window.innerWidth - 300), top: box.bottom + 4 },
            );
          }}
          aria-expanded={open !== null}
          aria-label={`More about ${scenario.name}`}
          title="Name, colour, copy, delete"
          data-testid={`scenario-more-${scenario.name}`}
        >
          <MoreHorizontal size={13} />
        </button>
      )}
      {open && (
        <ChipMenu
          scenario={scenario}
          view={view}
          at={open}
          onCopy={onCopy}
          onClose={() => setOpen(null)}
          onFault={onFault}
        />
      )}
    </span>
  );
}

function RunSign({ run, stale }: { run: RunView; stale: boolean }) {
  if (run.state === "running") return <Progress run={run} />;
  if (run.state === "failed") return <span className="text-error">✕</span>;
  if (run.state === "done") return <span className="muted">{stale ? "✓ earlier" : "✓"}</span>;
  return <span className="muted">{run.state === "stopped" ? "■" : "…"}</span>;
}

/** How far a run is, and about how long it will take. */
function Progress({ run }: { run: RunView }) {
  const began = useRef<{ at: number; progress: number } | null>(null);
  const [left, setLeft] = useState<number | null>(null);
  useEffect(() => {
    began.current ??= { at: performance.now(), progress: run.progress };
    const gained = run.progress - began.current.progress;
    if (gained > 0.02)
      setLeft(((performance.now() - began.current.at) / 1000) * ((1 - run.progress) / gained));
  }, [run.progress]);
  return (
    <span className="muted" data-testid="progress">
      {`${Math.round(run.progress * 100)}\u2009%`}
      {left !== null &&
        left > 2 &&
        `, ${left < 90 ? `${Math.round(left)}\u2009s` : `${Math.round(left / 60)}\u2009min`} left`}
    </span>
  );
}

/** How many claims hold, in words for those who cannot see the colour; nothing before they are judged. */
function ClaimSign({ run }: { run: RunView }) {
  const { held, failed, pending, asked } = claimCount(run.claims);
  if (asked === 0 || pending > 0 || run.state !== "done") return null;
  return (
    <span
      className={`text-[12px] ${failed > 0 ? "text-error" : held === asked ? "text-success" : "text-warning"}`}
      data-testid="claim-sign"
    >
      {`${held} of ${asked} hold`}
    </span>
  );
}

interface MenuProps {
  scenario: Scenario;
  view: ModelView;
  at: { left: number; top: number };
  onCopy: () => void;
  onClose: () => void;
  onFault: (sentence: string | null) => void;
}

function ChipMenu({ scenario, view, at, onCopy, onClose, onFault }: MenuProps) {
  const edits = useEdits(view, onFault);
  const setScenario = usePlace((s) => s.setScenario);
  const active = usePlace((s) => s.scenario);
  const name = edits.error ? asRefusal(edits.error).sentence : null;
  const alter = (
    changes: Partial<{ new: string; colour: number; note: string }>,
    done?: () => void,
  ) =>
    edits.mutate(
      {
        do: "alter scenario",
        name: scenario.name,
        new: scenario.name,
        colour: scenario.colour,
        note: scenario.note,
        ...changes,
      },
      {
        onSuccess: () => {
          if (changes.new && active === scenario.name) setScenario(changes.new);
          done?.();
        },
      },
    );
  return (
    <PanelAt
      at={at}
      label={`Scenario ${scenario.name}`}
      className="flex w-72 flex-col gap-2 p-3"
      testid="scenario-menu"
      onClose={onClose}
    >
      <div className="flex items-center gap-2">
        <span className="w-12" aria-hidden="true">
          name
        </span>
        <DraftInput
          value={scenario.name}
          label="Name of the scenario"
          testid="scenario-name"
          className="input input-sm w-full"
          refusal={name}
          onKeep={(text, done) => alter({ new: text }, () => (done(), onClose()))}
          onAgain={edits.reset}
        />
      </div>
      <div className="flex items-center gap-1" role="radiogroup" aria-label="Colour">
        <span className="w-12">colour</span>
        <ColourChoice
          chosen={scenario.colour}
          onChoose={(colour) => alter({ colour })}
          testid={(slot) => `scenario-colour-${slot}`}
        />
      </div>
      <div className="flex gap-1">
        <button
          type="button"
          className="btn btn-sm font-normal"
          onClick={() => {
            onCopy();
            onClose();
          }}
          data-testid="scenario-copy"
        >
          <Copy size={13} /> Duplicate
        </button>
        <button
          type="button"
          className="btn btn-sm font-normal"
          onClick={() =>
            edits.mutate(
              { do: "delete scenario", name: scenario.name },
              {
                onSuccess: () => {
                  if (active === scenario.name) setScenario(BASE);
                  onClose();
                },
              },
            )
          }
          title="Its runs are kept; undo brings it back"
          data-testid="scenario-delete"
        >
          <Trash2 size={13} /> Delete
        </button>
      </div>
    </PanelAt>
  );
}
