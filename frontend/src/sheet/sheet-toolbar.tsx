import { LayoutGrid, StickyNote } from "lucide-react";

import { usePlace, type WireMarks } from "../state/place";

interface Props {
  empty: boolean;
  arranging: boolean;
  onArrange: () => void;
  onNote: () => void;
  onComponent: (kind: "equations" | "code") => void;
}

/** What can be done with the whole sheet, and what wires show on it. */
export function SheetToolbar({ empty, arranging, onArrange, onNote, onComponent }: Props) {
  const wireMarks = usePlace((s) => s.wireMarks);
  const setWireMarks = usePlace((s) => s.setWireMarks);
  return (
    <div
      className="absolute bottom-2 left-2 z-10 flex max-w-[calc(100%-8rem)] flex-wrap gap-1"
      role="toolbar"
      aria-label="Sheet"
    >
      <button
        type="button"
        className="btn btn-sm px-2 font-normal"
        onClick={onArrange}
        disabled={arranging || empty}
        title="Arrange the whole sheet (A)"
        data-testid="arrange"
      >
        <LayoutGrid size={14} /> {arranging ? "Arranging…" : "Arrange"}
      </button>
      <button
        type="button"
        className="btn btn-sm px-2 font-normal"
        onClick={onNote}
        title="Write a note (N)"
        data-testid="add-note"
      >
        <StickyNote size={14} /> Note
      </button>
      <button
        type="button"
        className="btn btn-sm px-2 font-normal"
        onClick={() => onComponent("equations")}
        title="A component written as equations (E)"
        data-testid="add-equations"
      >
        + Equations
      </button>
      <button
        type="button"
        className="btn btn-sm px-2 font-normal"
        onClick={() => onComponent("code")}
        title="A component written as code"
        data-testid="add-code"
      >
        + Code
      </button>
      <button
        type="button"
        className="btn btn-sm px-2 font-normal"
        onClick={() => usePlace.getState().setView("units")}
        title="A unit of others (FMI) as a part"
        data-testid="add-unit"
      >
        + Unit
      </button>
      <select
        className="select select-sm w-32"
        value={wireMarks}
        onChange={(event) => setWireMarks(event.target.value as WireMarks)}
        aria-label="What wires show"
        title="What wires show at the time cursor (W)"
        data-testid="wire-marks"
      >
        <option value="plain">Plain wires</option>
        <option value="values">Values at wires</option>
        <option value="flow">Flow at wires</option>
      </select>
    </div>
  );
}
