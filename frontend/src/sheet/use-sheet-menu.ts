import { useState } from "react";

import { asRefusal, type ModelView, type SheetComponent } from "../api/client";
import { useSelection } from "../state/selection";
import { useStripPlans } from "../state/strips";
import type { Edit } from "../state/use-edits";
import { besides } from "../drawing/cables";
import { quantitiesOf } from "../drawing/wire-quantities";
import type { Point } from "./flow-elements";
import { mirrored, turned } from "./selection";
import type { Entry } from "./sheet-menu";

interface Actions {
  arrange: () => void;
  selectAlong: () => void;
  straighten: (wire: string) => void;
  copy: () => Promise<void>;
  paste: (text: string, at: Point | null) => void;
  deleteChosen: () => void;
}

interface Needs {
  view: ModelView;
  onEdit: (edit: Edit) => void;
  onFault: (sentence: string | null) => void;
  onOpen: (part: string) => void;
  onSwap: (part: string) => void;
  onComponent: (kind: "equations" | "code", part?: SheetComponent) => void;
  onConnecting: (part: string) => void;
  onNote: (at: Point) => void;
  actions: Actions;
  /** A place in the window, on the drawing. */
  spot: (client: Point) => Point;
}

interface Menu {
  at: { left: number; top: number };
  title: string;
  groups: Entry[][];
}

/** The menu of what was clicked with the right button: a part, a wire, or the sheet. */
export function useSheetMenu(needs: Needs) {
  const [menu, setMenu] = useState<Menu | null>(null);
  const openMenu = (
    event: React.MouseEvent | MouseEvent,
    part: string | null,
    wire: string | null = null,
  ) => {
    event.preventDefault();
    const { selection, wires, selectParts } = useSelection.getState();
    if (part && !selection.includes(part)) selectParts([part]);
    if (wire && !wires.includes(wire)) selectParts([], [wire]);
    const at = { left: event.clientX, top: event.clientY };
    setMenu({ at, ...contents(needs, part, wire, { x: event.clientX, y: event.clientY }) });
  };
  return { menu, openMenu, closeMenu: () => setMenu(null) };
}

function contents(needs: Needs, part: string | null, wire: string | null, client: Point) {
  if (wire) return ofWire(needs, wire);
  const { sheet } = needs.view;
  const { selection } = useSelection.getState();
  const chosen = new Set(part ? [...selection, part] : []);
  const parts = sheet.components.filter((c) => chosen.has(c.name));
  return parts.length > 0 ? ofParts(needs, parts) : ofSheet(needs, client);
}

function ofParts(
  { view, onEdit, onFault, onOpen, onSwap, onComponent, onConnecting, actions }: Needs,
  parts: SheetComponent[],
) {
  const single = parts.length === 1 ? parts[0]! : null;
  const own = single && single.class.startsWith(`${view.model}.`);
  const names = parts.map((p) => p.name);
  const refused = (fault: unknown) => onFault(asRefusal(fault).sentence);
  return {
    title: single ? single.name : `${parts.length} parts`,
    groups: [
      [
        ...(single?.opens ? [{ words: "Step in", keys: "O", run: () => onOpen(single.name) }] : []),
        ...(single && own
          ? [{ words: "Edit its text", run: () => onComponent("equations", single) }]
          : []),
        ...(single && !single.port
          ? [
              { words: "Connect…", keys: "C", run: () => onConnecting(single.name) },
              { words: "Swap…", run: () => onSwap(single.name) },
            ]
          : []),
        { words: "Select along wires", keys: "L", run: actions.selectAlong },
      ],
      [
        {
          words: "Turn",
          keys: "R",
          run: () =>
            onEdit({ do: "move", places: turned(parts), what: "turned", straighten: false }),
        },
        {
          words: "Mirror",
          keys: "M",
          run: () =>
            onEdit({ do: "move", places: mirrored(parts), what: "mirrored", straighten: false }),
        },
        ...(parts.every((p) => !p.port)
          ? [
              {
                words: "Put into an assembly…",
                keys: "G",
                run: () => document.querySelector<HTMLElement>('[data-testid="assemble"]')?.click(),
              },
            ]
          : []),
      ],
      [
        { words: "Copy", keys: "Ctrl+C", run: () => void actions.copy().catch(refused) },
        {
          words: "Duplicate",
          keys: "Ctrl+D",
          run: () => onEdit({ do: "duplicate", parts: names, dx: 20, dy: -20 }),
        },
        { words: "Delete", keys: "Del", run: actions.deleteChosen },
      ],
    ] satisfies Entry[][],
  };
}

function ofWire({ view, actions, onEdit }: Needs, wire: string) {
  const line = view.sheet.connections.find((c) => `${c.from} ${c.to}` === wire);
  const rows = line ? quantitiesOf(line, view.sheet.connections, view.rows).rows : [];
  const { strips, toggleOnStrip, unitOf } = useStripPlans.getState();
  const beside = line ? besides(view.sheet.connections, [line]) : [];
  const bundled = line?.cable ? beside.filter((c) => c.cable === line.cable) : [];
  const bundle = (wires: typeof beside, cable: string | null) =>
    onEdit({ do: "bundle", wires: wires.map(({ from, to }) => ({ from, to })), cable });
  const name = (row: string) => (view.instance ? `${view.instance}.${row}` : row);
  return {
    title: wire.replace(" ", " – "),
    groups: [
      rows.slice(0, 6).map((row) => ({
        words: `${strips?.some((s) => s.names.includes(name(row.name))) ? "Take off its strip" : "Show"} ${row.name}`,
        run: () => toggleOnStrip(name(row.name), unitOf),
      })),
      [
        {
          words: "Straighten",
          keys: "S",
          without: !line?.bent,
          run: () => actions.straighten(wire),
        },
        ...(bundled.length > 0
          ? [{ words: "Split the cable", run: () => bundle(bundled, "") }]
          : beside.length > 1
            ? [
                {
                  words: `Bundle all ${beside.length} of these two parts`,
                  run: () => bundle(beside, null),
                },
              ]
            : []),
        { words: "Select along wires", keys: "L", run: actions.selectAlong },
        { words: "Delete", keys: "Del", run: actions.deleteChosen },
      ],
    ] satisfies Entry[][],
  };
}

function ofSheet({ view, onFault, onComponent, onNote, actions, spot }: Needs, client: Point) {
  const { selectParts } = useSelection.getState();
  return {
    title: view.sheet.name,
    groups: [
      [
        {
          words: "Insert a part",
          keys: "/",
          run: () => document.querySelector<HTMLElement>('[data-testid="shelf-search"]')?.focus(),
        },
        { words: "Component of equations", keys: "E", run: () => onComponent("equations") },
        { words: "Component of code", run: () => onComponent("code") },
        { words: "Note", keys: "N", run: () => onNote(spot(client)) },
      ],
      [
        {
          words: "Paste",
          keys: "Ctrl+V",
          run: () =>
            void navigator.clipboard
              .readText()
              .then((text) => actions.paste(text, spot(client)))
              .catch(() =>
                onFault("the browser does not let the clipboard be read; press Ctrl+V."),
              ),
        },
        {
          words: "Select all",
          keys: "Ctrl+A",
          without: view.sheet.components.length === 0,
          run: () => selectParts(view.sheet.components.map((c) => c.name)),
        },
        {
          words: "Arrange",
          keys: "A",
          without: view.sheet.components.length === 0,
          run: actions.arrange,
        },
      ],
    ] satisfies Entry[][],
  };
}
