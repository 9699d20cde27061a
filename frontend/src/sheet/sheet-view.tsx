import {
  ConnectionLineType,
  ReactFlow,
  ReactFlowProvider,
  SelectionMode,
  useReactFlow,
  type NodeChange,
  type Viewport,
} from "@xyflow/react";
import { useCallback, useEffect, useLayoutEffect, useMemo, useRef, useState } from "react";

import type { ModelView, SeenRun, SheetComponent } from "../api/client";
import { nameInRun, useValues } from "../api/queries";
import { DRAGGED } from "../shelf/find";
import { useInstant } from "../state/instant";
import { usePlace } from "../state/place";
import { useSelection } from "../state/selection";
import { useStripPlans } from "../state/strips";
import { NEAR, nearestWire } from "./bends";
import { wireToEnter } from "./enter-wire";
import { clearPlaces, fits, freeSpot, movedExtent, portOfHandle, SNAP, snapped } from "./building";
import { ArrowForm } from "./arrow-form";
import { ConnectPicker } from "./connect-picker";
import { SheetActions } from "./context";
import { ElementQuestion } from "./element-question";
import { EmptySheet } from "./empty-sheet";
import { FedQuestion } from "./fed-question";
import { SheetToolbar } from "./sheet-toolbar";
import { BranchDots } from "../drawing/branch-dots";
import { wireKey } from "../drawing/cables";
import { labelShifts } from "../drawing/label-places";
import { LabelScale } from "./label-scale";
import { CablesOnSheet } from "./cables-on-sheet";
import { SheetMenu } from "./sheet-menu";
import { useSheetMenu } from "./use-sheet-menu";
import { FailureMark } from "./failure-mark";
import {
  followingEdges,
  noteNodes,
  partNodes,
  wireEdges,
  type AnyNode,
  type KeptNodes,
  type Point,
} from "./flow-elements";
import { SCALE } from "../drawing/geometry";
import { Ground, Tools } from "./ground";
import { lightUp } from "./lights";
import { WhyNot } from "./linking";
import { NoteOnSheet } from "./note-node";
import { Part } from "./part-node";
import type { Lookup } from "../drawing/replay";
import { SelectionBar } from "./selection-bar";
import type { Shape } from "../drawing/shapes";
import { Transitions } from "./transitions";
import type { Edit } from "../state/use-edits";
import { LEAST_ZOOM, MOST_ZOOM, wholeView } from "./whole-view";
import { notesOf } from "../drawing/notes";
import { shownQuantities } from "../drawing/shown-quantities";
import { useSheetKeys } from "./use-sheet-keys";
import { useWiring } from "./use-wiring";
import { WireBar } from "./wire-bar";
import { WireValues } from "./wire-values";
import { quantitiesOf } from "../drawing/wire-quantities";
import { WireLine, type WireEdge } from "./wire-line";
import { Overlay } from "./overlay";

const NOWHERE: Record<string, Point> = {};
const NODE_TYPES = { part: Part, note: NoteOnSheet };
const EDGE_TYPES = { wire: WireLine };
/** Parts from which on only what is in view is drawn. */
const LARGE = 120;

interface Props {
  view: ModelView;
  /** The run whose values move the drawing. */
  run: SeenRun | undefined;
  onEdit: (edit: Edit) => void;
  onFault: (sentence: string | null) => void;
  /** Takes a function that says where a new part should go, in units of the drawing. */
  onPlace: (where: () => Point) => void;
  onOpen: (part: string) => void;
  onSwap: (part: string) => void;
  /** Write a new component in equations or code, or (with a part) change the class of that one. */
  onComponent: (kind: "equations" | "code", part?: SheetComponent) => void;
}

export function SheetView(props: Props) {
  const host = useRef<HTMLDivElement>(null);
  const [size, setSize] = useState<{ width: number; height: number } | null>(null);
  useLayoutEffect(() => {
    const box = host.current?.getBoundingClientRect();
    if (box) setSize({ width: box.width, height: box.height });
  }, []);
  return (
    <div ref={host} className="h-full w-full">
      {size && (
        <ReactFlowProvider>
          <Canvas {...props} begin={wholeView(props.view.sheet.extent, size)} />
        </ReactFlowProvider>
      )}
    </div>
  );
}

/** Values of a part's quantities: of the run at the cursor, of its numbers as long as nothing was run. */
function lookupFor(
  component: string,
  numbers: Record<string, number>,
  values: Record<string, number | null> | undefined,
): Lookup {
  return (name) => values?.[`${component}.${name}`] ?? numbers[name];
}

