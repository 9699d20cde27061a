import { useId } from "react";

import type { Schemas, Sheet } from "../api/client";
import { arc, bodyOf } from "./arcs";
import { boxOf, type Box } from "./geometry";

export type Arrow = Schemas["StateTransition"];

export type Dragged = Record<string, { x: number; y: number }>;

/** The arrows of state machines between their states, with the condition of each, as part of a drawing. */
export function Arrows({
  sheet,
  dragged = {},
  onPick,
}: {
  sheet: Sheet;
  dragged?: Dragged;
  onPick?: (arrow: Arrow) => void;
}) {
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
        <marker
          id={id}
          viewBox="0 0 10 10"
          refX={9}
          refY={5}
          markerWidth={9}
          markerHeight={9}
          orient="auto-start-reverse"
        >
          <path
            d="M1 1 L9 5 L1 9"
            fill="none"
            stroke="var(--color-base-content)"
            strokeWidth={1.5}
          />
        </marker>
      </defs>
      {sheet.transitions.map((arrow, i) => (
        <Drawn
          key={`${i} ${arrow.from} ${arrow.to}`}
          arrow={arrow}
          boxes={boxes}
          end={`url(#${id})`}
          onPick={onPick}
        />
      ))}
    </>
  );
}

function Drawn({
  arrow,
  boxes,
  end,
  onPick,
}: {
  arrow: Arrow;
  boxes: Map<string, Box>;
  end: string;
  onPick: ((arrow: Arrow) => void) | undefined;
}) {
  const [from, to] = [boxes.get(arrow.from), boxes.get(arrow.to)];
  if (!to) return null;
  const line = {
    fill: "none",
    stroke: "var(--color-base-content)",
    strokeWidth: 1.5,
    markerEnd: end,
  };
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
      {onPick && <Words arrow={arrow} at={way.label} onPick={onPick} />}
    </g>
  );
}

/** The condition beside its arrow; a click asks for another one. */
function Words({
  arrow,
  at,
  onPick,
}: {
  arrow: Arrow;
  at: { x: number; y: number; anchor: "start" | "middle" | "end" };
  onPick: (arrow: Arrow) => void;
}) {
  const said = `${arrow.from} to ${arrow.to} when ${arrow.condition}${arrow.priority === "1" ? "" : `, priority ${arrow.priority}`}`;
  const pick = arrow.number < 0 ? undefined : () => onPick(arrow);
  return (
    <text
      x={at.x}
      y={at.y}
      fontSize={11}
      textAnchor={at.anchor}
      dominantBaseline="central"
      fill="var(--color-base-content)"
      className={`transition-words nodrag nopan pointer-events-auto ${pick ? "cursor-pointer hover:underline" : ""}`}
      role={pick && "button"}
      tabIndex={pick && 0}
      aria-label={pick && `Arrow: ${said}`}
      onClick={pick}
      onKeyDown={(event) => {
        if (event.key !== "Enter") return;
        event.preventDefault();
        event.stopPropagation();
        pick?.();
      }}
      data-testid={`arrow-${arrow.from}-${arrow.to}`}
    >
      <title>{`${said}${pick ? ". Click to change." : ""}`}</title>
      {shortened(arrow.condition)}
    </text>
  );
}

function shortened(words: string): string {
  return words.length > 28 ? `${words.slice(0, 27)}…` : words;
}
