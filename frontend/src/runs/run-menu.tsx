import { keepPreviousData, useMutation, useQueries, useQueryClient } from "@tanstack/react-query";
import { List } from "lucide-react";
import { useState } from "react";

import { ask, client, type ModelView, type RunView } from "../api/client";
import { keys } from "../api/queries";
import { scenariosOf } from "../state/scenarios";
import { RunAbout } from "./run-about";
import { RunLine } from "./run-line";
import { Popover } from "../ui/popover";

/** Height of a row and of the list, in pixels; rows that are drawn beyond those in view; rows that are fetched together. */
const [ROW, HEIGHT, BEYOND, PAGE] = [30, 320, 8, 100];
const STATES = ["waiting", "running", "done", "failed", "stopped"];
const TIMES: [number, string][] = [
  [1, "in the last hour"],
  [24, "in the last day"],
  [168, "in the last week"],
];

/** The list of all runs of the model: shown, named, pinned, annotated, compared, deleted. */
export function RunMenu({
  view,
  runs,
  count,
}: {
  view: ModelView;
  runs: RunView[];
  count: number;
}) {
  if (count === 0) return null;
  return (
    <Popover
      label={
        <>
          <List size={14} /> {count} {count === 1 ? "run" : "runs"}
        </>
      }
      words={`All ${count} ${count === 1 ? "run" : "runs"}`}
      title="All runs"
      className="btn btn-ghost btn-xs shrink-0 px-1.5"
      panelClass="flex max-h-[80vh] w-[46rem] max-w-[95vw] flex-col"
      testid="run-menu"
      panelId="run-list"
    >
      {() => <RunList view={view} runs={runs} />}
    </Popover>
  );
}

interface Sought {
  words: string;
  scenario: string;
  state: string;
  /** The hours that were chosen, and when they began at that moment. */
  hours: number;
  since: string | undefined;
  all: boolean;
}

function RunList({ view, runs }: { view: ModelView; runs: RunView[] }) {
  const [sought, setSought] = useState<Sought>({
    words: "",
    scenario: "",
    state: "",
    hours: 0,
    since: undefined,
    all: false,
  });
  const [top, setTop] = useState(0);
  const [open, setOpen] = useState<number | null>(null);
  const [gone, setGone] = useState<RunView | null>(null);
  const first = Math.max(0, Math.floor(top / ROW) - BEYOND);
  const wanted = first + Math.ceil(HEIGHT / ROW) + 2 * BEYOND;
  const { count, at } = useRunPages(view, sought, first, wanted);
  const seek = (fields: Partial<Sought>) => {
    setSought({ ...sought, ...fields });
    setTop(0);
    document.querySelector('[data-testid="run-scroll"]')?.scrollTo(0, 0);
  };
  const rows = Array.from(
    { length: Math.max(0, Math.min(wanted, count) - first) },
    (_, i) => first + i,
  );
  const opened =
    rows.map(at).find((run) => run?.id === open) ?? runs.find((run) => run.id === open);
  return (
    <>
      <div className="flex items-center gap-2 p-2">
        <input
          autoFocus
          className="input input-sm min-w-0 flex-1"
          placeholder="Name, scenario, note, pinned"
          aria-label="Filter runs by words"
          value={sought.words}
          onChange={(event) => seek({ words: event.target.value })}
          data-testid="run-filter"
        />
        <Choice
          words="any scenario"
          value={sought.scenario}
          options={scenariosOf(view).map((s) => [s.name, s.name])}
          onChange={(scenario) => seek({ scenario })}
          testid="filter-scenario"
        />
        <Choice
          words="any state"
          value={sought.state}
          options={STATES.map((s) => [s, s])}
          onChange={(state) => seek({ state })}
          testid="filter-state"
        />
        <Choice
          words="any time"
          value={sought.hours ? String(sought.hours) : ""}
          options={TIMES.map(([h, words]) => [String(h), words])}
          onChange={(hours) =>
            seek({
              hours: Number(hours),
              since: hours
                ? new Date(Date.now() - Number(hours) * 3600_000).toISOString()
                : undefined,
            })
          }
          testid="filter-time"
        />
        <label
          className="flex shrink-0 items-center gap-1"
          title="Runs of all models of the project"
        >
          <input
            type="checkbox"
            className="checkbox checkbox-xs"
            checked={sought.all}
            onChange={(event) => seek({ all: event.target.checked })}
            data-testid="filter-all"
          />{" "}
          all models
        </label>
        <span className="muted shrink-0" data-testid="runs-found">
          {count} found
        </span>
      </div>
      {gone && <Bring run={gone} view={view} onDone={() => setGone(null)} />}
      <div
        className="overflow-y-auto"
        style={{ height: Math.min(HEIGHT, Math.max(count, 1) * ROW) }}
        onScroll={(event) => setTop(event.currentTarget.scrollTop)}
        data-testid="run-scroll"
      >
        <ul className="relative" style={{ height: count * ROW }}>
          {rows.map((k) => {
            const run = at(k);
            return (
              <li
                key={run?.id ?? `row ${k}`}
                className="absolute inset-x-0 flex items-center gap-1 px-2 hover:bg-base-200"
                style={{ top: k * ROW, height: ROW }}
                data-testid={run ? `run-${run.number}` : undefined}
              >
                {run ? (
                  <RunLine
                    run={run}
                    view={view}
                    open={open === run.id}
                    onOpen={() => setOpen(open === run.id ? null : run.id)}
                    onGone={() => setGone(run)}
                  />
                ) : (
                  <span className="muted pl-6">…</span>
                )}
              </li>
            );
          })}
        </ul>
        {count === 0 && <p className="muted px-3">No run matches.</p>}
      </div>
      {opened && opened.model === view.model && (
        <RunAbout key={opened.id} run={opened} view={view} runs={runs} />
      )}
    </>
  );
}

