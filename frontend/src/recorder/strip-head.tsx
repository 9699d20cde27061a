import { useQuery } from "@tanstack/react-query";
import { X } from "lucide-react";

import { formatNumber, formatUnit } from "../ui/format";
import { shortName } from "../state/measured";
import { useStripPlans } from "../state/strips";
import type { ChartState } from "./chart";
import { CurveLookMenu } from "./curve-look";
import { CURVE } from "../state/dragged-curve";
import { useCurveDrop } from "./dragging";
import { keyOf, shifted, without, type Axis, type StripPlan } from "../state/strip-plan";
import { PictureMenu } from "./picture-menu";
import { unitsQuery } from "../charts/units";

interface Props {
  plan: StripPlan;
  axes: Axis[];
  state: ChartState;
  differences: Record<string, number>;
  runName: (run: number) => string;
}

/** The words beside a strip: units to choose, curves to drag, what can be done with it. */
export function StripHead({ plan, axes, state, differences, runName }: Props) {
  const { strips, setStrips, unitOf } = useStripPlans.getState();
  const { over, handlers } = useCurveDrop(plan);
  const change = (fields: Partial<StripPlan>) =>
    setStrips((strips ?? []).map((p) => (keyOf(p) === keyOf(plan) ? { ...p, ...fields } : p)));
  const unitFor = (name: string) => state.curves.find((c) => c.name === name)?.unit ?? "";
  const right = new Set(state.curves.filter((c) => c.side === "right").map((c) => c.name));
  const title = plan.names.join(", ");
  const dashed = plan.names.join("-");
  return (
    <div
      className={`w-44 shrink-0 overflow-y-auto py-1 pl-3 text-[12px] ${over ? "bg-base-200 outline-2 -outline-offset-2 outline-primary" : ""}`}
      {...handlers}
      data-testid={`head-${dashed}`}
    >
      <div className="flex items-center">
        {axes[0] && formatUnit(axes[0].unit) && <span className="muted pr-1">in</span>}
        {axes.map((axis) => (
          <UnitChoice
            key={axis.side}
            axis={axis}
            onChange={(unit) => change({ [axis.side]: unit })}
          />
        ))}
        <span className="flex-1" />
        <button
          type="button"
          className={`muted px-1 text-[11px] hover:text-base-content ${plan.logarithmic ? "font-semibold underline" : ""}`}
          onClick={() => change({ logarithmic: !plan.logarithmic })}
          aria-pressed={plan.logarithmic}
          aria-label={`Log axis of ${title}`}
          title="Logarithmic axis; values that are not positive are left out"
          data-testid={`log-${dashed}`}
        >
          log
        </button>
        <PictureMenu title={title} dashed={dashed} state={state} runName={runName} />
        <button
          type="button"
          className="muted px-1 hover:text-base-content"
          onClick={() => setStrips((strips ?? []).filter((p) => p !== plan))}
          aria-label={`Remove the strip of ${title}`}
          title="Remove this strip"
        >
          <X size={12} />
        </button>
      </div>
      {plan.names.map((name) => (
        <div key={name} className="flex items-center gap-1.5">
          <CurveLookMenu
            name={name}
            shown={lookIn(state, name)}
            chosen={plan.looks?.[name]}
            onChange={(words) => change({ looks: withLook(plan.looks ?? {}, name, words) })}
          />
          <button
            type="button"
            draggable
            className="flex min-w-0 flex-1 cursor-grab items-center gap-1.5 text-left"
            title={`${name}: drag to another strip, or move with Alt and the arrows; Delete takes it off`}
            onDragStart={(event) => {
              event.dataTransfer.setData(CURVE, name);
              event.dataTransfer.effectAllowed = "move";
            }}
            onKeyDown={(event) => {
              const step =
                event.altKey && event.key === "ArrowUp"
                  ? -1
                  : event.altKey && event.key === "ArrowDown"
                    ? 1
                    : 0;
              if (step !== 0) setStrips(shifted(strips ?? [], name, step, unitOf));
              else if (event.key === "Delete") setStrips(without(strips ?? [], name));
              else return;
              event.preventDefault();
              event.stopPropagation();
            }}
            data-testid={`curve-${name}`}
          >
            <span className="dense truncate">{shortName(name)}</span>
            {right.has(name) && (
              <span className="muted" title="on the right axis">
                →
              </span>
            )}
          </button>
        </div>
      ))}
      {plan.names.map((name) =>
        differences[name] === undefined ? null : (
          <p
            key={name}
            className="mono muted truncate text-[11.5px]"
            title={`${name}: B less A`}
            data-testid={`difference-${name}`}
          >
            Δ {formatNumber(differences[name])} {formatUnit(unitFor(name))}
          </p>
        ),
      )}
    </div>
  );
}

/** How a variable is drawn on its strip: with a colour where all its curves have the same one. */
function lookIn({ curves }: ChartState, name: string) {
  const own = curves.filter((curve) => curve.name === name);
  const slots = new Set(own.map((curve) => curve.slot));
  return { dash: own.at(-1)?.order ?? 0, slot: slots.size === 1 ? own[0]!.slot : undefined };
}

/** Chosen looks with another one for a curve; none where the words are empty. */
function withLook(looks: Record<string, string>, name: string, words: string) {
  const rest = Object.entries(looks).filter(([known]) => known !== name);
  return Object.fromEntries(words ? [...rest, [name, words]] : rest);
}

/** The unit of an axis, to be chosen among those that fit. */
function UnitChoice({ axis, onChange }: { axis: Axis; onChange: (unit: string) => void }) {
  const units = useQuery(unitsQuery(axis.declared));
  const words = (unit: string) => formatUnit(unit) || "no unit";
  const options = [...new Set([axis.unit, ...(units.data ?? []).map((u) => u.unit)])];
  return (
    <label
      className="muted flex min-w-0 items-center"
      title={axis.side === "left" ? "Unit of the left axis" : "Unit of the right axis"}
    >
      {axis.side === "right" && <span aria-hidden="true">→</span>}
      <select
        className="field-sizing-content max-w-16 cursor-pointer appearance-none truncate bg-transparent pr-1 underline decoration-dotted underline-offset-2"
        value={axis.unit}
        aria-label={axis.side === "left" ? "Unit of the left axis" : "Unit of the right axis"}
        onChange={(event) => onChange(event.target.value)}
        data-testid={`unit-${axis.side}`}
      >
        {options.map((unit) => (
          <option key={unit} value={unit}>
            {words(unit)}
          </option>
        ))}
      </select>
    </label>
  );
}
