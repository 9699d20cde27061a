import { asRefusal, type ModelView } from "../api/client";
import { usePlace } from "../state/place";
import { formatNumber, formatTime, formatTypedTime } from "../ui/format";
import { useEdits } from "../state/use-edits";
import { DraftInput } from "../ui/draft-input";

const NOTHING = () => undefined;

/** How the model is run; every change is kept with the model. */
export function RunSettings({ view }: { view: ModelView }) {
  const settings = view.settings;
  const setView = usePlace((s) => s.setView);
  if (!settings) return null;
  return (
    <section className="rule-b py-1.5" aria-label="Run settings">
      <h3 className="muted flex items-baseline justify-between px-3 pb-1 text-[12px] font-semibold">
        Run settings <span className="font-normal">kept with the model</span>
      </h3>
      <Setting
        view={view}
        name="stop"
        label="stops at"
        shown={formatTypedTime(settings.stop, settings.time_unit)}
      />
      <Setting
        view={view}
        name="interval"
        label="output every"
        shown={formatTypedTime(settings.interval, settings.interval_unit)}
      />
      {view.rig ? (
        <p className="grid grid-cols-[minmax(0,1fr)_9rem] items-center gap-x-2 px-3 py-1">
          <button type="button" className="text-left underline" onClick={() => setView("rig")}>
            communication step
          </button>
          <span className="mono text-right">{formatTime(view.rig.step)}</span>
        </p>
      ) : (
        <>
          <Solver view={view} />
          <p className="muted px-3 text-[11.5px]" data-testid="solver-purpose">
            {settings.purpose}
          </p>
        </>
      )}
      {settings.step !== null && !view.rig && (
        <Setting
          view={view}
          name="step"
          label="step"
          shown={formatTypedTime(settings.step, settings.step_unit)}
        />
      )}
      {settings.tolerance !== null && (
        <Setting
          view={view}
          name="tolerance"
          label="tolerance"
          shown={formatNumber(settings.tolerance)}
        />
      )}
    </section>
  );
}

function Setting({
  view,
  name,
  label,
  shown,
}: {
  view: ModelView;
  name: string;
  label: string;
  shown: string;
}) {
  const edits = useEdits(view, NOTHING);
  return (
    <div className="grid grid-cols-[minmax(0,1fr)_9rem] items-center gap-x-2 px-3 py-0.5">
      <span>{label}</span>
      <span className="text-right">
        <DraftInput
          value={shown}
          label={label}
          testid={`setting-${name}`}
          className="input input-sm mono w-full rounded-none border-0 border-b border-base-300 bg-transparent px-1 text-right"
          refusal={edits.error ? asRefusal(edits.error).sentence : null}
          onKeep={(text, done) => edits.mutate({ do: "setting", name, text }, { onSuccess: done })}
          onAgain={edits.reset}
        />
      </span>
    </div>
  );
}

function Solver({ view }: { view: ModelView }) {
  const edits = useEdits(view, NOTHING);
  const settings = view.settings!;
  return (
    <label className="grid grid-cols-[minmax(0,1fr)_14rem] items-center gap-x-2 px-3 py-0.5">
      solver
      <select
        className="select select-sm w-full rounded-none border-0 border-b border-base-300 bg-transparent text-right"
        value={settings.solver}
        disabled={edits.isPending}
        onChange={(event) =>
          edits.mutate({ do: "setting", name: "solver", text: event.target.value })
        }
        data-testid="setting-solver"
      >
        {Object.entries(settings.solvers).map(([name, words]) => (
          <option key={name} value={name}>
            {words}
          </option>
        ))}
      </select>
    </label>
  );
}
