import { useState } from "react";

import type { Schemas } from "../api/client";
import type { Edit } from "../state/use-edits";
import { QuestionForm } from "./question-form";

/** An arrow that is drawn, or one that is changed when it has a number. */
export type Asked = Omit<Schemas["StateTransition"], "number"> & { number: number | null };

/** When an arrow of a state machine is taken. */
export function ArrowForm({
  arrow,
  others,
  onEdit,
  onClose,
}: {
  arrow: Asked;
  others: string[];
  onEdit: (edit: Edit) => void;
  onClose: () => void;
}) {
  const [condition, setCondition] = useState(arrow.condition);
  const [priority, setPriority] = useState(arrow.priority);
  const [immediate, setImmediate] = useState(arrow.immediate);
  const [reset, setReset] = useState(arrow.reset);
  const said = { start: arrow.from, end: arrow.to, condition, priority, immediate, reset };
  const good = condition.trim() !== "" && /^[1-9]\d*$/.test(priority.trim());
  const clash = others.includes(priority.trim());
  return (
    <QuestionForm
      label={`Arrow from ${arrow.from} to ${arrow.to}`}
      testid="arrow-form"
      wide
      onAnswer={() => {
        if (!good) return;
        onEdit(
          arrow.number === null
            ? { do: "draw arrow", ...said }
            : { do: "change arrow", number: arrow.number, ...said },
        );
        onClose();
      }}
      onClose={onClose}
    >
      <label htmlFor="arrow-condition">
        From <b>{arrow.from}</b> to <b>{arrow.to}</b>, when
      </label>
      <input
        id="arrow-condition"
        autoFocus
        className="input input-sm mono w-full"
        placeholder="level > 2 or ticksInState() > 10"
        value={condition}
        onChange={(event) => setCondition(event.target.value)}
        data-testid="arrow-condition"
      />
      <label className="flex items-center gap-2">
        <input
          type="number"
          min={1}
          className="input input-sm mono w-16"
          value={priority}
          onChange={(event) => setPriority(event.target.value)}
          data-testid="arrow-priority"
        />
        <span>priority; 1 comes first</span>
      </label>
      {clash && (
        <p className="text-warning">
          Another arrow from {arrow.from} has this priority; give each its own.
        </p>
      )}
      <label className="flex items-center gap-2">
        <input
          type="checkbox"
          className="checkbox checkbox-sm"
          checked={immediate}
          onChange={(event) => setImmediate(event.target.checked)}
        />
        <span>taken at once, not in the next tick</span>
      </label>
      <label className="flex items-center gap-2">
        <input
          type="checkbox"
          className="checkbox checkbox-sm"
          checked={reset}
          onChange={(event) => setReset(event.target.checked)}
        />
        <span>{arrow.to} begins anew</span>
      </label>
      <div className="flex gap-2 pt-1">
        <button type="submit" className="btn btn-sm btn-primary" disabled={!good}>
          {arrow.number === null ? "Draw" : "Change"}
        </button>
        <button type="button" className="btn btn-sm" onClick={onClose}>
          Cancel
        </button>
        {arrow.number !== null && (
          <button
            type="button"
            className="btn btn-sm ml-auto"
            onClick={() => {
              onEdit({ do: "delete arrow", number: arrow.number! });
              onClose();
            }}
            data-testid="arrow-delete"
          >
            Delete
          </button>
        )}
      </div>
    </QuestionForm>
  );
}
