import { LayoutList, Trash2 } from "lucide-react";
import { useState } from "react";

import type { ModelView } from "../api/client";
import { Popover } from "../ui/popover";
import { useEdits } from "../state/use-edits";
import { useStripPlans } from "../state/strips";
import { planOf } from "../state/strip-plan";

interface Props {
  view: ModelView;
  /** The strips that are made for a model without a layout. */
  made: string[][];
  onFault: (sentence: string) => void;
}

/** The named arrangements of strips that are kept with the model: show one, keep this one, delete one. */
export function LayoutsMenu({ view, made, onFault }: Props) {
  return (
    <Popover
      label={
        <>
          <LayoutList size={13} /> Layout
        </>
      }
      title="Arrangements of strips kept with the model"
      testid="layouts"
    >
      {(close) => <Layouts view={view} made={made} onFault={onFault} onClose={close} />}
    </Popover>
  );
}

function Layouts({ view, made, onFault, onClose }: Props & { onClose: () => void }) {
  const strips = useStripPlans((s) => s.strips) ?? [];
  const setStrips = useStripPlans((s) => s.setStrips);
  const edits = useEdits(view, (sentence) => sentence && onFault(sentence));
  const [name, setName] = useState(view.layouts[0]?.name ?? "Standard");
  return (
    <div className="flex w-72 flex-col gap-1">
      {view.layouts.map((layout) => (
        <div key={layout.name} className="flex items-center">
          <button
            type="button"
            className="btn btn-ghost btn-sm flex-1 justify-start px-1 font-normal"
            onClick={() => (setStrips(layout.strips), onClose())}
            data-testid={`layout-${layout.name}`}
          >
            {layout.name}{" "}
            <span className="muted">
              {layout.strips.length} {layout.strips.length === 1 ? "strip" : "strips"}
            </span>
          </button>
          <button
            type="button"
            className="btn btn-ghost btn-xs px-1"
            onClick={() => edits.mutate({ do: "delete layout", name: layout.name })}
            disabled={edits.isPending}
            aria-label={`Delete the layout ${layout.name}`}
            title="Delete this layout (can be undone)"
            data-testid={`delete-layout-${layout.name}`}
          >
            <Trash2 size={12} />
          </button>
        </div>
      ))}
      <button
        type="button"
        className="btn btn-ghost btn-sm justify-start px-1 font-normal"
        onClick={() => (setStrips(made.map(planOf)), onClose())}
        disabled={made.length === 0}
        data-testid="layout-made"
      >
        States and outputs <span className="muted">made by the program</span>
      </button>
      <form
        className="rule-t flex gap-1 pt-2"
        onSubmit={(event) => {
          event.preventDefault();
          edits.mutate({ do: "keep layout", name, strips }, { onSuccess: onClose });
        }}
      >
        <input
          className="input input-sm min-w-0 flex-1"
          value={name}
          onChange={(event) => setName(event.target.value)}
          aria-label="Name of the layout"
          data-testid="layout-name"
        />
        <button
          type="submit"
          className="btn btn-sm"
          disabled={strips.length === 0 || edits.isPending}
          data-testid="keep-layout"
        >
          {view.layouts.some((l) => l.name === name.trim())
            ? "Keep in its place"
            : "Keep these strips"}
        </button>
      </form>
      <p className="muted text-[12px]">The first one is shown to whoever opens the model anew.</p>
    </div>
  );
}
