import { useQuery } from "@tanstack/react-query";
import { useMemo } from "react";
import { Link } from "react-router";

import type { Curve, ModelView, Row, RunView, SeenRun, SheetConnection } from "../api/client";
import { fetchCurves, keys, nameInRun, useValues } from "../api/queries";
import { CertainNumber } from "../ui/certain-number";
import { formatNumber, formatTime, formatUnit } from "../ui/format";
import { quantitiesOf } from "../drawing/wire-quantities";
import { useInstant } from "../state/instant";
import { colourOf } from "../state/scenarios";
import { usePlace } from "../state/place";
import { suited } from "../state/suited-unit";
import { useTime } from "../state/time";
import { useSelection } from "../state/selection";
import { runColour } from "../state/shown-runs";
import { useStripPlans } from "../state/strips";
import { Claims } from "./claims";
import { FaultPlace } from "../ui/fault-place";
import { Group } from "./group";
import { OldNames } from "./old-names";
import { ParameterRow } from "./parameter-row";
import { PartName } from "./part-name";
import { Ports } from "./ports";
import { RunSettings } from "./run-settings";
import { sections } from "../ui/row-text";
import { Sparkline } from "./sparkline";
import { StartBy } from "./start-by";
import { TableRow } from "./table-row";
import { gathered } from "../ui/tables";

/** The panel beside the sheet in which every quantity of the selection is one row. */
export function Ledger({
  view,
  whole,
  run,
  runs,
}: {
  view: ModelView;
  /** The model that is run: the view's own, or the one around it where one stepped in. */
  whole: ModelView;
  run: SeenRun | undefined;
  runs: RunView[];
}) {
  const scenario = usePlace((s) => s.scenario);
  const judged = runs.find((r) => r.scenario === scenario);
  const selected = useSelection((s) => s.selected);
  const component = view.sheet.components.find((c) => c.name === selected);
  const rows = useMemo(
    () =>
      view.rows.filter((row) => (component ? belongs(row, component.name) : row.component === "")),
    [view.rows, component],
  );
  const own = rows.filter((row) => row.component === (component?.name ?? ""));
  // What is worked out stands after what is given.
  const settable = own.filter((row) => row.group === "set" && row.editable);
  const derived = own.filter((row) => row.group === "set" && !row.editable && row.enabled);
  // What is chosen decides which rows there are: such a form is read by its words.
  const form = settable.some((row) => !row.enabled);
  const starting = own.filter((row) => row.group === "start" && row.enabled);
  const count = useSelection((s) => s.selection.length);
  const wires = useSelection((s) => s.wires);
  const wire =
    !component && count === 0 && wires.length === 1
      ? view.sheet.connections.find((c) => `${c.from} ${c.to}` === wires[0])
      : undefined;
  if (wire) return <WireLedger view={view} whole={whole} wire={wire} run={run} />;
  const watched = rows.filter((row) => row.group === "watch");
  return (
    <aside
      className="flex h-full flex-col overflow-y-auto bg-base-100 pb-4"
      aria-label="Ledger"
      data-testid="ledger"
    >
      <header className="rule-b px-3 py-2">
        {component ? (
          <PartName key={component.name} view={view} name={component.name} />
        ) : (
          <h2 className="text-[15px] font-semibold" data-testid="ledger-title">
            {view.sheet.name}
          </h2>
        )}
        <p className="muted">
          {component
            ? component.description
            : count > 1
              ? `${count} parts are selected; the rows are those of the model.`
              : view.sheet.description}
        </p>
        {component && (
          <Link
            to={`/projects/${view.project}/models/${encodeURIComponent(view.model)}/parts/${encodeURIComponent(component.class)}`}
            className="mono muted mt-0.5 block truncate hover:underline"
            title={`What ${component.class} does: equations, parameters, source, examples`}
            data-testid="about-class"
          >
            {component.class}
          </Link>
        )}
      </header>
      {view.instance && !component && <Instance view={view} whole={whole} />}
      {whole.problem && <Problem view={whole} />}
      {!component && <OldNames view={view} />}
      <Doubts view={view} part={component?.name ?? ""} />
      {sections(settable).map(({ title, rows: inside }) => (
        <Group key={title} title={title ? `Set: ${title}` : "Set"}>
          {gathered(inside).map((row) =>
            "elements" in row ? (
              <TableRow key={row.name} table={row} view={view} />
            ) : (
              <ParameterRow key={row.name} row={row} view={view} worded={form} />
            ),
          )}
        </Group>
      ))}
      {derived.length > 0 && (
        <Group title="Worked out">
          {gathered(derived).map((row) =>
            "elements" in row ? (
              <TableRow key={row.name} table={row} view={view} />
            ) : (
              <ParameterRow key={row.name} row={row} view={view} worded={form} />
            ),
          )}
        </Group>
      )}
      {starting.length > 0 && (
        <Group title="Start">
          {gathered(starting).map((row) =>
            "elements" in row ? (
              <TableRow key={row.name} table={row} view={view} />
            ) : (
              <ParameterRow key={row.name} row={row} view={view} />
            ),
          )}
          <StartBy view={view} rows={own.filter((row) => row.group === "watch")} />
        </Group>
      )}
      {(!component || component.port) && <Ports view={view} only={component?.name} />}
      {watched.length > 0 && (
        <Watch whole={whole} rows={watched} prefix={component?.name ?? ""} run={run} />
      )}
      {!component && <Claims view={whole} run={judged} />}
      {!component && <RunSettings view={whole} />}
      {!component && <Parts view={view} />}
    </aside>
  );
}

