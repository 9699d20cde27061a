import { BaseEdge, ReactFlow, ReactFlowProvider, useNodesInitialized, useReactFlow, useStore, type Edge, type EdgeProps } from "@xyflow/react";
import { Maximize, Minus, Plus } from "lucide-react";
import { memo, useCallback, useEffect, useMemo, useRef, useState, type RefObject } from "react";

import type { Sheet, SheetConnection } from "../api/client";
import { DRAGGED } from "../shelf/find";
import { fits, freeSpot, movedExtent, portName, SNAP, snapped } from "./building";
import { boxOf, SCALE, wirePath } from "./geometry";
import { Part, type PartNode } from "./part-node";
import type { Lookup } from "./replay";
import { Shapes, type Shape } from "./shapes";
import type { Edit } from "./use-edits";
import { Wire } from "./wire";

type WireEdge = Edge<{ connection: SheetConnection }, "wire">;

const WireLine = memo(function WireLine({ id, data, selected }: EdgeProps<WireEdge>) {
  const connection = data!.connection;
  return (
    <>
      <BaseEdge id={id} path={wirePath(connection.points)} style={{ stroke: "transparent" }} interactionWidth={14} />
      <Wire connection={connection} />
      {selected && <path d={wirePath(connection.points)} className="wire-chosen" fill="none" />}
    </>
  );
});

const NOWHERE: Record<string, { x: number; y: number }> = {};
const NODE_TYPES = { part: Part };
const EDGE_TYPES = { wire: WireLine };

interface Props {
  sheet: Sheet;
  selected: string | null;
  onSelect: (component: string | null) => void;
  /** Values at the time cursor, by flat name, to move the drawing with. */
  values: Record<string, number | null> | undefined;
  onEdit: (edit: Edit) => void;
  /** Takes a function that says where a new part should go, in units of the drawing. */
  onPlace: (where: () => { x: number; y: number }) => void;
}

export function SheetView(props: Props) {
  return (
    <ReactFlowProvider>
      <Canvas {...props} />
    </ReactFlowProvider>
  );
}

function lookupFor(component: string, numbers: Record<string, number>, values: Props["values"]): Lookup | undefined {
  if (!values) return undefined;
  return (name) => values[`${component}.${name}`] ?? numbers[name];
}

