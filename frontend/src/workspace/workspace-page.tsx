import { useQueries, useQueryClient } from "@tanstack/react-query";
import { Suspense, useCallback, useEffect, useMemo, useRef, useState } from "react";
import { Columns, Rows } from "./rows";
import { useParams, useSearchParams } from "react-router";

import {
  ask,
  asRefusal,
  client,
  type ModelView,
  type RunDetail,
  type RunView,
  type SeenRun,
  type Schemas,
  type SheetComponent,
} from "../api/client";
import { FINISHED, fetchRun, keys, useModel, useRuns } from "../api/queries";
import { NowhereAtAll } from "../ui/nowhere";
import { Ledger } from "../ledger/ledger";
import { planOf } from "../state/strip-plan";
import { Recorder } from "../recorder/recorder";
import { SheetView } from "../sheet/sheet-view";
import { SwapPanel } from "../sheet/swap-panel";
import { useEdits, type Edits } from "../state/use-edits";
import { Shelf } from "../shelf/shelf";
import { openModel, openPart } from "../state/open";
import { useAsInstance, useInScenario } from "../state/in-scenario";
import { useAskedComponent } from "../state/asked-component";
import { usePlace, type View } from "../state/place";
import { Notice } from "../ui/notice";
import { useShownRuns } from "../state/shown-runs";
import { useStripPlans } from "../state/strips";
import { fetchWhenIdle } from "../ui/page";
import { Footer } from "./footer";
import { keptKey, keptView, rememberedView } from "./kept-view";
import { readSteps, useStepIn } from "./steps";
import { TopBar } from "./top-bar";
import * as views from "./views";

/** The work space of one model: sheet or text, ledger, recorder. */
export function WorkspacePage() {
  const parameters = useParams();
  const project = Number(parameters.project);
  const model = parameters.model ?? "";
  const [search] = useSearchParams();
  const steps = readSteps(search.get("via"));
  const root = steps[0]?.model ?? model;
  // What was looked at last is asked for together with the model, not after it.
  const cache = useQueryClient();
  useEffect(() => fetchWhenIdle(Object.values(views)), []);
  useEffect(() => {
    for (const { run } of rememberedView(keptKey(project, root)).shown)
      void cache.prefetchQuery({
        queryKey: keys.run(run),
        queryFn: () => fetchRun(run),
        retry: false,
      });
  }, [cache, project, root]);
  const view = useModel(project, model);
  const whole = useModel(project, root);
  const runs = useRuns(project, root);
  // Stepping in and out keeps what is shown; coming back from elsewhere does not.
  useEffect(() => () => usePlace.setState({ opened: "" }), []);
  useEffect(() => {
    document.title = `${model.split(".").at(-1)} · movrel`;
  }, [model]);
  const missing = (!view.data && view.error) || (!whole.data && whole.error);
  if (missing) {
    const refusal = asRefusal(missing);
    const text = `/api/projects/${project}/models/${encodeURIComponent(model)}/download`;
    return (
      <NowhereAtAll message={refusal.message} hint={refusal.hint}>
        {refusal.status !== 404 && (
          <>
            <button
              type="button"
              className="link"
              onClick={() => void Promise.all([view.refetch(), whole.refetch()])}
            >
              Load it again
            </button>
            <a className="link" href={text} download>
              Download its text
            </a>
          </>
        )}
      </NowhereAtAll>
    );
  }
  if (!view.data || !whole.data || !runs.data) return <p className="muted p-6">Opening…</p>;
  return (
    <Workspace
      key={`${project} ${model}`}
      view={view.data}
      whole={whole.data}
      instance={steps.map((step) => step.part).join(".")}
      newest={runs.data.runs}
      count={runs.data.count}
    />
  );
}

interface Props {
  view: ModelView;
  /** The model that is run: the view's own, or the one around it where one stepped in. */
  whole: ModelView;
  /** Which part of the whole the view is; empty for the whole itself. */
  instance: string;
  newest: RunView[];
  count: number;
}

