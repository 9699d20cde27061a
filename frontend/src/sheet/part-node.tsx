import { Handle, Position, type NodeProps, type Node } from "@xyflow/react";
import { memo } from "react";

import type { SheetComponent } from "../api/client";
import { boxOf, portOffset } from "./geometry";
import type { Lookup } from "./replay";
import { Symbol } from "./symbol";

export type PartNode = Node<{ component: SheetComponent; lookup: Lookup | undefined }, "part">;

const HANDLE = { width: 14, height: 14, minWidth: 0, minHeight: 0, border: 0, background: "transparent", borderRadius: 7 } as const;

/** A component on the sheet. */
export const Part = memo(function Part({ data }: NodeProps<PartNode>) {
  const { component, lookup } = data;
  const box = boxOf(component.extent);
  return (
    <div className="sheet-part" style={{ width: box.width, height: box.height }} data-testid={`part-${component.name}`} title={component.description}>
      <svg width={box.width} height={box.height} overflow="visible" role="img" aria-label={`${component.name}: ${component.description}`}>
        <rect className="part-outline" x={-6} y={-6} width={box.width + 12} height={box.height + 12} strokeWidth={1.5} rx={2} />
        <Symbol component={component} lookup={lookup} />
      </svg>
      {component.icon.ports.map((port) => {
        const [x, y] = portOffset(component, port);
        const place = { ...HANDLE, left: x, top: y, transform: "translate(-50%, -50%)" };
        const title = `${component.name}.${port.name}: ${port.description || port.class}. Drag to another port to connect.`;
        return (
          <Handle
            key={port.name}
            id={port.name}
            type="source"
            position={Position.Right}
            className={`port-handle port-${port.domain.split(/[ ,]/)[0]}`}
            style={place}
            title={title}
            data-testid={`port-${component.name}.${port.name}`}
          />
        );
      })}
    </div>
  );
});