function Canvas({ sheet, selected, onSelect, values, onEdit, onPlace }: Props) {
  const flow = useReactFlow();
  const host = useRef<HTMLDivElement>(null);
  const pointer = useRef<{ x: number; y: number } | null>(null);
  const touched = useRef(false);
  // Where parts are while they are dragged; forgotten when the server has answered.
  const [drag, setDrag] = useState<{ sheet: Sheet; at: Record<string, { x: number; y: number }> }>({ sheet, at: {} });
  const dragged = drag.sheet === sheet ? drag.at : NOWHERE;
  const [wire, setWire] = useState<string | null>(null);
  const spot = useCallback(
    (client: { x: number; y: number }) => {
      const at = flow.screenToFlowPosition(client);
      return { x: snapped(at.x / SCALE), y: snapped(-at.y / SCALE) };
    },
    [flow],
  );
  useEffect(() => {
    onPlace(() => {
      const box = host.current?.getBoundingClientRect();
      const middle = box ? { x: box.x + box.width / 2, y: box.y + box.height / 2 } : { x: 0, y: 0 };
      if (pointer.current) return freeSpot(sheet, spot(pointer.current));
      const [x1 = 0, y1 = 0, x2 = 0, y2 = 0] = sheet.components.find((c) => c.name === selected)?.extent ?? [];
      // Beside the part that is selected, which is the one that came last.
      return freeSpot(sheet, selected ? { x: snapped((x1 + x2) / 2), y: snapped((y1 + y2) / 2) } : spot(middle));
    });
  }, [onPlace, selected, sheet, spot]);
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if ((event.target as HTMLElement).closest("input, textarea, .cm-editor") || event.ctrlKey || event.metaKey) return;
      const part = sheet.components.find((c) => c.name === selected);
      if (part && (event.key === "r" || event.key === "m")) {
        const [x1 = 0, y1 = 0, x2 = 0, y2 = 0] = part.extent;
        const place =
          event.key === "r"
            ? { name: part.name, extent: part.extent, rotation: (part.rotation + 90) % 360 }
            : { name: part.name, extent: [x2, y1, x1, y2], rotation: part.rotation };
        onEdit({ do: "move", places: [place] });
        event.preventDefault();
        return;
      }
      if (event.key !== "Delete" && event.key !== "Backspace") return;
      const connection = sheet.connections.find((c) => `${c.from} ${c.to}` === wire);
      if (connection) onEdit({ do: "delete", parts: [], wires: [{ from: connection.from, to: connection.to }] });
      else if (selected) onEdit({ do: "delete", parts: [selected], wires: [] });
      else return;
      event.preventDefault();
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, [onEdit, selected, sheet.components, sheet.connections, wire]);
  const drop = (moved: PartNode[]) => {
    const places = moved.flatMap((node) => {
      const extent = movedExtent(node.data.component.extent, node.position);
      return extent.some((v, i) => v !== node.data.component.extent[i]) ? [{ name: node.id, extent, rotation: node.data.component.rotation }] : [];
    });
    if (places.length > 0) onEdit({ do: "move", places });
  };
  const nodes = useMemo<PartNode[]>(
    () =>
      sheet.components.map((component) => {
        const box = boxOf(component.extent);
        return {
          id: component.name,
          type: "part",
          position: dragged[component.name] ?? { x: box.x, y: box.y },
          width: box.width,
          height: box.height,
          data: { component, lookup: lookupFor(component.name, component.numbers ?? {}, values) },
          selected: component.name === selected,
          ariaLabel: `${component.name}: ${component.description}`,
        };
      }),
    [sheet.components, selected, values, dragged],
  );
  const edges = useMemo<WireEdge[]>(
    () =>
      sheet.connections
        .filter((c) => c.points.length > 1)
        .map((connection, i) => ({
          id: `${i} ${connection.from} ${connection.to}`,
          type: "wire",
          source: connection.from.split(".")[0]!,
          target: connection.to.split(".")[0]!,
          sourceHandle: connection.from.split(".")[1] ?? null,
          targetHandle: connection.to.split(".")[1] ?? null,
          data: { connection },
          selected: `${connection.from} ${connection.to}` === wire,
          ariaLabel: `Wire of ${connection.from} and ${connection.to}`,
        })),
    [sheet.connections, wire],
  );
  return (
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
        onEdit({ do: "insert", class: className, ...spot({ x: event.clientX, y: event.clientY }) });
      }}
    >
      <ReactFlow
        className="sheet-ground"
        nodes={nodes}
        edges={edges}
        nodeTypes={NODE_TYPES}
        edgeTypes={EDGE_TYPES}
        connectionMode={"loose" as never}
        onNodesChange={(changes) => {
          const chosen = changes.find((c) => c.type === "select" && c.selected);
          if (chosen?.type === "select") {
            onSelect(chosen.id);
            setWire(null);
          }
          const moved = changes.flatMap((c) => (c.type === "position" && c.position ? [[c.id, c.position] as const] : []));
          if (moved.length > 0) setDrag({ sheet, at: { ...dragged, ...Object.fromEntries(moved) } });
        }}
        onNodeDragStop={(_, __, moved) => drop(moved)}
        onConnect={({ source, sourceHandle, target, targetHandle }) =>
          onEdit({ do: "connect", from: portName(source, sourceHandle), to: portName(target, targetHandle) })
        }
        isValidConnection={(c) => fits(sheet, c.source, c.sourceHandle ?? null, c.target, c.targetHandle ?? null)}
        onEdgeClick={(_, edge) => {
          const connection = edge.data?.connection;
          setWire(connection ? `${connection.from} ${connection.to}` : null);
          onSelect(null);
        }}
        onPaneClick={() => {
          onSelect(null);
          setWire(null);
        }}
        onMoveStart={(event) => {
          if (event) touched.current = true;
        }}
        connectionRadius={18}
        snapToGrid
        snapGrid={[SNAP * SCALE, SNAP * SCALE]}
        deleteKeyCode={null}
        minZoom={0.1}
        maxZoom={6}
        proOptions={{ hideAttribution: true }}
      >
        <Ground sheet={sheet} />
        <Tools extent={sheet.extent} touched={touched} />
      </ReactFlow>
      {sheet.components.length === 0 && <EmptySheet />}
    </div>
  );
}

