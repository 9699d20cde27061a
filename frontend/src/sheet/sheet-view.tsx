import { BaseEdge, ReactFlow, ReactFlowProvider, useNodesInitialized, useReactFlow, useStore, type Edge, type EdgeProps } from "@xyflow/react";
import { Maximize, Minus, Plus } from "lucide-react";
import { memo, useCallback, useEffect, useMemo, useRef } from "react";

import type { Sheet, SheetConnection } from "../api/client";
import { boxOf, SCALE, wirePath } from "./geometry";
import { Part, type PartNode } from "./part-node";
import type { Lookup } from "./replay";
import { Shapes, type Shape } from "./shapes";
import { Wire } from "./wire";

type WireEdge = Edge<{ connection: SheetConnection }, "wire">;

const WireLine = memo(function WireLine({ id, data }: EdgeProps<WireEdge>) {
  const connection = data!.connection;
  return (
    <>
      <BaseEdge id={id} path={wirePath(connection.points)} style={{ stroke: "none" }} />
      <Wire connection={connection} />
    </>
  );
});

const NODE_TYPES = { part: Part };
const EDGE_TYPES = { wire: WireLine };

interface Props {
  sheet: Sheet;
  selected: string | null;
  onSelect: (component: string | null) => void;
  /** Values at the time cursor, by flat name, to move the drawing with. */
  values: Record<string, number | null> | undefined;
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

function Canvas({ sheet, selected, onSelect, values }: Props) {
  const nodes = useMemo<PartNode[]>(
    () =>
      sheet.components.map((component) => {
        const box = boxOf(component.extent);
        return {
          id: component.name,
          type: "part",
          position: { x: box.x, y: box.y },
          width: box.width,
          height: box.height,
          data: { component, lookup: lookupFor(component.name, component.numbers ?? {}, values) },
          selected: component.name === selected,
          draggable: false,
          ariaLabel: `${component.name}: ${component.description}`,
        };
      }),
    [sheet.components, selected, values],
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
          focusable: false,
          selectable: false,
        })),
    [sheet.connections],
  );
  return (
    <div className="relative h-full w-full" data-testid="sheet" role="region" aria-label={`Sheet of ${sheet.name}`}>
      <ReactFlow
        className="sheet-ground"
        nodes={nodes}
        edges={edges}
        nodeTypes={NODE_TYPES}
        edgeTypes={EDGE_TYPES}
        connectionMode={"loose" as never}
        onNodesChange={(changes) => {
          const chosen = changes.find((c) => c.type === "select" && c.selected);
          if (chosen?.type === "select") onSelect(chosen.id);
        }}
        onPaneClick={() => onSelect(null)}
        nodesConnectable={false}
        nodesDraggable={false}
        deleteKeyCode={null}
        minZoom={0.1}
        maxZoom={6}
        proOptions={{ hideAttribution: true }}
      >
        <Ground sheet={sheet} />
        <Tools extent={sheet.extent} />
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

function Tools({ extent }: { extent: number[] }) {
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
  const measured = useStore((state) => state.width > 0);
  const fitted = useRef(false);
  useEffect(() => {
    if (fitted.current || !measured) return;
    fitted.current = true;
    fit(0);
  }, [fit, ready, measured]);
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
        This model has no drawn parts. Its equations are in the view Text; its quantities are in the ledger.
      </p>
    </div>
  );
}
