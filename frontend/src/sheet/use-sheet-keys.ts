import { useReactFlow, useStoreApi } from "@xyflow/react";
import { useState } from "react";

import { asRefusal, type ModelView, type SheetComponent } from "../api/client";
import { usePlace, type WireMarks } from "../state/place";
import { useSelection } from "../state/selection";
import type { Edit } from "../state/use-edits";
import { useKeys } from "../ui/keys";
import { arranged } from "./arrange";
import { SNAP } from "./building";
import { copyParts, usePaste } from "./clipboard";
import type { Point } from "./flow-elements";
import { wholeView } from "./whole-view";
import { along, mirrored, nudged, partOf, turned } from "./selection";

/** What wires show next. */
const NEXT_MARKS: Record<WireMarks, WireMarks> = { plain: "values", values: "flow", flow: "plain" };

/** Room around the parts that were arranged, in units of the drawing. */
const AROUND = 30;

interface Needs {
  view: ModelView;
  /** The selected parts. */
  parts: SheetComponent[];
  onEdit: (edit: Edit) => void;
  onFault: (sentence: string | null) => void;
  onOpen: (part: string) => void;
  onComponent: (kind: "equations") => void;
  onConnecting: (part: string) => void;
  onNote: () => void;
  /** Where the pointer is on the drawing, if it is over it. */
  here: () => Point | null;
}

/** What is done with selected parts and wires, and the keys that do it. */
export function useSheetKeys({
  view,
  parts,
  onEdit,
  onFault,
  onOpen,
  onComponent,
  onConnecting,
  onNote,
  here,
}: Needs) {
  const sheet = view.sheet;
  const flow = useReactFlow();
  const store = useStoreApi();
  const selection = useSelection((s) => s.selection);
  const wires = useSelection((s) => s.wires);
  const selectParts = useSelection((s) => s.selectParts);
  const wireMarks = usePlace((s) => s.wireMarks);
  const setWireMarks = usePlace((s) => s.setWireMarks);
  const [arranging, setArranging] = useState(false);
  const chosenNotes = selection
    .filter((name) => name.startsWith("note "))
    .map((name) => Number(name.slice(5)));
  const deleteChosen = (cut = false) => {
    const names = parts.map((p) => p.name);
    const ends = sheet.connections
      .filter((c) => wires.includes(`${c.from} ${c.to}`))
      .map((c) => ({ from: c.from, to: c.to }));
    if (names.length + ends.length > 0) onEdit({ do: "delete", parts: names, wires: ends, cut });
    // The last note first, so that the numbers of the others stay.
    for (const index of [...chosenNotes].sort((a, b) => b - a))
      onEdit({ do: "change note", index, text: null, x: 0, y: 0 });
  };
  const arrange = () => {
    if (arranging || sheet.components.length === 0) return;
    setArranging(true);
    arranged(sheet)
      .then((places) => {
        onEdit({ do: "move", places, what: "arranged the sheet", straighten: true });
        const xs = places.flatMap((p) => [p.extent[0]!, p.extent[2]!]);
        const ys = places.flatMap((p) => [p.extent[1]!, p.extent[3]!]);
        // With room for names and for wires that lead around the parts.
        const extent = [
          Math.min(...xs) - AROUND,
          Math.min(...ys) - AROUND,
          Math.max(...xs) + AROUND,
          Math.max(...ys) + AROUND,
        ];
        void flow.setViewport(wholeView(extent, store.getState()), { duration: 120 });
      })
      .catch((fault: unknown) =>
        onFault(`the sheet could not be arranged: ${asRefusal(fault).sentence}`),
      )
      .finally(() => setArranging(false));
  };
  const nudge = (dx: number, dy: number) =>
    parts.length > 0 &&
    onEdit({ do: "move", places: nudged(parts, dx, dy), what: "moved", straighten: false });
  const copy = () =>
    copyParts(
      view.project,
      view.model,
      parts.map((p) => p.name),
    );
  const selectAlong = () => {
    const ends = sheet.connections
      .filter((c) => wires.includes(`${c.from} ${c.to}`))
      .flatMap((c) => [partOf(c.from), partOf(c.to)]);
    selectParts(along(sheet, [...parts.map((p) => p.name), ...ends]));
  };
  const arrows = (step: number) => ({
    ArrowLeft: () => nudge(-step, 0),
    ArrowRight: () => nudge(step, 0),
    ArrowUp: () => nudge(0, step),
    ArrowDown: () => nudge(0, -step),
  });
  useKeys({
    ...(parts.length > 0
      ? {
          ...arrows(SNAP),
          ...Object.fromEntries(
            Object.entries(arrows(5 * SNAP)).map(([key, action]) => [`Shift+${key}`, action]),
          ),
          r: () => onEdit({ do: "move", places: turned(parts), what: "turned", straighten: false }),
          m: () =>
            onEdit({ do: "move", places: mirrored(parts), what: "mirrored", straighten: false }),
          "Ctrl+c": () => void copy().catch((fault: unknown) => onFault(asRefusal(fault).sentence)),
          "Ctrl+x": () =>
            void copy()
              .then(() => deleteChosen(true))
              .catch((fault: unknown) => onFault(asRefusal(fault).sentence)),
          "Ctrl+d": () =>
            onEdit({ do: "duplicate", parts: parts.map((p) => p.name), dx: 20, dy: -20 }),
          g: () => document.querySelector<HTMLElement>('[data-testid="assemble"]')?.click(),
        }
      : {}),
    ...(parts.length === 1
      ? {
          c: () => onConnecting(parts[0]!.name),
          o: () => parts[0]!.opens && onOpen(parts[0]!.name),
        }
      : {}),
    ...(parts.length + wires.length > 0 ? { l: selectAlong } : {}),
    ...(wires.length === 1 ? { s: () => straighten(wires[0]!) } : {}),
    Delete: () => deleteChosen(),
    Backspace: () => deleteChosen(),
    Enter: (event) => pickFocused(event),
    Escape: () => selectParts([]),
    "Ctrl+a": () => selectParts(sheet.components.map((c) => c.name)),
    a: arrange,
    w: () => setWireMarks(NEXT_MARKS[wireMarks]),
    n: onNote,
    e: () => onComponent("equations"),
  });
  /** Selects the part or wire that has the keyboard's focus. */
  const pickFocused = (event: KeyboardEvent) => {
    const focused = (event.target as HTMLElement).closest<HTMLElement>(
      ".react-flow__node, .react-flow__edge",
    );
    const id = focused?.dataset.id;
    if (!id) return;
    if (focused.classList.contains("react-flow__edge"))
      selectParts([], [id.slice(id.indexOf(" ") + 1)]);
    else selectParts(event.shiftKey ? [...selection, id] : [id]);
  };
  const paste = (text: string, at: Point | null = here()) =>
    onEdit({ do: "paste", text, ...(at ?? { x: null, y: null }) });
  usePaste(paste);
  const straighten = (wire: string) => {
    const line = sheet.connections.find((c) => `${c.from} ${c.to}` === wire);
    if (line?.bent) onEdit({ do: "bend", from: line.from, to: line.to, points: null });
  };
  return { arrange, arranging, selectAlong, straighten, copy, paste, deleteChosen };
}
