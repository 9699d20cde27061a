import { Position } from "@xyflow/react";

import type { Sheet, SheetComponent } from "../api/client";
import { followed } from "./bends";
import { boxOf, CATCH, portOffset, SCALE } from "../drawing/geometry";
import type { Note } from "../drawing/notes";
import type { NoteNode } from "./note-node";
import type { PartNode } from "./part-node";
import type { LabelShifts } from "../drawing/label-places";
import type { Lookup } from "../drawing/replay";
import { partOf } from "./selection";
import type { WireEdge } from "./wire-line";

export type AnyNode = PartNode | NoteNode;
export type Point = { x: number; y: number };

/** Where the ports of a part are, so that wires can be drawn before anything is measured. */
function handlesOf(component: SheetComponent) {
  const box = boxOf(component.extent);
  const handle = (id: string, [x, y]: [number, number]) => ({
    id,
    type: "source" as const,
    position: Position.Right,
    x: x - CATCH / 2,
    y: y - CATCH / 2,
    width: CATCH,
    height: CATCH,
  });
  const own = component.port ? [handle("self", [box.width / 2, box.height / 2])] : [];
  return [
    ...own,
    ...component.icon.ports.map((port) => handle(port.name, portOffset(component, port))),
  ];
}

interface Kept {
  component: SheetComponent;
  lookup: Lookup | undefined;
  shift: LabelShifts | undefined;
  selected: boolean;
  at: Point | undefined;
  node: PartNode;
}

/** The nodes of the parts; one that did not change stays the same object, so that it is not drawn anew. */
export function partNodes(
  components: SheetComponent[],
  lookup: (component: SheetComponent) => Lookup | undefined,
  shifts: Map<string, LabelShifts>,
  selected: Set<string>,
  dragged: Record<string, Point>,
  kept: Map<string, Kept>,
): PartNode[] {
  return components.map((component) => {
    const name = component.name;
    const before = kept.get(name);
    const now = {
      component,
      lookup: lookup(component),
      shift: shifts.get(name),
      selected: selected.has(name),
      at: dragged[name],
    };
    if (
      before &&
      before.component === component &&
      before.lookup === now.lookup &&
      JSON.stringify(before.shift) === JSON.stringify(now.shift) &&
      before.selected === now.selected &&
      before.at === now.at
    )
      return before.node;
    const box = boxOf(component.extent);
    const node: PartNode = {
      id: name,
      type: "part",
      position: now.at ?? { x: box.x, y: box.y },
      width: box.width,
      height: box.height,
      measured: { width: box.width, height: box.height },
      handles: handlesOf(component),
      data: { component, lookup: now.lookup, shift: now.shift },
      selected: now.selected,
      ariaLabel: `${name}: ${component.description}`,
    };
    kept.set(name, { ...now, node });
    return node;
  });
}

export type KeptNodes = Map<string, Kept>;

/** The nodes of notes. */
export function noteNodes(
  notes: Note[],
  selected: Set<string>,
  dragged: Record<string, Point>,
  onDone: () => void,
): NoteNode[] {
  return notes.map((note) => {
    const id = `note ${note.index}`;
    return {
      id,
      type: "note",
      position: dragged[id] ?? { x: note.x * SCALE, y: -note.y * SCALE },
      data: { note, editing: note.index < 0, onDone },
      selected: selected.has(id),
      ariaLabel: `Note: ${note.text}`,
      connectable: false,
    };
  });
}

/** The edges of the wires. */
export function wireEdges(sheet: Sheet, wires: string[]): WireEdge[] {
  const port = (end: string) => end.split(".")[1]?.split("[")[0] ?? "self";
  return sheet.connections
    .filter((c) => c.points.length > 1)
    .map((connection, i) => ({
      id: `${i} ${connection.from} ${connection.to}`,
      type: "wire",
      source: partOf(connection.from),
      target: partOf(connection.to),
      sourceHandle: port(connection.from),
      targetHandle: port(connection.to),
      data: { connection },
      selected: wires.includes(`${connection.from} ${connection.to}`),
      ariaLabel: `Wire of ${connection.from} and ${connection.to}`,
    }));
}

/** The edges while parts are dragged: what hangs on these follows, all others stay the same objects. */
export function followingEdges(
  edges: WireEdge[],
  sheet: Sheet,
  dragged: Record<string, Point>,
): WireEdge[] {
  const ways = new Map<string, number[]>();
  for (const component of sheet.components) {
    const at = dragged[component.name];
    const box = boxOf(component.extent);
    if (at) ways.set(component.name, [(at.x - box.x) / SCALE, -(at.y - box.y) / SCALE]);
  }
  if (ways.size === 0) return edges;
  return edges.map((edge) => {
    const [first, last] = [ways.get(edge.source), ways.get(edge.target)];
    if (!first && !last) return edge;
    const connection = edge.data!.connection;
    return {
      ...edge,
      data: {
        connection: {
          ...connection,
          points: followed(connection.points, first ?? STILL, last ?? STILL),
        },
      },
    };
  });
}

const STILL = [0, 0];
