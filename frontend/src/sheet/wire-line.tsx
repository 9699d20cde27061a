import { useReactFlow, type Edge, type EdgeProps } from "@xyflow/react";
import { memo, useState, type PointerEvent } from "react";

import type { SheetConnection } from "../api/client";
import { dragStretch } from "./bends";
import { snapped } from "./building";
import { useSheet } from "./context";
import { SCALE, wirePath } from "../drawing/geometry";
import { Wire } from "../drawing/wire";

export type WireEdge = Edge<{ connection: SheetConnection }, "wire">;

/** A wire on the sheet; when it is selected its stretches can be dragged sideways. */
export const WireLine = memo(function WireLine({ id, data, selected }: EdgeProps<WireEdge>) {
  const connection = data!.connection;
  return (
    <>
      <path
        id={id}
        d={wirePath(connection.points)}
        className="react-flow__edge-interaction"
        fill="none"
        strokeOpacity={0}
        strokeWidth={14}
      />
      <Wire connection={connection} />
      {selected && <Chosen connection={connection} />}
    </>
  );
});

function Chosen({ connection }: { connection: SheetConnection }) {
  const { onEdit } = useSheet();
  const { getZoom } = useReactFlow();
  const [drag, setDrag] = useState<{ i: number; x: number; y: number; points: number[][] } | null>(
    null,
  );
  const points = drag?.points ?? connection.points;
  const start = (i: number) => (event: PointerEvent<SVGElement>) => {
    event.stopPropagation();
    event.currentTarget.setPointerCapture(event.pointerId);
    setDrag({ i, x: event.clientX, y: event.clientY, points: connection.points });
  };
  const move = (event: PointerEvent<SVGElement>) => {
    if (!drag) return;
    const dx = snapped((event.clientX - drag.x) / getZoom() / SCALE);
    const dy = snapped(-(event.clientY - drag.y) / getZoom() / SCALE);
    setDrag({ ...drag, points: dragStretch(connection.points, drag.i, dx, dy) });
  };
  const end = () => {
    if (drag && drag.points !== connection.points)
      onEdit({ do: "bend", from: connection.from, to: connection.to, points: drag.points });
    setDrag(null);
  };
  return (
    <g>
      <path d={wirePath(points)} className="wire-chosen" fill="none" />
      {(connection.cable ? [] : connection.points.slice(0, -1)).map((a, i) => {
        const b = connection.points[i + 1]!;
        const long = Math.abs(a[0]! - b[0]!) + Math.abs(a[1]! - b[1]!) > 6;
        if (!long) return null;
        const upright = Math.abs(a[0]! - b[0]!) < 1e-6;
        return (
          <rect
            key={i}
            className="bend-grip nopan nodrag"
            x={((a[0]! + b[0]!) / 2) * SCALE - (upright ? 3 : 7)}
            y={(-(a[1]! + b[1]!) / 2) * SCALE - (upright ? 7 : 3)}
            width={upright ? 6 : 14}
            height={upright ? 14 : 6}
            rx={2}
            style={{
              cursor: upright ? "ew-resize" : "ns-resize",
              visibility: drag ? "hidden" : "visible",
            }}
            onPointerDown={start(i)}
            onPointerMove={move}
            onPointerUp={end}
            data-testid={`bend-${i}`}
          >
            <title>Drag to lead the wire another way</title>
          </rect>
        );
      })}
    </g>
  );
}
