import { useState, type PointerEvent } from "react";

import { type ModelView, type Schemas } from "../api/client";
import { domainClass } from "../drawing/geometry";
import { Shapes, type Shape } from "../drawing/shapes";
import type { Edits } from "../state/use-edits";

type Drawn = Schemas["SymbolShape"];
type Tool = "select" | Drawn["is"];

/** Size of texts: about as on the sheet. */
const ZOOM = 1.4;
const REACH = 130;

const READY: [string, Drawn[]][] = [
  ["plain tile", [rectangle(true), text("%name", -90, 30, 90, -30)]],
  ["tile, name above", [rectangle(true), text("%name", -150, 150, 150, 110)]],
  [
    "round",
    [
      {
        is: "Ellipse",
        points: [
          [-100, 100],
          [100, -100],
        ],
        text: "",
        filled: true,
      },
      text("%name", -90, 30, 90, -30),
    ],
  ],
  [
    "vessel",
    [
      {
        is: "Line",
        points: [
          [-90, 100],
          [-90, -100],
          [90, -100],
          [90, 100],
        ],
        text: "",
        filled: false,
      },
      text("%name", -150, 150, 150, 110),
    ],
  ],
  [
    "wedge",
    [
      {
        is: "Polygon",
        points: [
          [-100, 100],
          [100, 0],
          [-100, -100],
          [-100, 100],
        ],
        text: "",
        filled: true,
      },
      text("%name", -150, 150, 150, 110),
    ],
  ],
];

function rectangle(filled: boolean): Drawn {
  return {
    is: "Rectangle",
    points: [
      [-100, 100],
      [100, -100],
    ],
    text: "",
    filled,
  };
}

function text(words: string, x1: number, y1: number, x2: number, y2: number): Drawn {
  return {
    is: "Text",
    points: [
      [x1, y1],
      [x2, y2],
    ],
    text: words,
    filled: false,
  };
}

/** The shapes of the model's own symbol as they can be edited here. */
function shapesOf(icon: Schemas["Icon"]): Drawn[] {
  return (icon.graphics as unknown as Shape[]).flatMap((shape) => {
    const points = shape.is === "Line" || shape.is === "Polygon" ? shape.points : shape.extent;
    if (!points || points.length < 2) return [];
    return [
      {
        is: shape.is as Drawn["is"],
        points,
        text: shape.textString ?? "",
        filled: shape.fillPattern !== undefined && shape.fillPattern !== "None",
      },
    ];
  });
}