/** The grid and the notes of the sheet, moving with pan and zoom. */
function Ground({ sheet }: { sheet: Sheet }) {
  const [x, y, zoom] = useStore((state) => state.transform);
  const step = 10 * SCALE * zoom;
  const shown = step >= 9;
  return (
    <>
      <div
        className="pointer-events-none absolute inset-0 -z-10"
        style={
          shown
            ? {
                backgroundImage: "linear-gradient(var(--grid) 1px, transparent 1px), linear-gradient(90deg, var(--grid) 1px, transparent 1px)",
                backgroundSize: `${step}px ${step}px`,
                backgroundPosition: `${x}px ${y}px`,
              }
            : undefined
        }
      />
      <svg className="pointer-events-none absolute inset-0 h-full w-full" aria-hidden="true">
        <g transform={`translate(${x} ${y}) scale(${zoom * SCALE})`}>
          <Shapes shapes={sheet.graphics as unknown as Shape[]} words={{ name: sheet.name, className: sheet.qualified, labels: {} }} />
        </g>
      </svg>
    </>
  );
}

function Tools({ extent, touched }: { extent: number[]; touched: RefObject<boolean> }) {
  const flow = useReactFlow();
  const key = extent.join(" ");
  const fit = useCallback(
    (duration: number) => {
      const box = boxOf(key.split(" ").map(Number));
      void flow.fitBounds({ x: box.x, y: box.y, width: box.width, height: box.height }, { padding: 0.04, duration });
    },
    [flow, key],
  );
  const ready = useNodesInitialized();
  const size = useStore((state) => `${state.width} ${state.height}`);
  useEffect(() => {
    // The whole sheet stays in view while panels find their places, until somebody moves it.
    if (!touched.current && !size.startsWith("0 ")) fit(0);
    // eslint-disable-next-line react-hooks/exhaustive-deps -- an edit that makes the sheet larger must not move it
  }, [ready, size, touched]);
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if ((event.target as HTMLElement).closest("input, textarea, .cm-editor") || event.ctrlKey || event.metaKey) return;
      if (event.key === "f") fit(120);
      if (event.key === "+") void flow.zoomIn({ duration: 120 });
      if (event.key === "-") void flow.zoomOut({ duration: 120 });
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, [flow, fit]);
  const button = "btn btn-sm btn-square join-item border-base-300 bg-base-100";
  return (
    <div className="join absolute right-2 bottom-2 z-10">
      <button type="button" className={button} onClick={() => void flow.zoomOut({ duration: 120 })} aria-label="Zoom out (−)" title="Zoom out (−)">
        <Minus size={14} />
      </button>
      <button type="button" className={button} onClick={() => void flow.zoomIn({ duration: 120 })} aria-label="Zoom in (+)" title="Zoom in (+)">
        <Plus size={14} />
      </button>
      <button
        type="button"
        className={button}
        onClick={() => fit(120)}
        aria-label="Show the whole sheet (F)"
        title="Show the whole sheet (F)"
      >
        <Maximize size={14} />
      </button>
    </div>
  );
}

function EmptySheet() {
  return (
    <div className="pointer-events-none absolute inset-0 flex items-center justify-center">
      <p className="muted max-w-md text-center text-[15px]" data-testid="empty-sheet">
        Nothing is drawn here yet. Press <kbd className="kbd kbd-sm">/</kbd> and type the name of a part, or take one from the shelf. Equations are
        written in the view Text.
      </p>
    </div>
  );
}
