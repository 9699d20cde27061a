import type { FinalConnectionState } from "@xyflow/react";
import { useState, type RefObject } from "react";

import type { Sheet } from "../api/client";
import { boxOf, portOffset, SCALE } from "../drawing/geometry";
import type { Edit } from "../state/use-edits";
import type { Asked } from "./arrow-form";
import { branchPoints, nearestWire, NEAR } from "./bends";
import { fedBy, misfit, portName, portOf, portOfHandle, type End } from "./building";
import type { Question } from "./element-question";
import type { Fed } from "./fed-question";
import type { Point } from "./flow-elements";
import { lightsOut } from "./lights";
import { partOf } from "./selection";

interface Needs {
  sheet: Sheet;
  onEdit: (edit: Edit) => void;
  onFault: (sentence: string | null) => void;
  /** Where a place in the window lies on the drawing. */
  spot: (client: Point) => Point;
  host: RefObject<HTMLDivElement | null>;
}

/** Drawing wires and arrows: what a new one means, and what has to be asked before it is made. */
export function useWiring({ sheet, onEdit, onFault, spot, host }: Needs) {
  const [arrow, setArrow] = useState<Asked | null>(null);
  const [question, setQuestion] = useState<Question | null>(null);
  const [fed, setFed] = useState<Fed | null>(null);
  /** Make a wire, asking first where an input has another one. */
  const wire = (from: string, to: string, points: number[][] | null) => {
    const edit = { do: "connect", from, to, points } as const;
    const feed = fedBy(sheet, from, to);
    if (feed) setFed({ ...feed, replace: () => onEdit({ ...edit, replace: true }) });
    else onEdit(edit);
  };
  /** Connect two ports, asking for the element where one of them is an array. */
  const connect = (from: End, to: End, points: number[][] | null = null) => {
    if (portOf(sheet, from.part, from.port)?.domain === "state") {
      setArrow({
        from: from.part,
        to: to.part,
        condition: "",
        priority: freePriority(sheet, from.part),
        immediate: true,
        reset: true,
        number: null,
      });
      return;
    }
    const ends = [from, to].map((end) => ({
      end,
      array: portOf(sheet, end.part, end.port)?.array ?? "",
      name: portName(end.part, end.port),
    }));
    const asked = ends.find((e) => e.array);
    if (!asked || ends.every((e) => e.array)) {
      wire(ends[0]!.name, ends[1]!.name, points);
      return;
    }
    const used = sheet.connections
      .flatMap((c) => [c.from, c.to])
      .filter((name) => name.startsWith(`${asked.name}[`))
      .map((name) => Number(name.slice(asked.name.length + 1, -1)));
    setQuestion({
      port: asked.name,
      size: asked.array,
      used,
      answer: (element) => {
        const [a, b] = ends.map((e) => (e === asked ? `${e.name}[${element}]` : e.name));
        wire(a!, b!, points);
      },
    });
  };
  /** A wire that was let go over another wire branches off it. */
  const branch = (from: End, at: Point) => {
    const near = nearestWire(sheet, at.x, at.y, NEAR);
    const part = sheet.components.find((c) => c.name === from.part);
    if (!near || !part) return;
    const port = part.icon.ports.find((p) => p.name === from.port);
    const box = boxOf(part.extent);
    const [px, py] = port ? portOffset(part, port) : [box.width / 2, box.height / 2];
    const start = [(box.x + px) / SCALE, -(box.y + py) / SCALE];
    for (const side of ["from", "to"] as const) {
      const name = near.wire[side];
      const end = { part: partOf(name), port: name.split(".")[1]?.split("[")[0] ?? "" };
      if (name.includes("[") || misfit(sheet, from, end)) continue;
      const points = branchPoints(start, near.wire, near.at, near.stretch, side);
      wire(portName(from.part, from.port), name, points);
      return;
    }
    onFault(`'${portName(from.part, from.port)}' does not go with either end of this wire.`);
  };
  const onConnectEnd = (event: MouseEvent | TouchEvent, state: FinalConnectionState) => {
    lightsOut(host.current);
    if (!state.fromHandle || state.isValid) return;
    const from = { part: state.fromHandle.nodeId, port: portOfHandle(state.fromHandle.id) };
    if (state.toHandle) {
      const to = { part: state.toHandle.nodeId, port: portOfHandle(state.toHandle.id) };
      const why = misfit(sheet, from, to);
      if (why && (from.part !== to.part || from.port !== to.port))
        onFault(
          `${portName(from.part, from.port)} and ${portName(to.part, to.port)} cannot be connected: ${why}.`,
        );
      return;
    }
    const at = "changedTouches" in event ? event.changedTouches[0]! : event;
    branch(from, spot({ x: at.clientX, y: at.clientY }));
  };
  return { connect, onConnectEnd, arrow, setArrow, question, setQuestion, fed, setFed };
}

/** The first priority that no arrow from a state has. */
function freePriority(sheet: Sheet, state: string): string {
  const used = new Set(sheet.transitions.filter((t) => t.from === state).map((t) => t.priority));
  let free = 1;
  while (used.has(String(free))) free += 1;
  return String(free);
}
