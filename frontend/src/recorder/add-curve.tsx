import { Plus } from "lucide-react";
import { useMemo, useState } from "react";

import type { RunDetail } from "../api/client";
import { Popover } from "../ui/popover";
import { counted, formatUnit } from "../ui/format";
import { shortName, useMeasuredColumns } from "../state/measured";
import { useStripPlans } from "../state/strips";
import { CURVE } from "../state/dragged-curve";
import { search } from "./search";

/** Variables listed at most. */
const MOST = 60;

interface Props {
  project: number;
  runs: RunDetail[];
}

/** Finding any variable of the shown runs, or a measured column, and putting it on a strip. */
export function AddCurve({ project, runs }: Props) {
  return (
    <Popover
      label={
        <>
          <Plus size={13} /> Curve
        </>
      }
      title="Find a quantity and put it on a strip (F)"
      testid="add-curve"
      disabled={!runs.some((run) => run.variables.length > 0)}
    >
      {() => <Finder project={project} runs={runs} />}
    </Popover>
  );
}

function Finder({ project, runs }: Props) {
  const [typed, setTyped] = useState("");
  const [at, setAt] = useState(0);
  const strips = useStripPlans((s) => s.strips);
  const measured = useMeasuredColumns(project).data;
  const variables = useMemo(
    () =>
      new Map(
        [...runs.flatMap((run) => run.variables), ...(measured ?? [])].map((v) => [v.name, v]),
      ),
    [runs, measured],
  );
  const toggle = (name: string) => {
    const { toggleOnStrip, unitOf } = useStripPlans.getState();
    toggleOnStrip(name, (other) => variables.get(other)?.unit ?? unitOf(other));
  };
  const matches = useMemo(() => search([...variables.values()], typed), [variables, typed]);
  const shown = matches.slice(0, MOST);
  const on = (name: string) => (strips ?? []).some((plan) => plan.names.includes(name));
  return (
    <div className="w-96">
      <input
        className="input input-sm w-full"
        placeholder="Name, unit or words, such as basin level"
        aria-label="Find a quantity"
        value={typed}
        onChange={(event) => (setTyped(event.target.value), setAt(0))}
        onKeyDown={(event) => {
          if (event.key === "ArrowDown") setAt(Math.min(at + 1, shown.length - 1));
          else if (event.key === "ArrowUp") setAt(Math.max(at - 1, 0));
          else if (event.key === "Enter" && shown[at]) toggle(shown[at].name);
          else return;
          event.preventDefault();
        }}
        data-testid="find-curve"
      />
      <ul className="mt-1 max-h-60 overflow-y-auto" role="listbox" aria-label="Quantities">
        {shown.map((variable, i) => (
          <li key={variable.name} role="option" aria-selected={on(variable.name)}>
            <button
              type="button"
              draggable
              className={`flex w-full items-baseline gap-2 px-1 text-left ${i === at ? "bg-base-200" : "hover:bg-base-200"}`}
              onClick={() => toggle(variable.name)}
              onDragStart={(event) => event.dataTransfer.setData(CURVE, variable.name)}
              data-testid={`found-${variable.name}`}
            >
              <span aria-hidden="true" className={on(variable.name) ? "" : "muted"}>
                {on(variable.name) ? "▪" : "▫"}
              </span>
              <span className="max-w-64 shrink-0 truncate">{shortName(variable.name)}</span>
              <span className="muted dense shrink-0">{formatUnit(variable.shown_unit)}</span>
              <span className="muted truncate">{variable.description}</span>
            </button>
          </li>
        ))}
      </ul>
      <p className="muted pt-1 text-[12px]">
        {matches.length === 0
          ? "No quantity has all these words."
          : matches.length > MOST
            ? `The first ${MOST} of ${matches.length}; type more.`
            : `${counted(matches.length, "quantity", "quantities")}. Enter puts the marked one on a strip or takes it off.`}
      </p>
    </div>
  );
}