/** The runs that are sought, page by page as they come into view: how many there are, and each by its place. */
function useRunPages(
  view: ModelView,
  sought: Sought,
  first: number,
  last: number,
): { count: number; at: (place: number) => RunView | undefined } {
  const pages = [...new Set([0, Math.floor(first / PAGE), Math.floor(last / PAGE)])];
  const { words, scenario, state, since, all } = sought;
  const answers = useQueries({
    queries: pages.map((page) => ({
      queryKey: [
        ...keys.runs(view.project, view.model),
        "page",
        words,
        scenario,
        state,
        since,
        all,
        page,
      ],
      queryFn: () =>
        ask(
          client.GET("/api/projects/{project}/models/{model}/runs/page", {
            params: {
              path: { project: view.project, model: view.model },
              query: {
                words,
                scenario,
                state,
                all_models: all,
                offset: page * PAGE,
                limit: PAGE,
                ...(since ? { since } : {}),
              },
            },
          }),
        ),
      staleTime: 30_000,
      placeholderData: page === 0 ? keepPreviousData : undefined,
    })),
  });
  const known = new Map(pages.map((page, i) => [page, answers[i]?.data?.runs]));
  return {
    count: answers[0]?.data?.count ?? 0,
    at: (place) => known.get(Math.floor(place / PAGE))?.[place % PAGE],
  };
}

function Choice({
  words,
  value,
  options,
  onChange,
  testid,
}: {
  words: string;
  value: string;
  options: [string, string][];
  onChange: (value: string) => void;
  testid: string;
}) {
  return (
    <select
      className="select select-sm w-28 shrink-0"
      value={value}
      aria-label={words}
      onChange={(event) => onChange(event.target.value)}
      data-testid={testid}
    >
      <option value="">{words}</option>
      {options.map(([key, text]) => (
        <option key={key} value={key}>
          {text}
        </option>
      ))}
    </select>
  );
}

function Bring({ run, view, onDone }: { run: RunView; view: ModelView; onDone: () => void }) {
  const cache = useQueryClient();
  const back = useMutation({
    mutationFn: () =>
      ask(client.POST("/api/runs/{run}/restore", { params: { path: { run: run.id } } })),
    onSuccess: () => {
      void cache.invalidateQueries({ queryKey: keys.runs(view.project, view.model) });
      onDone();
    },
  });
  return (
    <p className="rule-b px-3 py-1" role="status">
      Run {run.number} was deleted.{" "}
      <button
        type="button"
        className="link"
        onClick={() => back.mutate()}
        data-testid="bring-run-back"
      >
        Bring it back
      </button>
    </p>
  );
}
