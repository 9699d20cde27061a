import { useNodesInitialized, useReactFlow, useStore, useStoreApi } from "@xyflow/react";
import { Maximize, Minus, Plus } from "lucide-react";
import { useCallback, useEffect, type RefObject } from "react";

import type { Sheet } from "../api/client";
import { SCALE } from "../drawing/geometry";
import { useKeys } from "../ui/keys";
import { Shapes, type Shape } from "../drawing/shapes";
import { wholeView } from "./whole-view";

/** The grid and the drawing of the sheet, moving with pan and zoom; its texts are notes. */
export function Ground({ sheet }: { sheet: Sheet }) {
  const [x, y, zoom] = useStore((state) => state.transform);
  const step = 10 * SCALE * zoom;
  const shapes = (sheet.graphics as unknown as Shape[]).filter((shape) => shape.is !== "Text");
  return (
    <>
      <div
        className="pointer-events-none absolute inset-0 -z-10"
        style={
          step >= 9
            ? {
                backgroundImage:
                  "linear-gradient(var(--grid) 1px, transparent 1px), linear-gradient(90deg, var(--grid) 1px, transparent 1px)",
                backgroundSize: `${step}px ${step}px`,
                backgroundPosition: `${x}px ${y}px`,
              }
            : undefined
        }
      />
      {shapes.length > 0 && (
        <svg className="pointer-events-none absolute inset-0 h-full w-full" aria-hidden="true">
          <g transform={`translate(${x} ${y}) scale(${zoom * SCALE})`}>
            <Shapes
              shapes={shapes}
              words={{ name: sheet.name, className: sheet.qualified, labels: {} }}
            />
          </g>
        </svg>
      )}
    </>
  );
}

/** Zoom buttons; the whole sheet stays in view until somebody moves it. */
export function Tools({ extent, touched }: { extent: number[]; touched: RefObject<boolean> }) {
  const flow = useReactFlow();
  const store = useStoreApi();
  const key = extent.join(" ");
  const fit = useCallback(
    (duration: number) => {
      const { width, height } = store.getState();
      void flow.setViewport(wholeView(key.split(" ").map(Number), { width, height }), { duration });
    },
    [flow, key, store],
  );
  const ready = useNodesInitialized();
  const size = useStore((state) => `${state.width} ${state.height}`);
  useEffect(() => {
    if (!touched.current && !size.startsWith("0 ")) fit(0);
    // eslint-disable-next-line react-hooks/exhaustive-deps -- an edit that makes the sheet larger must not move it
  }, [ready, size, touched]);
  useKeys({
    f: () => fit(120),
    "+": () => void flow.zoomIn({ duration: 120 }),
    "-": () => void flow.zoomOut({ duration: 120 }),
  });
  const button = "btn btn-sm btn-square join-item border-base-300 bg-base-100";
  return (
    <div className="join absolute right-2 bottom-2 z-10">
      <button
        type="button"
        className={button}
        onClick={() => void flow.zoomOut({ duration: 120 })}
        aria-label="Zoom out (−)"
        title="Zoom out (−)"
      >
        <Minus size={14} />
      </button>
      <button
        type="button"
        className={button}
        onClick={() => void flow.zoomIn({ duration: 120 })}
        aria-label="Zoom in (+)"
        title="Zoom in (+)"
      >
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
