import { ArrowUpFromLine, EyeOff, RotateCcw, SlidersHorizontal } from "lucide-react";
import { useId, useRef, useState } from "react";

import { asRefusal, type ModelView, type Row } from "../api/client";
import { formatNumber, formatUnit } from "../ui/format";
import { useEdits } from "../state/use-edits";
import { ColourDot } from "../ui/colour-dot";
import { BASE, scenarioOf } from "../state/scenarios";
import { usePlace } from "../state/place";
import { suited } from "../state/suited-unit";
import { ValueSlider } from "./value-slider";
import { atRest, choiceOf, computedWords, limitWords, rowWords } from "../ui/row-text";

/** A parameter or start value, edited in place: a number in any fitting unit, an expression, or a choice. */
export function ParameterRow({
  row,
  view,
  worded = false,
}: {
  row: Row;
  view: ModelView;
  /** Whether its words come first and its symbol after them, as in a form. */
  worded?: boolean;
}) {
  const [draft, setDraft] = useState<string | null>(null);
  const [editing, setEditing] = useState(false);
  const [refusal, setRefusal] = useState<string | null>(null);
  const input = useRef<HTMLInputElement>(null);
  const id = useId();
  const edits = useEdits(view, () => undefined);
  const refused = (fault: unknown) => setRefusal(asRefusal(fault).sentence);
  const scenario = scenarioOf(
    view,
    usePlace((s) => s.scenario),
  );
  const changing = scenario.name !== BASE && row.type !== "law";
  const changed = changing ? scenario.changes[row.name] : undefined;
  const rest = atRest(row, changed);
  const current = rest.edited;
  const send = (text: string) =>
    edits.mutate(
      changing
        ? { do: "scenario value", scenario: scenario.name, place: row.name, text }
        : { do: "parameter", name: row.name, text },
      {
        onSuccess: () => {
          setDraft(null);
          setEditing(false);
          setRefusal(null);
        },
        onError: refused,
      },
    );
  const commit = () => {
    if (draft === null || edits.isPending) return;
    if (draft.trim() === current) {
      setDraft(null);
      setRefusal(null);
    } else send(draft);
  };
  const giveUp = () => {
    setDraft(null);
    setRefusal(null);
    edits.reset();
  };
  const [sliding, setSliding] = useState(false);
  const slidable =
    !view.instance &&
    row.editable &&
    row.type === "Real" &&
    row.fixed === null &&
    typeof row.value === "number";
  const number =
    changed !== undefined && !Number.isNaN(Number(changed)) ? Number(changed) : Number(row.value);
  // While it is edited, the unit in which a bare number counts stands beside it.
  const worked = row.editable ? null : workedOut(row);
  const unit = formatUnit(
    worked?.unit ?? (draft === null && !editing ? rest.unit : row.shown_unit),
  );
  const label = `${row.label}${unit ? ` in ${unit}` : ""}`;
  const limits = limitWords(row);
  const describedBy = refusal ? `${id}-fault` : undefined;
  return (
    <div className="group px-3 py-0.5" data-testid={`row-${row.name}`}>
      <div
        className={`grid items-center gap-x-1.5 ${row.editable ? "grid-cols-[minmax(0,1fr)_7.5rem_3.2rem_3.4rem]" : "grid-cols-[minmax(0,1fr)_5.5rem_3.2rem]"}`}
      >
        <label
          htmlFor={id}
          className={`${worded ? "text-[12px] leading-tight" : "truncate"} ${row.modified ? "font-medium" : ""}`}
          title={[row.description || row.label, limits].filter(Boolean).join("\n")}
        >
          {worded && row.description ? (
            <>
              {row.description} <span className="mono muted whitespace-nowrap">{row.label}</span>
            </>
          ) : (
            row.label
          )}
        </label>
        {!row.editable ? (
          <output
            id={id}
            className="mono muted truncate px-1 text-right"
            title={`Computed from other values${row.expression ? `: ${row.expression}` : ""}`}
          >
            {worked ? formatNumber(worked.value) : rest.text}
          </output>
        ) : row.choices.length > 0 ? (
          <select
            id={id}
            className="select select-sm w-full rounded-none border-0 border-b border-base-300 bg-transparent px-1"
            value={
              changed !== undefined
                ? choiceOf(changed)
                : row.expression === null
                  ? String(row.value)
                  : ""
            }
            aria-describedby={describedBy}
            onChange={(event) => send(event.target.value)}
            data-testid={`param-${row.name}`}
          >
            {row.expression !== null && <option value="">{row.expression}</option>}
            {row.choices.map((choice) => (
              <option key={choice}>{choice}</option>
            ))}
          </select>
        ) : (
          <input
            ref={input}
            id={id}
            className={`input input-sm mono w-full rounded-none border-0 border-b bg-transparent px-1 text-right ${refusal ? "border-error" : "border-base-300"}`}
            value={draft ?? (editing ? current : rest.text)}
            aria-label={label}
            aria-invalid={refusal !== null}
            aria-describedby={describedBy}
            spellCheck={false}
            data-testid={`param-${row.name}`}
            data-untouched={draft === null || undefined}
            onFocus={() => {
              setEditing(true);
              requestAnimationFrame(() => input.current?.select());
            }}
            onChange={(event) => {
              setDraft(event.target.value);
              setRefusal(null);
            }}
            onBlur={() => {
              setEditing(false);
              if (refusal === null) commit();
            }}
            onKeyDown={(event) => {
              if (event.key === "Enter") commit();
              if (event.key === "Escape") {
                giveUp();
                event.currentTarget.blur();
              }
            }}
          />
        )}
        <span className="muted dense truncate" title={row.shown_unit}>
          {unit}
        </span>
        {row.editable && (
          <span className="flex justify-end opacity-0 group-focus-within:opacity-100 group-hover:opacity-100">
            {changed !== undefined && (
              <RowButton
                words={`${row.label} as in the base`}
                testid={`revert-${row.name}`}
                onClick={() =>
                  edits.mutate(
                    { do: "scenario value", scenario: scenario.name, place: row.name, text: null },
                    { onError: refused },
                  )
                }
              >
                <RotateCcw size={12} />
              </RowButton>
            )}
            {row.modified && !changing && (
              <RowButton
                words={`Reset ${row.label} to its default`}
                testid={`reset-${row.name}`}
                onClick={() => edits.mutate({ do: "reset", name: row.name }, { onError: refused })}
              >
                <RotateCcw size={12} />
              </RowButton>
            )}
            {slidable && (
              <RowButton
                words={`Slider for ${row.label}: curves follow while it moves`}
                testid={`slide-${row.name}`}
                onClick={() => setSliding(!sliding)}
              >
                <SlidersHorizontal size={12} />
              </RowButton>
            )}
            {row.component !== "" && row.fixed === null && row.editable && row.type !== "law" && (
              <RowButton
                words={`Expose ${row.label} as a parameter of ${view.sheet.name}`}
                testid={`expose-${row.name}`}
                onClick={() =>
                  edits.mutate(
                    { do: "expose", parameter: row.name, name: "", description: "", group: "" },
                    { onError: refused },
                  )
                }
              >
                <ArrowUpFromLine size={12} />
              </RowButton>
            )}
            {row.component === "" && row.fixed === null && row.editable && (
              <RowButton
                words={`Hide ${row.label}: what uses it gets its value`}
                testid={`hide-${row.name}`}
                onClick={() => edits.mutate({ do: "hide", name: row.name }, { onError: refused })}
              >
                <EyeOff size={12} />
              </RowButton>
            )}
          </span>
        )}
      </div>
      {sliding && slidable && (
        <ValueSlider
          view={view}
          row={row}
          value={number}
          onKeep={send}
          onClose={() => setSliding(false)}
        />
      )}
      {row.fixed !== null && (
        <div className="flex justify-end pr-[6.4rem]">
          <button
            type="button"
            className="muted text-[11.5px] hover:text-base-content hover:underline"
            onClick={() => send(row.fixed ? "guess" : "fixed")}
            title={
              row.fixed
                ? "It must hold at the start. Click to make it a guess."
                : "It only helps to find the start. Click to make it hold."
            }
            data-testid={`fixed-${row.name}`}
          >
            {row.fixed ? "fixed" : "guess"}
          </button>
        </div>
      )}
      {changed !== undefined && (
        <p
          className="flex items-center justify-end gap-1 pr-[6.4rem] text-[12px]"
          data-testid={`changed-${row.name}`}
        >
          <ColourDot slot={scenario.colour} />
          <span className="muted">base</span>
          <span className="mono muted line-through">{rowWords(row.base ?? row)}</span>
        </p>
      )}
      {row.here !== undefined && (
        <p
          className="muted flex justify-end gap-1 pr-[6.4rem] text-[12px]"
          title={`What ${view.instance} has in the model that is run`}
          data-testid={`here-${row.name}`}
        >
          in {view.instance} <span className="mono text-base-content">{row.here}</span>
        </p>
      )}
      {changed === undefined &&
        row.here === undefined &&
        row.expression !== null &&
        row.shown !== null &&
        draft === null &&
        row.editable && (
          <p className="mono muted pr-[6.4rem] text-right" data-testid={`value-of-${row.name}`}>
            = {computedWords(row)}
          </p>
        )}
      {draft !== null && limits && refusal === null && (
        <p className="muted text-[11.5px]">{limits}</p>
      )}
      {refusal && (
        <p
          id={`${id}-fault`}
          role="alert"
          className="mt-0.5 text-[12px] text-error"
          data-testid={`fault-${row.name}`}
        >
          ✕ {refusal}
        </p>
      )}
    </div>
  );
}

/** The number of a row that is worked out from others, in the unit that suits it. */
function workedOut(row: Row): { value: number; unit: string } | null {
  if (row.shown === null) return null;
  return row.shown_unit === row.unit
    ? suited(row.shown, row.unit, formatNumber)
    : { value: row.shown, unit: row.shown_unit };
}

function RowButton({
  words,
  testid,
  onClick,
  children,
}: {
  words: string;
  testid: string;
  onClick: () => void;
  children: React.ReactNode;
}) {
  return (
    <button
      type="button"
      className="btn btn-ghost btn-xs px-0.5"
      onClick={onClick}
      aria-label={words}
      title={words}
      data-testid={testid}
    >
      {children}
    </button>
  );
}