function Workspace({ view, whole, instance, newest, count }: Props) {
  const key = keptKey(whole.project, whole.model);
  const varied = useInScenario(view);
  const inside = useAsInstance(view, whole, instance);
  const seen = instance ? inside : varied;
  const [fault, setFault] = useState<string | null>(null);
  const [search] = useSearchParams();
  const shown = useShownRuns((s) => s.shown);
  const currentRun = useShownRuns((s) => s.current);
  const strips = useStripPlans((s) => s.strips);
  const { setStrips, setUnits } = useStripPlans.getState();
  const place = usePlace((s) => s.view);
  const ready = usePlace((s) => s.opened) === key;
  useEffect(() => {
    if (usePlace.getState().opened === key) openPart();
    else {
      const kept = keptView(key, newest);
      openModel(key, kept.shown, kept.strips);
    }
    const compared = Number(search.get("compare"));
    if (compared > 0) useShownRuns.getState().show(compared, false);
    const line = Number(search.get("line"));
    if (line > 0) usePlace.getState().setView("text", line);
    // eslint-disable-next-line react-hooks/exhaustive-deps -- once for each model
  }, [key]);
  useEffect(() => {
    if (ready) localStorage.setItem(key, JSON.stringify({ shown, strips }));
  }, [ready, key, shown, strips]);

  const details = useQueries({
    queries: shown.map((s) => ({
      queryKey: keys.run(s.run),
      queryFn: () => fetchRun(s.run),
      retry: false,
      // Announcements come at once; asking now and then makes up for one that was lost.
      refetchInterval: (query: { state: { data?: RunDetail | undefined } }) =>
        query.state.data && !FINISHED.includes(query.state.data.state) ? 500 : (false as const),
    })),
  });
  const version = details
    .map((d) => `${d.dataUpdatedAt} ${d.data?.state} ${d.data?.points}`)
    .join(" ");
  const shownRuns = useMemo(
    () => details.flatMap((d) => (d.data ? [d.data] : [])),
    // eslint-disable-next-line react-hooks/exhaustive-deps -- `version` stands for `details`
    [version],
  );
  const runs = useMemo(
    () => [...newest, ...shownRuns.filter((run) => !newest.some((r) => r.id === run.id))],
    [newest, shownRuns],
  );
  const current = shownRuns.find((r) => r.id === currentRun);
  // A run of another model has curves to compare, but no values for this sheet.
  const own =
    current?.model === whole.model ? current : shownRuns.findLast((r) => r.model === whole.model);
  const seenRun = useMemo(() => own && seenFrom(own, instance), [own, instance]);

  useEffect(() => {
    const first = shownRuns.find((r) => r.variables.length > 0);
    if (!first) return;
    const units = new Map(first.variables.map((v) => [v.name, v.unit]));
    setUnits((name) => units.get(name) ?? "");
    if (ready && strips === null) setStrips(whole.layouts[0]?.strips ?? first.layout.map(planOf));
  }, [ready, shownRuns, strips, setStrips, setUnits, whole.layouts]);

  const edits = useEdits(view, setFault);
  const { extent } = view.sheet;
  // Before the sheet was seen once: beside what is there.
  const free = useRef(() =>
    view.sheet.components.length > 0
      ? { x: extent[2]! + 60, y: (extent[1]! + extent[3]!) / 2 }
      : { x: 0, y: 0 },
  );
  const onPlace = useCallback((where: () => { x: number; y: number }) => {
    free.current = where;
  }, []);
  return (
    <div className="flex h-full flex-col">
      <TopBar view={view} whole={whole} runs={runs} onFault={setFault} />
      {fault && (
        <p role="alert" className="rule-b bg-base-100 px-3 py-1.5 text-error" data-testid="fault">
          ✕ {fault}
          <button
            type="button"
            className="btn btn-ghost btn-xs ml-3"
            onClick={() => setFault(null)}
          >
            Dismiss
          </button>
        </p>
      )}
      <Notice project={view.project} file={view.file} onCompare={usePlace.getState().compareWith} />
      <main className="flex min-h-0 flex-1 flex-col">
        <Rows
          empty={count === 0}
          above={
            <Columns
              left={
                place === "sheet" && (
                  <Shelf
                    view={view}
                    onInsert={(className, values, onRefused) =>
                      edits.mutate(
                        {
                          do: "insert",
                          class: className,
                          ...free.current(),
                          into: null,
                          values,
                        },
                        { onError: onRefused },
                      )
                    }
                  />
                )
              }
              middle={
                <Middle
                  view={view}
                  seen={seen}
                  runs={runs}
                  whole={whole}
                  run={seenRun}
                  edits={edits}
                  onFault={setFault}
                  onPlace={onPlace}
                  place={() => free.current()}
                />
              }
              right={<Ledger view={seen} whole={whole} run={seenRun} runs={runs} />}
            />
          }
          below={(folded, fold) => (
            <Recorder
              view={whole}
              list={runs}
              count={count}
              runs={shownRuns}
              canRun={!whole.problem}
              folded={folded}
              onFold={fold}
              onFault={setFault}
            />
          )}
        />
      </main>
      <Footer view={view} current={current} />
    </div>
  );
}