/** The symbol of a model as a part of others: chosen, drawn, and its ports put where they belong. */
export default function SymbolView({ view, edits }: { view: ModelView; edits: Edits }) {
  const icon = view.symbol;
  const shapes = shapesOf(icon);
  const [tool, setTool] = useState<Tool>("select");
  const [chosen, setChosen] = useState<number | null>(null);
  const [drawing, setDrawing] = useState<number[][] | null>(null);
  const [port, setPort] = useState<{ name: string; x: number; y: number } | null>(null);
  const [label, setLabel] = useState("%name");
  const set = (next: Drawn[]) => edits.mutate({ do: "symbol", shapes: next });
  const at = (event: PointerEvent<SVGElement>): number[] => {
    const box =
      event.currentTarget.ownerSVGElement?.getBoundingClientRect() ??
      event.currentTarget.getBoundingClientRect();
    const zoom = Math.min(box.width, box.height) / (2 * REACH);
    const round = (v: number) => Math.round(v / 5) * 5;
    return [
      round((event.clientX - box.x - box.width / 2) / zoom),
      round(-(event.clientY - box.y - box.height / 2) / zoom),
    ];
  };
  const finish = () => {
    if (drawing && tool !== "select" && drawing.length >= 2) {
      const [first, last] = [drawing[0]!, drawing.at(-1)!];
      const points =
        tool === "Line"
          ? [first, last]
          : tool === "Polygon"
            ? [first, [last[0]!, first[1]!], last, first]
            : [first, last];
      if (first[0] !== last[0] || first[1] !== last[1])
        set([
          ...shapes,
          {
            is: tool,
            points,
            text: tool === "Text" ? label : "",
            filled: tool !== "Line" && tool !== "Text" && false,
          },
        ]);
    }
    setDrawing(null);
    if (port) {
      // On the border, if it was let go near it.
      const near = (v: number) => (Math.abs(Math.abs(v) - 100) <= 12 ? Math.sign(v) * 100 : v);
      edits.mutate({ do: "place port", name: port.name, x: near(port.x), y: near(port.y) });
      setPort(null);
    }
  };
  const change = (next: Partial<Drawn>) =>
    chosen !== null && set(shapes.map((s, i) => (i === chosen ? { ...s, ...next } : s)));
  const tools: [Tool, string][] = [
    ["select", "Select"],
    ["Rectangle", "Rectangle"],
    ["Ellipse", "Ellipse"],
    ["Line", "Line"],
    ["Polygon", "Triangle"],
    ["Text", "Text"],
  ];
  const words = { name: view.sheet.name, className: view.model, labels: {} };
  return (
    <div className="flex h-full flex-col bg-base-100" data-testid="symbol-view">
      <div className="rule-b flex flex-wrap items-center gap-1 px-3 py-1.5">
        {tools.map(([name, word]) => (
          <button
            key={name}
            type="button"
            className={`btn btn-sm ${tool === name ? "btn-active" : ""}`}
            aria-pressed={tool === name}
            onClick={() => setTool(name)}
            data-testid={`symbol-${name}`}
          >
            {word}
          </button>
        ))}
        {tool === "Text" && (
          <input
            className="input input-sm mono w-32"
            value={label}
            aria-label="Text to draw"
            onChange={(e) => setLabel(e.target.value)}
            title="%name stands for the part's name, %k for the value of k"
          />
        )}
        <span className="ml-auto" />
        <label className="flex items-center gap-1.5">
          <span className="muted">or take</span>
          <select
            className="select select-sm w-40"
            value=""
            onChange={(e) => set(READY[Number(e.target.value)]![1])}
            aria-label="A ready-made symbol"
            data-testid="symbol-ready"
          >
            <option value="" disabled>
              a ready-made one
            </option>
            {READY.map(([name], i) => (
              <option key={name} value={i}>
                {name}
              </option>
            ))}
          </select>
        </label>
      </div>
      <div className="flex min-h-0 flex-1 gap-6 overflow-auto p-3">
        <svg
          viewBox={`${-REACH} ${-REACH} ${2 * REACH} ${2 * REACH}`}
          className="aspect-square h-full max-h-[560px] min-h-60 shrink-0 touch-none border border-base-300 bg-base-200"
          role="application"
          aria-label="Symbol; drag to draw, drag a port to move it"
          data-testid="symbol-canvas"
          onPointerDown={(event) => {
            if (tool === "select") setChosen(null);
            else setDrawing([at(event)]);
          }}
          onPointerMove={(event) => {
            if (drawing) setDrawing([drawing[0]!, at(event)]);
            if (port) {
              const [x, y] = at(event);
              setPort({ ...port, x: x!, y: y! });
            }
          }}
          onPointerUp={finish}
          onPointerLeave={() => {
            setDrawing(null);
            setPort(null);
          }}
        >
          <rect
            x={-100}
            y={-100}
            width={200}
            height={200}
            fill="none"
            stroke="var(--color-base-300)"
            strokeDasharray="3 3"
          />
          <Shapes shapes={icon.graphics as unknown as Shape[]} words={words} pixels={ZOOM} />
          {shapes.map((shape, i) => {
            const xs = shape.points.map((p) => p[0]!);
            const ys = shape.points.map((p) => -p[1]!);
            return (
              <rect
                key={i}
                x={Math.min(...xs) - 2}
                y={Math.min(...ys) - 2}
                width={Math.max(...xs) - Math.min(...xs) + 4}
                height={Math.max(...ys) - Math.min(...ys) + 4}
                fill="transparent"
                stroke={chosen === i ? "var(--color-primary)" : "none"}
                strokeWidth={1}
                pointerEvents={tool === "select" ? "all" : "none"}
                onPointerDown={(event) => {
                  event.stopPropagation();
                  setChosen(i);
                }}
              />
            );
          })}
          {drawing && drawing.length > 1 && (
            <line
              x1={drawing[0]![0]}
              y1={-drawing[0]![1]!}
              x2={drawing[1]![0]}
              y2={-drawing[1]![1]!}
              stroke="var(--color-primary)"
              strokeWidth={1}
            />
          )}
          {icon.ports.map((p) => {
            const moving = port?.name === p.name ? port : null;
            const [x1 = 0, y1 = 0, x2 = 0, y2 = 0] = p.extent;
            const [x, y] = moving ? [moving.x, -moving.y] : [(x1 + x2) / 2, -(y1 + y2) / 2];
            return (
              <g key={p.name} className={domainClass(p.domain)}>
                <circle
                  cx={x}
                  cy={y}
                  r={6}
                  fill={p.direction ? "var(--color-base-200)" : "var(--domain)"}
                  stroke="var(--domain)"
                  strokeWidth={1.5}
                  style={{ cursor: "grab" }}
                  onPointerDown={(event) => {
                    event.stopPropagation();
                    setPort({ name: p.name, x, y: -y });
                  }}
                  data-testid={`symbol-port-${p.name}`}
                >
                  <title>{`${p.name}: drag it to another place`}</title>
                </circle>
                <text
                  x={x + (x > 0 ? -10 : 10)}
                  y={y}
                  fontSize={9}
                  textAnchor={x > 0 ? "end" : "start"}
                  dominantBaseline="central"
                  fill="var(--color-secondary)"
                  pointerEvents="none"
                >
                  {p.name}
                </text>
              </g>
            );
          })}
        </svg>
        <div className="min-w-44">
          {chosen !== null && shapes[chosen] ? (
            <div className="flex flex-col gap-2" data-testid="symbol-shape">
              <p className="font-medium">{shapes[chosen].is}</p>
              {shapes[chosen].is === "Text" && (
                <input
                  className="input input-sm mono"
                  key={chosen}
                  defaultValue={shapes[chosen].text}
                  aria-label="Text of the shape"
                  onBlur={(e) =>
                    e.target.value !== shapes[chosen]!.text && change({ text: e.target.value })
                  }
                />
              )}
              {(shapes[chosen].is === "Rectangle" ||
                shapes[chosen].is === "Ellipse" ||
                shapes[chosen].is === "Polygon") && (
                <label className="flex gap-2">
                  <input
                    type="checkbox"
                    className="checkbox checkbox-sm"
                    checked={shapes[chosen].filled ?? false}
                    onChange={(e) => change({ filled: e.target.checked })}
                  />{" "}
                  filled
                </label>
              )}
              <button
                type="button"
                className="btn btn-sm"
                onClick={() => {
                  set(shapes.filter((_, i) => i !== chosen));
                  setChosen(null);
                }}
              >
                Delete this shape
              </button>
            </div>
          ) : (
            <p className="muted max-w-60">
              This is how {view.sheet.name} looks as a part of other models. Choose a tool and drag,
              select a shape to change it, drag the ports along the border.
            </p>
          )}
        </div>
      </div>
    </div>
  );
}
