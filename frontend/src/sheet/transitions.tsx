import { ViewportPortal } from "@xyflow/react";
import { useId } from "react";

import type { Schemas, Sheet } from "../api/client";
import { arc, bodyOf } from "./arcs";
import { boxOf, type Box } from "./geometry";

type Arrow = Schemas["StateTransition"];

type Dragged = Record<string, { x: number; y: number }>;

/** The arrows of state machines between their states on the sheet, with the condition of each. */
export function Transitions({ sheet, dragged }: { sheet: Sheet; dragged: Dragged }) {
  if (sheet.transitions.length === 0) return null;
  return (
    <ViewportPortal>
      <svg className="pointer-events-none absolute top-0 left-0 overflow-visible" width={1} height={1} data-testid="transitions">
        <Arrows sheet={sheet} dragged={dragged} words />
      </svg>
    </ViewportPortal>
  );
}

/** The arrows alone, as part of a drawing. */
export function Arrows({ sheet, dragged = {}, words = false }: { sheet: Sheet; dragged?: Dragged; words?: boolean }) {
  const id = useId();
  if (sheet.transitions.length === 0) return null;
  const boxes = new Map(
    sheet.components.map((c) => {
      const [body, box, at] = [bodyOf(c), boxOf(c.extent), dragged[c.name]];
      return [c.name, at ? { ...body, x: body.x + at.x - box.x, y: body.y + at.y - box.y } : body];
    }),
  );
  return (
    <>
      <defs>
        <marker id={id} viewBox="0 0 10 10" refX={9} refY={5} markerWidth={9} markerHeight={9} orient="auto-start-reverse">
          <path d="M1 1 L9 5 L1 9" fill="none" stroke="var(--color-base-content)" strokeWidth={1.5} />
        </marker>
      </defs>
      {sheet.transitions.map((arrow, i) => (
        <Drawn key={`${i} ${arrow.from} ${arrow.to}`} arrow={arrow} boxes={boxes} end={`url(#${id})`} words={words} />
      ))}
    </>
  );
}

function Drawn({ arrow, boxes, end, words }: { arrow: Arrow; boxes: Map<string, Box>; end: string; words: boolean }) {
  const [from, to] = [boxes.get(arrow.from), boxes.get(arrow.to)];
  if (!to) return null;
  const line = { fill: "none", stroke: "var(--color-base-content)", strokeWidth: 1.5, markerEnd: end };
  if (!from) {
    return (
      <g>
        <circle cx={to.x - 26} cy={to.y + to.height / 2} r={5} fill="var(--color-base-content)" />
        <path d={`M ${to.x - 21} ${to.y + to.height / 2} H ${to.x}`} {...line} />
      </g>
    );
  }
  const way = arc(from, to);
  return (
    <g data-transition={`${arrow.from} ${arrow.to}`}>
      <path d={way.path} {...line} />
      {words && <text x={way.label.x} y={way.label.y} fontSize={11} textAnchor={way.label.anchor} dominantBaseline="central" fill="var(--color-base-content)" className="transition-words pointer-events-auto">
        <title>{`${arrow.from} to ${arrow.to} when ${arrow.condition}${arrow.priority === "1" ? "" : `, priority ${arrow.priority}`}`}</title>
        {shortened(arrow.condition)}
      </text>}
    </g>
  );
}

function shortened(words: string): string {
  return words.length > 28 ? `${words.slice(0, 27)}…` : words;
}