/** What a wire carries, each quantity to be put on a strip. */
function WireLedger({
  view,
  whole,
  wire,
  run,
}: {
  view: ModelView;
  whole: ModelView;
  wire: SheetConnection;
  run: SeenRun | undefined;
}) {
  const { rows } = quantitiesOf(wire, view.sheet.connections, view.rows);
  return (
    <aside
      className="flex h-full flex-col overflow-y-auto bg-base-100 pb-4"
      aria-label="Ledger"
      data-testid="ledger"
    >
      <header className="rule-b px-3 py-2">
        <h2 className="text-[15px] font-semibold" data-testid="ledger-title">
          Wire of {wire.from} and {wire.to}
        </h2>
        <p className="muted">
          Click a quantity to put it on a strip; Alt and a click on the wire does so at once.
        </p>
      </header>
      {rows.length > 0 ? (
        <Watch whole={whole} rows={rows} prefix="" run={run} />
      ) : (
        <p className="muted px-3 py-2">
          Nothing of this wire is computed yet: the model cannot be run as it is.
        </p>
      )}
    </aside>
  );
}

/** Own quantities of a component and those of its ports. */
function belongs(row: Row, component: string): boolean {
  return row.component === component || row.component.startsWith(`${component}.`);
}

/** Whose values are shown, and what an edit here means. */
function Instance({ view, whole }: { view: ModelView; whole: ModelView }) {
  return (
    <p className="rule-b muted px-3 py-2" data-testid="instance">
      Seen as <span className="font-medium">{view.instance}</span> of {whole.sheet.name}, with its
      values and curves. An edit changes every {view.sheet.name}.
    </p>
  );
}

function Problem({ view }: { view: ModelView }) {
  const problem = view.problem!;
  return (
    <div role="alert" className="rule-b px-3 py-2" data-testid="problem">
      <p className="text-error font-medium">✕ This model cannot be run</p>
      <p>{problem.message}</p>
      {problem.hint && <p className="muted">{problem.hint}</p>}
      <FaultPlace view={view} where={problem.where} />
    </div>
  );
}

/** What the parts say about their parameters: of all of them for the model, of its own for a part. */
function Doubts({ view, part }: { view: ModelView; part: string }) {
  const select = useSelection((s) => s.select);
  const doubts = view.doubts.filter(
    (d) => part === "" || d.component === part || d.component.startsWith(`${part}.`),
  );
  if (doubts.length === 0) return null;
  return (
    <div role="status" className="rule-b px-3 py-2" data-testid="doubts">
      {doubts.map((doubt) => (
        <p key={doubt.component + doubt.message}>
          <span
            className={doubt.level === "error" ? "text-error" : "text-warning"}
            aria-hidden="true"
          >
            ▲{" "}
          </span>
          {part === "" && doubt.component && (
            <button
              type="button"
              className="mr-1 font-medium underline"
              onClick={() => select(doubt.component.split(".")[0]!)}
            >
              {doubt.component}:
            </button>
          )}
          {doubt.message}
        </p>
      ))}
    </div>
  );
}