/** A run as it is seen from inside a part of its model. */
function seenFrom(run: RunDetail, instance: string): SeenRun {
  if (!instance) return run;
  const prefix = `${instance}.`;
  const variables = run.variables
    .filter((v) => v.name.startsWith(prefix))
    .map((v) => ({ ...v, name: v.name.slice(prefix.length) }));
  return { ...run, variables, instance };
}

interface MiddleProps {
  view: ModelView;
  whole: ModelView;
  /** The same with the values of the chosen scenario. */
  seen: ModelView;
  runs: RunView[];
  run: SeenRun | undefined;
  edits: Edits;
  onFault: (sentence: string | null) => void;
  onPlace: (where: () => { x: number; y: number }) => void;
  place: () => { x: number; y: number };
}

const TABS: [View, string][] = [
  ["sheet", "Sheet"],
  ["text", "Text"],
  ["equations", "Equations"],
  ["scenarios", "Scenarios"],
  ["sweeps", "Sweeps"],
  ["analyses", "Fits"],
  ["figures", "Values"],
  ["symbol", "Symbol"],
  ["description", "Description"],
  ["units", "Units"],
  ["rig", "Rig"],
  ["board", "Board"],
  ["history", "History"],
];

/** What only a rig has. */
const RIG_VIEWS: View[] = ["rig", "board"];

/** A component that is being written, and the class that it changes, if it is there already. */
type Written =
  | { kind: "equations"; className: string | null }
  | { kind: "code"; code: Schemas["CodeComponent"] | null };

