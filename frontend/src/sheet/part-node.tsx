import {
  Handle,
  Position,
  useStore,
  type Node,
  type NodeProps,
  type ReactFlowState,
} from "@xyflow/react";
import { memo } from "react";

import type { SheetComponent } from "../api/client";
import { useSheet } from "./context";
import { boxOf, CATCH, portAngle, portOffset } from "../drawing/geometry";
import type { LabelShifts } from "../drawing/label-places";
import type { Lookup } from "../drawing/replay";
import { Symbol } from "../drawing/symbol";

export type PartNode = Node<
  { component: SheetComponent; lookup: Lookup | undefined; shift: LabelShifts | undefined },
  "part"
>;

const HANDLE = {
  width: CATCH,
  height: CATCH,
  minWidth: 0,
  minHeight: 0,
  border: 0,
  background: "transparent",
  borderRadius: 7,
} as const;

/** A component on the sheet; a double click opens an assembly. */
export const Part = memo(function Part({ data }: NodeProps<PartNode>) {
  const { component, lookup, shift } = data;
  const { onOpen } = useSheet();
  const box = boxOf(component.extent);
  // From afar neither texts nor port marks can be made out; leaving them away keeps large sheets swift.
  const far = useStore(isFar);
  return (
    <div
      className={`sheet-part ${component.opens ? "opens" : ""}`}
      style={{ width: box.width, height: box.height }}
      data-testid={`part-${component.name}`}
      title={
        component.opens
          ? `${component.description || component.class}. Double click to step in.`
          : component.description
      }
      onDoubleClick={(event) => {
        if (!component.opens) return;
        event.stopPropagation();
        onOpen(component.name);
      }}
    >
      <svg
        width={box.width}
        height={box.height}
        overflow="visible"
        role="img"
        aria-label={`${component.name}: ${component.description}`}
      >
        <rect width={box.width} height={box.height} fill="transparent" />
        {component.array && <Stack width={box.width} height={box.height} count={component.array} />}
        <path className="part-outline" d={corners(box.width, box.height)} strokeWidth={2} />
        <Symbol component={component} lookup={lookup} plain={far} shift={shift} />
        {!far && <PortNames component={component} />}
      </svg>
      {component.icon.ports.map((port) => {
        const [x, y] = portOffset(component, port);
        return (
          <Port
            key={port.name}
            part={component.name}
            port={port.name}
            domain={port.domain}
            at={[x, y]}
            words={`${port.description || port.class}${port.array ? `, ${port.array} elements` : ""}`}
          />
        );
      })}
      {component.port && (
        <Port
          part={component.name}
          port=""
          domain={component.port.domain}
          at={[box.width / 2, box.height / 2]}
          words={component.port.class}
        />
      )}
    </div>
  );
});

/** More of the same behind a part, and how many. */
function Stack({ width, height, count }: { width: number; height: number; count: string }) {
  const behind = (by: number) => `M${by} ${height + by} H${width + by} V${by}`;
  return (
    <g data-testid="part-stack">
      <path
        d={`${behind(3)} ${behind(6)}`}
        fill="none"
        stroke="currentColor"
        strokeWidth={1}
        opacity={0.45}
      />
      <text x={width + 9} y={height + 11} fontSize={13} fontWeight={600} fill="currentColor">
        × {count}
      </text>
    </g>
  );
}

/** The names of ports beside them, seen when the part is pointed at or the sheet is near. */
function PortNames({ component }: { component: SheetComponent }) {
  return component.icon.ports.map((port) => {
    const [x, y] = portOffset(component, port);
    const side = portAngle(component, port);
    const across = side === 0 || side === 180;
    return (
      <text
        key={port.name}
        className="port-name"
        x={x + (side === 0 ? 9 : side === 180 ? -9 : 6)}
        y={y + (side === 90 ? 9 : -5)}
        textAnchor={side === 180 ? "end" : "start"}
        dominantBaseline={across ? "auto" : "central"}
      >
        {port.name}
      </text>
    );
  });
}

const FAR = 0.32;

function isFar(state: ReactFlowState): boolean {
  return state.transform[2] < FAR;
}

function Port({
  part,
  port,
  domain,
  at,
  words,
}: {
  part: string;
  port: string;
  domain: string;
  at: [number, number];
  words: string;
}) {
  const name = port ? `${part}.${port}` : part;
  return (
    <Handle
      id={port || "self"}
      type="source"
      position={Position.Right}
      className={`port-handle port-${domain.split(/[ ,]/)[0]}`}
      style={{ ...HANDLE, left: at[0], top: at[1], transform: "translate(-50%, -50%)" }}
      title={`${name}: ${words}. Drag to another port to connect.`}
      data-part={part}
      data-port={port}
      data-testid={`port-${name}`}
    />
  );
}

/** Marks at the four corners around a part; they leave its name alone. */
function corners(width: number, height: number): string {
  const [out, arm] = [6, 8];
  const [l, t, r, b] = [-out, -out, width + out, height + out];
  return `M${l} ${t + arm}V${t}H${l + arm}M${r - arm} ${t}H${r}V${t + arm}M${r} ${b - arm}V${b}H${r - arm}M${l + arm} ${b}H${l}V${b - arm}`;
}
