import { useState } from "react";

import { CURVE } from "../state/dragged-curve";

/** Names that are shown at most. */
const MOST = 40;

/** The variables of a model, to be dragged onto columns of measurements. */
export function VariableChips({ names }: { names: string[] }) {
  const [typed, setTyped] = useState("");
  const words = typed.toLowerCase().split(/\s+/).filter(Boolean);
  const matching = names.filter((name) => words.every((w) => name.toLowerCase().includes(w)));
  return (
    <details className="text-[12px]">
      <summary className="muted cursor-pointer">
        Variables to drag onto a column ({names.length})
      </summary>
      <input
        className="input input-xs mono my-1 w-56"
        placeholder="words of the name"
        aria-label="Variables by words"
        value={typed}
        onChange={(event) => setTyped(event.target.value)}
      />
      <ul className="flex flex-wrap gap-1" data-testid="variable-chips">
        {matching.slice(0, MOST).map((name) => (
          <li
            key={name}
            draggable
            className="mono cursor-grab border border-base-300 px-1"
            onDragStart={(event) => event.dataTransfer.setData(CURVE, name)}
            data-testid={`drag-${name}`}
          >
            {name}
          </li>
        ))}
      </ul>
      {matching.length > MOST && (
        <p className="muted">and {matching.length - MOST} more: type words of the name</p>
      )}
    </details>
  );
}