function Middle({ view, whole, seen, runs, run, edits, onFault, onPlace, place }: MiddleProps) {
  const { mutate } = edits;
  const shown = usePlace((s) => s.view);
  const setView = usePlace((s) => s.setView);
  const [written, setWritten] = useState<Written | null>(null);
  const [swapping, setSwapping] = useState<string | null>(null);
  const stepIn = useStepIn(view);
  const path = { project: view.project, model: view.model };
  // Variables without any part: they come from the text.
  const onlyEquations =
    view.sheet.components.length === 0 &&
    !whole.problem &&
    seen.rows.some((row) => row.group === "watch");
  const open = async (kind: "equations" | "code", part?: SheetComponent) => {
    if (!part) {
      setWritten(kind === "equations" ? { kind, className: null } : { kind, code: null });
      return;
    }
    // A component that was written as code is changed as code.
    try {
      const { code } = await ask(
        client.GET("/api/projects/{project}/models/{model}/class", {
          params: { path, query: { name: part.class } },
        }),
      );
      if (!part.class.startsWith(`${view.model}.`))
        onFault(`${part.class} is a model of its own; step in and use its view Text.`);
      else setWritten(code ? { kind: "code", code } : { kind: "equations", className: part.class });
    } catch (fault) {
      onFault(asRefusal(fault).sentence);
    }
  };
  const close = () => setWritten(null);
  useEffect(
    () =>
      useAskedComponent.subscribe(({ kind, ask: askFor }) => {
        if (!kind) return;
        setWritten(kind === "equations" ? { kind, className: null } : { kind, code: null });
        askFor(null);
      }),
    [],
  );
  return (
    <div className="flex h-full flex-col">
      <div
        role="tablist"
        aria-label="Views of the model"
        className="rule-b flex overflow-x-auto bg-base-100"
      >
        {TABS.filter(([name]) => !RIG_VIEWS.includes(name) || whole.rig || shown === name).map(
          ([name, words]) => (
            <button
              key={name}
              type="button"
              role="tab"
              id={`tab-${name}`}
              aria-selected={shown === name}
              aria-controls="middle"
              className={`${whole.rig ? "px-1" : "px-2"} py-1 ${shown === name ? "border-b-2 border-base-content font-medium" : "muted border-b-2 border-transparent"}`}
              onClick={() => (setView(name), close())}
              data-testid={`view-${name}`}
            >
              {words}
            </button>
          ),
        )}
      </div>
      <div
        id="middle"
        role="tabpanel"
        aria-labelledby={`tab-${shown}`}
        className="relative min-h-0 flex-1"
      >
        {shown === "sheet" && !written && onlyEquations && (
          <div className="flex h-full flex-col" data-testid="only-equations">
            <p className="rule-b flex items-center gap-2 bg-base-100 px-3 py-1.5">
              <span className="muted">
                This model has no parts; it computes these equations of its text.
              </span>
              <span className="ml-auto" />
              <button type="button" className="btn btn-sm" onClick={() => setView("text")}>
                Edit the text
              </button>
              <button
                type="button"
                className="btn btn-sm"
                onClick={() => setWritten({ kind: "equations", className: null })}
              >
                + Equations
              </button>
              <button
                type="button"
                className="btn btn-sm"
                onClick={() => setWritten({ kind: "code", code: null })}
              >
                + Code
              </button>
            </p>
            <div className="min-h-0 flex-1">
              <Suspense fallback={<p className="muted p-4">Opening…</p>}>
                <views.equationsView.Page view={seen} whole={whole} run={run} />
              </Suspense>
            </div>
          </div>
        )}
        {shown === "sheet" && !written && !onlyEquations && (
          <>
            <SheetView
              view={seen}
              run={run}
              onEdit={mutate}
              onFault={onFault}
              onPlace={onPlace}
              onOpen={stepIn}
              onSwap={setSwapping}
              onComponent={(kind, part) => void open(kind, part)}
            />
            {swapping && view.sheet.components.some((c) => c.name === swapping) && (
              <SwapPanel
                key={swapping}
                view={view}
                part={swapping}
                edits={edits}
                onClose={() => setSwapping(null)}
              />
            )}
          </>
        )}
        <Suspense fallback={<p className="muted p-4">Opening…</p>}>
          {shown === "sheet" && written?.kind === "equations" && (
            <views.componentEditor.Page
              view={view}
              edits={edits}
              className={written.className}
              onPlace={place}
              onClose={close}
            />
          )}
          {shown === "sheet" && written?.kind === "code" && (
            <views.codeEditor.Page
              view={view}
              edits={edits}
              code={written.code}
              onPlace={place}
              onClose={close}
            />
          )}
          {shown === "text" && <views.textView.Page view={view} edits={edits} onFault={onFault} />}
          {shown === "equations" && (
            <views.equationsView.Page view={seen} whole={whole} run={run} />
          )}
          {shown === "scenarios" && (
            <views.scenariosView.Page view={whole} runs={runs} onFault={onFault} />
          )}
          {shown === "sweeps" && <views.sweepsView.Page view={whole} />}
          {shown === "figures" && <views.figuresView.Page view={view} />}
          {shown === "symbol" && <views.symbolView.Page view={view} edits={edits} />}
          {shown === "description" && <views.descriptionView.Page view={view} edits={edits} />}
          {shown === "units" && <views.unitsView.Page view={view} edits={edits} onPlace={place} />}
          {shown === "analyses" && (
            <views.analysesView.Page view={view} edits={edits} onPlace={place} />
          )}
          {shown === "rig" && <views.rigView.Page view={view} edits={edits} runs={runs} />}
          {shown === "board" && (
            <views.boardView.Page view={whole} edits={edits} run={run} onFault={onFault} />
          )}
          {shown === "history" && <views.historyView.Page view={view} edits={edits} />}
        </Suspense>
      </div>
    </div>
  );
}