/** Values at the time cursor, by flat name, of all that the sheet shows. */
function useSheetValues(
  view: ModelView,
  run: SeenRun | undefined,
): Record<string, number | null> | undefined {
  const instant = useInstant();
  const marks = usePlace((s) => s.wireMarks);
  const names = useMemo(
    () => (run ? shownQuantities(view.sheet, view.rows, run.variables, marks) : []),
    [view, run, marks],
  );
  const values = useValues(run, names, instant ?? run?.time_reached ?? null);
  return names.length > 0 ? values.data?.values : undefined;
}

function Canvas({
  view,
  run,
  onEdit,
  onFault,
  onPlace,
  onOpen,
  onSwap,
  onComponent,
  begin,
}: Props & { begin: Viewport }) {
  const sheet = view.sheet;
  const values = useSheetValues(view, run);
  const flow = useReactFlow<AnyNode, WireEdge>();
  const selection = useSelection((s) => s.selection);
  const wires = useSelection((s) => s.wires);
  const selectParts = useSelection((s) => s.selectParts);
  const wireMarks = usePlace((s) => s.wireMarks);
  const host = useRef<HTMLDivElement>(null);
  const pointer = useRef<Point | null>(null);
  const touched = useRef(false);
  const copying = useRef(false);
  // Where parts are while they are dragged; forgotten when the server has answered.
  const [drag, setDrag] = useState<{ sheet: typeof sheet; at: Record<string, Point> }>({
    sheet,
    at: {},
  });
  const dragged = drag.sheet === sheet ? drag.at : NOWHERE;
  const lying = Object.keys(dragged).length === 0;
  const [newNote, setNewNote] = useState<Point | null>(null);
  const [connecting, setConnecting] = useState<string | null>(null);
  const parts = useMemo(
    () => sheet.components.filter((c) => selection.includes(c.name)),
    [sheet.components, selection],
  );

  const spot = useCallback(
    (client: Point) => {
      const at = flow.screenToFlowPosition(client);
      return { x: snapped(at.x / SCALE), y: snapped(-at.y / SCALE) };
    },
    [flow],
  );
  const middle = useCallback(() => {
    const box = host.current?.getBoundingClientRect();
    return spot(box ? { x: box.x + box.width / 2, y: box.y + box.height / 2 } : { x: 0, y: 0 });
  }, [spot]);
  useEffect(() => {
    onPlace(() => {
      if (pointer.current) return freeSpot(sheet, spot(pointer.current));
      const last = parts.at(-1);
      if (!last) return freeSpot(sheet, middle());
      // Beside the part that is selected, which is the one that came last.
      const [x1 = 0, y1 = 0, x2 = 0, y2 = 0] = last.extent;
      return freeSpot(sheet, { x: snapped((x1 + x2) / 2), y: snapped((y1 + y2) / 2) });
    });
  }, [middle, onPlace, parts, sheet, spot]);

  const { connect, onConnectEnd, arrow, setArrow, question, setQuestion, fed, setFed } = useWiring({
    sheet,
    onEdit,
    onFault,
    spot,
    host,
  });

  // --- parts ---

  const insertAt = (className: string, client: Point) => {
    const at = spot(client);
    const near = nearestWire(sheet, at.x, at.y, NEAR);
    onEdit({
      do: "insert",
      class: className,
      ...(near ? at : freeSpot(sheet, at)),
      into: near ? { from: near.wire.from, to: near.wire.to } : null,
    });
  };
  const drop = (moved: AnyNode[]) => {
    const changed = moved.flatMap((node) => {
      if (node.type !== "part") return [];
      const part = node.data.component;
      const extent = movedExtent(part.extent, node.position);
      return extent.some((v, i) => v !== part.extent[i])
        ? [{ name: part.name, extent, rotation: part.rotation, part }]
        : [];
    });
    const first = changed[0];
    if (first && copying.current) {
      setDrag({ sheet, at: {} });
      onEdit({
        do: "duplicate",
        parts: changed.map((c) => c.name),
        dx: first.extent[0]! - first.part.extent[0]!,
        dy: first.extent[1]! - first.part.extent[1]!,
      });
    } else if (first) {
      const places = changed.map(({ name, extent, rotation }) => ({ name, extent, rotation }));
      const into = changed.length === 1 ? wireToEnter(sheet, first.part, first.extent) : null;
      onEdit({
        do: "move",
        places: into ? places : clearPlaces(sheet, places),
        what: "moved",
        straighten: false,
        into,
      });
    }
    for (const node of moved) {
      if (node.type !== "note" || node.data.note.index < 0) continue;
      const [x, y] = [snapped(node.position.x / SCALE), snapped(-node.position.y / SCALE)];
      const { note } = node.data;
      if (x !== note.x || y !== note.y)
        onEdit({ do: "change note", index: note.index, text: note.text, x, y });
    }
  };
  const { arrange, arranging, selectAlong, straighten, copy, paste, deleteChosen } = useSheetKeys({
    view,
    parts,
    onEdit,
    onFault,
    onOpen,
    onComponent,
    onConnecting: setConnecting,
    onNote: () => setNewNote(pointer.current ? spot(pointer.current) : middle()),
    here: () => (pointer.current ? spot(pointer.current) : null),
  });

  const { menu, openMenu, closeMenu } = useSheetMenu({
    view,
    onEdit,
    onFault,
    onOpen,
    onSwap,
    onComponent,
    actions: { arrange, selectAlong, straighten, copy, paste, deleteChosen },
    onConnecting: setConnecting,
    onNote: (at) => setNewNote(at),
    spot,
  });

  // --- what is drawn ---

  const lookups = useMemo(
    () =>
      new Map<string, Lookup | undefined>(
        sheet.components.map((c) => [c.name, lookupFor(c.name, c.numbers, values)]),
      ),
    [sheet.components, values],
  );
  const shifts = useMemo(() => labelShifts(sheet), [sheet]);
  const [kept] = useState<KeptNodes>(() => new Map());
  const chosen = useMemo(() => new Set(selection), [selection]);
  const endNote = useCallback(() => setNewNote(null), []);
  const nodes = useMemo<AnyNode[]>(() => {
    const notes = notesOf(sheet.graphics as unknown as Shape[]);
    if (newNote) notes.push({ index: -1, text: "", ...newNote, width: 80 });
    return [
      ...partNodes(sheet.components, (c) => lookups.get(c.name), shifts, chosen, dragged, kept),
      ...noteNodes(notes, chosen, dragged, endNote),
    ];
  }, [sheet.components, sheet.graphics, chosen, lookups, shifts, dragged, newNote, kept, endNote]);
  const wired = useMemo<WireEdge[]>(() => wireEdges(sheet, wires), [sheet, wires]);
  const edges = useMemo(() => followingEdges(wired, sheet, dragged), [wired, sheet, dragged]);
  const onNodesChange = (changes: NodeChange<AnyNode>[]) => {
    const picked = new Set(selection);
    let changedSelection = false;
    for (const change of changes) {
      if (change.type !== "select") continue;
      changedSelection = true;
      if (change.selected) picked.add(change.id);
      else picked.delete(change.id);
    }
    if (changedSelection)
      selectParts([...picked], changes.some((c) => c.type === "select" && c.selected) ? [] : wires);
    const moved = changes.flatMap((c) =>
      c.type === "position" && c.position ? [[c.id, c.position] as const] : [],
    );
    if (moved.length > 0) setDrag({ sheet, at: { ...dragged, ...Object.fromEntries(moved) } });
  };
  const actions = useMemo(() => ({ sheet, onEdit, onOpen }), [sheet, onEdit, onOpen]);
  return (
    <SheetActions.Provider value={actions}>
      <div
        ref={host}
        className="relative h-full w-full"
        data-testid="sheet"
        role="region"
        aria-label={`Sheet of ${sheet.name}`}
        onPointerMove={(event) => (pointer.current = { x: event.clientX, y: event.clientY })}
        onPointerLeave={() => (pointer.current = null)}
        onDragOver={(event) => {
          if (!event.dataTransfer.types.includes(DRAGGED)) return;
          event.preventDefault();
          event.dataTransfer.dropEffect = "copy";
        }}
        onDrop={(event) => {
          const className = event.dataTransfer.getData(DRAGGED);
          if (!className) return;
          event.preventDefault();
          insertAt(className, { x: event.clientX, y: event.clientY });
        }}
      >
        <ReactFlow<AnyNode, WireEdge>
          className="sheet-ground"
          nodes={nodes}
          edges={edges}
          defaultViewport={begin}
          nodeTypes={NODE_TYPES}
          edgeTypes={EDGE_TYPES}
          connectionMode={"loose" as never}
          onNodesChange={onNodesChange}
          onNodeDragStart={(event) => (copying.current = event.altKey)}
          onNodeDragStop={(event, node, moved) => {
            copying.current = copying.current || event.altKey;
            drop(moved.length > 0 ? moved : [node]);
            copying.current = false;
          }}
          onConnectStart={(_, { nodeId, handleId }) =>
            lightUp(host.current, (part, port) =>
              fits(sheet, nodeId, portOfHandle(handleId), part, port),
            )
          }
          onConnectEnd={onConnectEnd}
          onConnect={(c) =>
            connect(
              { part: c.source, port: portOfHandle(c.sourceHandle) },
              { part: c.target, port: portOfHandle(c.targetHandle) },
            )
          }
          isValidConnection={(c) =>
            fits(
              sheet,
              c.source,
              portOfHandle(c.sourceHandle),
              c.target,
              portOfHandle(c.targetHandle),
            )
          }
          onEdgeClick={(event, edge) => {
            const { connection } = edge.data!;
            if (event.altKey) {
              // What the wire carries goes onto a strip.
              const { flow, shared } = quantitiesOf(connection, sheet.connections, view.rows);
              const { toggleOnStrip, unitOf } = useStripPlans.getState();
              const row = flow?.row ?? shared;
              if (row && run?.variables.some((v) => v.name === row.name))
                toggleOnStrip(nameInRun(run, row.name), unitOf);
              return;
            }
            const key = `${connection.from} ${connection.to}`;
            const more = event.shiftKey || event.ctrlKey || event.metaKey;
            selectParts(
              more ? selection : [],
              more ? [...wires.filter((w) => w !== key), key] : [key],
            );
          }}
          onEdgeDoubleClick={(_, edge) =>
            straighten(`${edge.data!.connection.from} ${edge.data!.connection.to}`)
          }
          onNodeContextMenu={(event, node) =>
            openMenu(event, node.type === "part" ? node.id : null)
          }
          onEdgeContextMenu={(event, edge) =>
            openMenu(event, null, `${edge.data!.connection.from} ${edge.data!.connection.to}`)
          }
          onPaneContextMenu={(event) => openMenu(event, null)}
          onPaneClick={(event) => {
            selectParts([]);
            // A double click asks for a part, as the slash key does.
            if (event.detail === 2)
              document.querySelector<HTMLElement>('[data-testid="shelf-search"]')?.focus();
          }}
          onMoveStart={(event) => {
            if (event) touched.current = true;
          }}
          selectionKeyCode="Shift"
          multiSelectionKeyCode={["Control", "Meta", "Shift"]}
          selectionMode={SelectionMode.Partial}
          connectionRadius={18}
          connectionLineType={ConnectionLineType.Step}
          snapToGrid
          snapGrid={[SNAP * SCALE, SNAP * SCALE]}
          deleteKeyCode={null}
          onlyRenderVisibleElements={sheet.components.length > LARGE}
          disableKeyboardA11y
          zoomOnDoubleClick={false}
          minZoom={LEAST_ZOOM}
          maxZoom={MOST_ZOOM}
          proOptions={{ hideAttribution: true }}
        >
          <Ground sheet={sheet} />
          <LabelScale host={host} />
          {lying && (
            <Overlay aria-hidden="true">
              <BranchDots connections={sheet.connections} />
            </Overlay>
          )}
          {lying && (
            <CablesOnSheet
              sheet={sheet}
              wires={wires}
              onChoose={(cable, more) =>
                selectParts(more ? selection : [], [
                  ...new Set([...(more ? wires : []), ...cable.wires.map(wireKey)]),
                ])
              }
              onMenu={(event, cable) => {
                selectParts([], cable.wires.map(wireKey));
                openMenu(event, null, wireKey(cable.wires[0]!));
              }}
            />
          )}
          <Transitions sheet={sheet} dragged={dragged} onPick={setArrow} />
          <Tools extent={sheet.extent} touched={touched} />
          <WireValues sheet={sheet} rows={view.rows} run={run} values={values} marks={wireMarks} />
          <FailureMark sheet={sheet} run={run} />
          <WhyNot />
        </ReactFlow>
        {parts.length > 0 && (
          <SelectionBar
            parts={parts}
            onEdit={onEdit}
            onOpen={onOpen}
            onSwap={onSwap}
            onAlong={selectAlong}
            onEquations={(part) => onComponent("equations", part)}
          />
        )}
        {parts.length === 0 && wires.length > 0 && (
          <WireBar
            sheet={sheet}
            rows={view.rows}
            wires={wires}
            onEdit={onEdit}
            onChoose={(left) => selectParts([], left)}
          />
        )}
        <SheetToolbar
          empty={sheet.components.length === 0}
          arranging={arranging}
          onArrange={arrange}
          onNote={() => setNewNote(middle())}
          onComponent={onComponent}
        />
        {connecting && sheet.components.some((c) => c.name === connecting) && (
          <ConnectPicker
            sheet={sheet}
            part={connecting}
            onPicked={(from, to) => {
              setConnecting(null);
              connect(from, to);
            }}
            onClose={() => setConnecting(null)}
          />
        )}
        {menu && <SheetMenu {...menu} onClose={closeMenu} />}
        {arrow && (
          <ArrowForm
            key={`${arrow.number} ${arrow.from} ${arrow.to}`}
            arrow={arrow}
            others={sheet.transitions
              .filter((t) => t.from === arrow.from && t.number !== arrow.number)
              .map((t) => t.priority)}
            onEdit={onEdit}
            onClose={() => setArrow(null)}
          />
        )}
        {question && <ElementQuestion question={question} onClose={() => setQuestion(null)} />}
        {fed && <FedQuestion fed={fed} onClose={() => setFed(null)} />}
        {sheet.components.length === 0 && <EmptySheet onComponent={onComponent} />}
      </div>
    </SheetActions.Provider>
  );
}
