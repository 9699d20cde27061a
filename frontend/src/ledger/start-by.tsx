import { useState } from "react";

import { asRefusal, type ModelView, type Row } from "../api/client";
import { useEdits } from "../state/use-edits";
import { formatUnit } from "../ui/format";

interface Props {
  view: ModelView;
  /** The quantities of the part that vary. */
  rows: Row[];
}

/** Gives the start by another quantity than the state: a basin by its volume. */
export function StartBy({ view, rows }: Props) {
  const [name, setName] = useState("");
  const [text, setText] = useState("");
  const edits = useEdits(view, () => undefined);
  const offered = rows.filter((row) => row.type === "Real" && !row.flow);
  const chosen = offered.find((row) => row.name === name);
  const refusal = edits.error ? asRefusal(edits.error).sentence : null;
  const close = () => {
    setName("");
    setText("");
    edits.reset();
  };
  const keep = () => {
    if (text.trim()) edits.mutate({ do: "start at", name, text }, { onSuccess: close });
  };
  if (offered.length === 0) return null;
  return (
    <div className="px-3 pt-0.5">
      <div className="grid grid-cols-[minmax(0,1fr)_7.5rem_3.2rem_3.4rem] items-center gap-x-1.5">
        <select
          className="muted select select-xs w-full border-0 bg-transparent px-0"
          value={name}
          aria-label="Start by another quantity"
          title="Give the start by a quantity that the state follows from"
          onChange={(event) => setName(event.target.value)}
          data-testid="start-by"
        >
          <option value="">by another quantity…</option>
          {offered.map((row) => (
            <option key={row.name} value={row.name}>
              {row.label}
            </option>
          ))}
        </select>
        {chosen && (
          <>
            <input
              autoFocus
              className={`input input-sm mono w-full rounded-none border-0 border-b bg-transparent px-1 text-right ${refusal ? "border-error" : "border-base-300"}`}
              value={text}
              aria-label={`Start of ${chosen.label}`}
              placeholder="at the start"
              onChange={(event) => {
                setText(event.target.value);
                edits.reset();
              }}
              onKeyDown={(event) => {
                if (event.key === "Enter") keep();
                if (event.key === "Escape") close();
              }}
              data-testid="start-by-value"
            />
            <span className="muted dense truncate">{formatUnit(chosen.shown_unit)}</span>
          </>
        )}
      </div>
      {refusal && (
        <p role="alert" className="text-[12px] text-error" data-testid="start-by-fault">
          ✕ {refusal}
        </p>
      )}
    </div>
  );
}
