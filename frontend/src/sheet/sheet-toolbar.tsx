import { LayoutGrid, StickyNote } from "lucide-react";
import type { ReactNode } from "react";

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
      <Tool
        onClick={onArrange}
        disabled={arranging || empty}
        title="Arrange the whole sheet (A)"
        testid="arrange"
      >
        <LayoutGrid size={14} /> {arranging ? "Arranging…" : "Arrange"}
      </Tool>
      <Tool onClick={onNote} title="Write a note (N)" testid="add-note">
        <StickyNote size={14} /> Note
      </Tool>
      <Tool
        onClick={() => onComponent("equations")}
        title="A component written as equations (E)"
        testid="add-equations"
      >
        + Equations
      </Tool>
      <Tool
        onClick={() => onComponent("code")}
        title="A component written as code"
        testid="add-code"
      >
        + Code
      </Tool>
      <Tool
        onClick={() => usePlace.getState().setView("units")}
        title="A unit of others (FMI) as a part"
        testid="add-unit"
      >
        + Unit
      </Tool>
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

function Tool({
  onClick,
  title,
  testid,
  disabled = false,
  children,
}: {
  onClick: () => void;
  title: string;
  testid: string;
  disabled?: boolean;
  children: ReactNode;
}) {
  return (
    <button
      type="button"
      className="btn btn-sm px-2 font-normal"
      onClick={onClick}
      disabled={disabled}
      title={title}
      data-testid={testid}
    >
      {children}
    </button>
  );
}
