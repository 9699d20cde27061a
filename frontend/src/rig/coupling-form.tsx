import { asRefusal } from "../api/client";
import type { Edits } from "../state/use-edits";
import { DraftInput } from "../ui/draft-input";
import { formatNumber, formatTime } from "../ui/format";
import { typedSeconds } from "./cables";
import type { RigSettings } from "./use-rig";

const ORDERS: Record<RigSettings["order"], string> = {
  parallel: "side by side",
  sequential: "one after the other",
};
const INPUTS: Record<RigSettings["inputs"], string> = {
  held: "held",
  extrapolated: "extrapolated",
  smoothed: "smoothed by derivatives",
};
const FIELD =
  "input input-sm mono w-28 rounded-none border-0 border-b border-base-300 bg-transparent px-1 text-right";

/** How the units of a rig exchange their signals; each change is kept with the model. */
export function CouplingForm({ settings, edits }: { settings: RigSettings; edits: Edits }) {
  const keep = (change: Partial<RigSettings>, done = () => undefined as void) =>
    edits.mutate({ do: "couple", ...settings, ...change }, { onSuccess: done });
  const refusal = edits.error ? asRefusal(edits.error).sentence : null;
  return (
    <div className="grid w-fit grid-cols-[auto_auto] items-center gap-x-4 gap-y-0.5">
      <span>communication step</span>
      <span>
        <DraftInput
          value={formatTime(settings.step)}
          label="communication step"
          testid="rig-step"
          className={FIELD}
          refusal={refusal}
          onAgain={edits.reset}
          onKeep={(text, done) => {
            const step = typedSeconds(text.replace(/\u2009/g, " "));
            if (step !== null) keep({ step }, done);
          }}
        />
      </span>
      <span title="Whether each unit sees what others gave at the step before, or what those before it gave in this step">
        units compute
      </span>
      <Select
        label="order of the units"
        testid="rig-order"
        value={settings.order}
        words={ORDERS}
        onChange={(order) => keep({ order })}
      />
      <span title="What an input is during a step">inputs within a step</span>
      <Select
        label="inputs within a step"
        testid="rig-inputs"
        value={settings.inputs}
        words={INPUTS}
        onChange={(inputs) => keep({ inputs })}
      />
      <Share
        label="step adapted to an error of"
        hint="0: all steps are equal. Works where all units can go back to an earlier state."
        value={settings.error}
        off="fixed step"
        testid="rig-error"
        onKeep={(error, done) => keep({ error }, done)}
      />
      <Share
        label="loops agree within"
        hint="Signals that depend on each other at one instant are repeated until they agree so closely; 0: not repeated."
        value={settings.loops}
        off="not repeated"
        testid="rig-loops"
        onKeep={(loops, done) => keep({ loops }, done)}
      />
      <Share
        label="seconds of the rig in one of the clock"
        hint="1 is real time; 0: as fast as it goes."
        value={settings.pace}
        off="as fast as it goes"
        testid="rig-pace"
        onKeep={(pace, done) => keep({ pace }, done)}
      />
    </div>
  );
}

function Select<T extends string>({
  label,
  testid,
  value,
  words,
  onChange,
}: {
  label: string;
  testid: string;
  value: T;
  words: Record<T, string>;
  onChange: (value: T) => void;
}) {
  return (
    <select
      className="select select-sm w-52 rounded-none border-0 border-b border-base-300 bg-transparent"
      aria-label={label}
      value={value}
      onChange={(event) => onChange(event.target.value as T)}
      data-testid={testid}
    >
      {(Object.entries(words) as [T, string][]).map(([name, text]) => (
        <option key={name} value={name}>
          {text}
        </option>
      ))}
    </select>
  );
}

function Share({
  label,
  hint,
  value,
  off,
  testid,
  onKeep,
}: {
  label: string;
  hint: string;
  value: number;
  off: string;
  testid: string;
  onKeep: (value: number, done: () => void) => void;
}) {
  return (
    <>
      <span title={hint}>{label}</span>
      <span className="flex items-center gap-2">
        <DraftInput
          value={formatNumber(value)}
          label={label}
          testid={testid}
          className={FIELD}
          refusal={null}
          onAgain={() => undefined}
          onKeep={(text, done) => {
            const typed = Number(text.replace(",", "."));
            if (typed >= 0) onKeep(typed, done);
          }}
        />
        {value === 0 && <span className="muted">{off}</span>}
      </span>
    </>
  );
}
