import {
  AlignCenterHorizontal,
  AlignCenterVertical,
  AlignEndHorizontal,
  AlignEndVertical,
  AlignHorizontalDistributeCenter,
  AlignStartHorizontal,
  AlignStartVertical,
  AlignVerticalDistributeCenter,
  FlipVertical2,
  RotateCcw,
  type LucideIcon,
} from "lucide-react";
import { useState } from "react";

import type { SheetComponent } from "../api/client";
import { aligned, distributed, mirrored, turned, type Alignment } from "./selection";
import type { Edit } from "../state/use-edits";

const ALIGNMENTS: [Alignment, string, LucideIcon][] = [
  ["left", "Align left edges", AlignStartVertical],
  ["centre", "Align middles, side by side", AlignCenterVertical],
  ["right", "Align right edges", AlignEndVertical],
  ["top", "Align upper edges", AlignStartHorizontal],
  ["middle", "Align middles, one above the other", AlignCenterHorizontal],
  ["bottom", "Align lower edges", AlignEndHorizontal],
];

interface Props {
  parts: SheetComponent[];
  onEdit: (edit: Edit) => void;
  onOpen: (part: string) => void;
  onSwap: (part: string) => void;
  onAlong: () => void;
  onEquations: (part: SheetComponent) => void;
}

/** What can be done with the selected parts. */
export function SelectionBar({ parts, onEdit, onOpen, onSwap, onAlong, onEquations }: Props) {
  const [naming, setNaming] = useState(false);
  const single = parts.length === 1 ? parts[0]! : null;
  const button = "btn btn-xs btn-square btn-ghost";
  const word = "btn btn-xs btn-ghost px-1.5 font-normal";
  const place = (
    what: "turned" | "mirrored" | "aligned" | "distributed",
    places: ReturnType<typeof turned>,
  ) => places.length > 0 && onEdit({ do: "move", places, what, straighten: false });
  return (
    <div
      className="absolute top-2 left-2 z-10 flex max-w-[calc(100%-1rem)] flex-wrap items-center gap-0.5 border border-base-300 bg-base-100 px-1 py-0.5"
      role="toolbar"
      aria-label="Selected parts"
      data-testid="selection-bar"
    >
      <span className="muted px-1">{single ? single.name : `${parts.length} parts`}</span>
      <button
        type="button"
        className={button}
        onClick={() => place("turned", turned(parts))}
        aria-label="Turn (R)"
        title="Turn by a quarter (R)"
      >
        <RotateCcw size={14} />
      </button>
      <button
        type="button"
        className={button}
        onClick={() => place("mirrored", mirrored(parts))}
        aria-label="Mirror (M)"
        title="Mirror left to right (M)"
      >
        <FlipVertical2 size={14} />
      </button>
      {single?.icon.ports.some((p) => p.domain === "state") && (
        <button
          type="button"
          className={word}
          onClick={() => onEdit({ do: "begin in", name: single.name })}
          title="The state machine begins in this state"
          data-testid="begin-in"
        >
          Begin here
        </button>
      )}
      {parts.length > 1 &&
        ALIGNMENTS.map(([how, words, Icon]) => (
          <button
            key={how}
            type="button"
            className={button}
            onClick={() => place("aligned", aligned(parts, how))}
            aria-label={words}
            title={words}
            data-testid={`align-${how}`}
          >
            <Icon size={14} />
          </button>
        ))}
      {parts.length > 2 && (
        <>
          <button
            type="button"
            className={button}
            onClick={() => place("distributed", distributed(parts, "across"))}
            aria-label="Equal gaps across"
            title="Equal gaps across"
            data-testid="distribute-across"
          >
            <AlignHorizontalDistributeCenter size={14} />
          </button>
          <button
            type="button"
            className={button}
            onClick={() => place("distributed", distributed(parts, "down"))}
            aria-label="Equal gaps downwards"
            title="Equal gaps downwards"
            data-testid="distribute-down"
          >
            <AlignVerticalDistributeCenter size={14} />
          </button>
        </>
      )}
      <button
        type="button"
        className={word}
        onClick={onAlong}
        title="Select everything that hangs together by wires (L)"
        data-testid="select-along"
      >
        Along wires
      </button>
      {single?.opens && (
        <>
          <button
            type="button"
            className={word}
            onClick={() => onOpen(single.name)}
            title="Step into this assembly (O)"
            data-testid="step-in"
          >
            Step in
          </button>
          <button
            type="button"
            className={word}
            onClick={() => onEdit({ do: "dissolve", name: single.name })}
            title="Put its parts in its place"
            data-testid="dissolve"
          >
            Dissolve
          </button>
          <button
            type="button"
            className={word}
            onClick={() => onEquations(single)}
            title="Edit the text of its class"
            data-testid="edit-component"
          >
            Edit text
          </button>
        </>
      )}
      {single && !single.port && (
        <button
          type="button"
          className={word}
          onClick={() => onSwap(single.name)}
          title="Put a part of another class in its place"
          data-testid="swap"
        >
          Swap
        </button>
      )}
      {naming ? (
        <AssemblyName
          onGiven={(name) => {
            setNaming(false);
            onEdit({ do: "assemble", parts: parts.map((p) => p.name), name, description: "" });
          }}
          onClose={() => setNaming(false)}
        />
      ) : (
        parts.every((p) => !p.port) && (
          <button
            type="button"
            className={word}
            onClick={() => setNaming(true)}
            title="Put these parts into an assembly (G)"
            data-testid="assemble"
          >
            Assembly
          </button>
        )
      )}
    </div>
  );
}

function AssemblyName({
  onGiven,
  onClose,
}: {
  onGiven: (name: string) => void;
  onClose: () => void;
}) {
  const [name, setName] = useState("");
  return (
    <form
      className="flex gap-1"
      onSubmit={(event) => {
        event.preventDefault();
        if (name.trim()) onGiven(name.trim());
      }}
    >
      <input
        autoFocus
        className="input input-xs w-40"
        placeholder="Name of the assembly"
        aria-label="Name of the assembly"
        value={name}
        onChange={(event) => setName(event.target.value)}
        onKeyDown={(event) => event.key === "Escape" && onClose()}
        data-testid="assembly-name"
      />
      <button
        type="submit"
        className="btn btn-xs btn-primary"
        disabled={!name.trim()}
        data-testid="assembly-make"
      >
        Create
      </button>
    </form>
  );
}