function Watch({
  whole,
  rows,
  prefix,
  run,
}: {
  whole: ModelView;
  rows: Row[];
  prefix: string;
  run: SeenRun | undefined;
}) {
  const instant = useInstant();
  const known = useMemo(() => new Map(run?.variables.map((v) => [v.name, v])), [run?.variables]);
  const names = rows.map((row) => row.name).filter((name) => known.has(name));
  const full = names.map((name) => nameInRun(run, name));
  const curves = useQuery({
    queryKey: keys.curves(run?.id ?? 0, full, 40, `${run?.points} peek`),
    queryFn: () => fetchCurves(run!.id, full, 40, null),
    enabled: !!run && run.points > 0 && names.length > 0,
    staleTime: Infinity,
  });
  const end = run?.time_reached ?? null;
  const timeUnit = useTime((s) => s.unit);
  const values = useValues(run, names, instant ?? end);
  const exact = useValues(
    run && run.checked_by !== null ? { ...run, id: run.checked_by } : undefined,
    names,
    instant ?? end,
  );
  const colour = runColour(run ? colourOf(whole, run) : 0);
  const byName = new Map<string, Curve>(curves.data?.curves.map((c) => [c.name, c]));
  const when =
    !run || run.points === 0
      ? "no run yet"
      : instant !== null
        ? `at ${formatTime(instant, timeUnit)}`
        : `final, ${formatTime(end ?? 0, timeUnit)}`;
  return (
    <Group title="Watch" aside={<span data-testid="watch-time">{when}</span>}>
      {rows.map((row) => {
        const variable = known.get(row.name);
        const raw = values.data?.values[row.name];
        const value =
          variable && raw !== null && raw !== undefined
            ? raw * variable.factor + variable.offset
            : null;
        // While the cursor moves, one of the two may be behind.
        const sharper =
          exact.data?.time === values.data?.time ? exact.data?.values[row.name] : undefined;
        const off =
          variable && raw !== null && raw !== undefined && sharper !== null && sharper !== undefined
            ? Math.abs((sharper - raw) * variable.factor)
            : null;
        return (
          <WatchRow
            key={row.name}
            row={row}
            label={prefix ? row.name.slice(prefix.length + 1) : row.name}
            value={value}
            off={off}
            unit={variable?.shown_unit ?? row.shown_unit}
            name={nameInRun(run, row.name)}
            curve={byName.get(nameInRun(run, row.name))}
            colour={colour}
            cursor={instant}
            available={variable !== undefined}
          />
        );
      })}
    </Group>
  );
}

interface WatchRowProps {
  row: Row;
  /** As the run calls it. */
  name: string;
  label: string;
  value: number | null;
  /** What it differs by in a run that is more exact, if there is one. */
  off: number | null;
  /** The unit in which the value is shown. */
  unit: string;
  curve: Curve | undefined;
  colour: string;
  cursor: number | null;
  available: boolean;
}

function WatchRow({
  row,
  name,
  label,
  value,
  off,
  unit,
  curve,
  colour,
  cursor,
  available,
}: WatchRowProps) {
  const strips = useStripPlans((s) => s.strips);
  const toggle = useStripPlans((s) => s.toggleOnStrip);
  const unitOf = useUnitOf();
  const shown = strips?.some((strip) => strip.names.includes(name)) ?? false;
  const words = shown ? `Take ${row.name} off its strip` : `Put ${row.name} on a strip`;
  const read = suited(value ?? 0, unit, formatNumber);
  return (
    <button
      type="button"
      className="grid w-full grid-cols-[14px_minmax(0,1fr)_72px_5rem_2.6rem] items-center gap-x-1.5 px-3 py-0.5 text-left enabled:hover:bg-base-200"
      onClick={() => toggle(name, unitOf)}
      disabled={!available}
      aria-pressed={shown}
      title={`${row.description ? `${row.description}. ` : ""}${words}.`}
      data-testid={`watch-${row.name}`}
    >
      <span aria-hidden="true" className={shown ? "" : "muted"}>
        {shown ? "▪" : "▫"}
      </span>
      <span className="truncate">{label}</span>
      <Sparkline curve={curve} colour={colour} cursor={cursor} />
      <span className="mono text-right" data-testid={`value-${row.name}`}>
        {value !== null && (
          <CertainNumber
            value={read.value}
            off={off === null || value === 0 ? off : Math.abs((off * read.value) / value)}
          />
        )}
      </span>
      <span className="muted dense truncate">{formatUnit(read.unit)}</span>
    </button>
  );
}

/** The shown unit of every variable of the current run, to group curves by. */
function useUnitOf(): (name: string) => string {
  return useStripPlans((s) => s.unitOf);
}

function Parts({ view }: { view: ModelView }) {
  const select = useSelection((s) => s.select);
  if (view.sheet.components.length === 0) return null;
  return (
    <Group title="Parts">
      {view.sheet.components.map((component) => (
        <button
          type="button"
          key={component.name}
          className="flex w-full gap-2 px-3 py-0.5 text-left hover:bg-base-200"
          onClick={() => select(component.name)}
          data-testid={`open-${component.name}`}
        >
          <span className="shrink-0 font-medium">{component.name}</span>
          <span className="muted truncate">{component.description}</span>
        </button>
      ))}
    </Group>
  );
}
