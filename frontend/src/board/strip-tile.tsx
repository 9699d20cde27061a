import { useLayoutEffect, useRef, useState } from "react";

import type { SeenRun } from "../api/client";
import { scaleOf } from "../charts/scale";
import { runColour } from "../state/shown-runs";
import { formatNumber, formatTime, formatUnit } from "../ui/format";
import type { Tile } from "./grid";
import { asShown, useBoardCurves } from "./use-live-values";

const LEFT = 46;
const BOTTOM = 16;

/** Curves of a run as it grows, with the ends of both axes. */
export function StripTile({ tile, run }: { tile: Tile; run: SeenRun | undefined }) {
  const host = useRef<HTMLDivElement>(null);
  const [size, setSize] = useState({ width: 0, height: 0 });
  useLayoutEffect(() => {
    const watcher = new ResizeObserver(([entry]) =>
      setSize({
        width: Math.round(entry!.contentRect.width),
        height: Math.round(entry!.contentRect.height),
      }),
    );
    watcher.observe(host.current!);
    return () => watcher.disconnect();
  }, []);
  const variables = new Map((run?.variables ?? []).map((v) => [v.name, v]));
  const names = tile.names.filter((name) => variables.has(name));
  const answer = useBoardCurves(run, names, Math.max(100, Math.round(size.width / 50) * 50));
  const curves = (answer.data?.curves ?? []).map((c) => ({
    name: c.name,
    time: c.time,
    values: c.values.map((v) => asShown(variables.get(c.name)!, v ?? NaN)),
  }));
  const unit = variables.get(names[0] ?? "")?.shown_unit ?? "";
  const stop = Math.max(1e-9, ...curves.flatMap((c) => c.time.at(-1) ?? 0));
  const start = Math.min(0, ...curves.map((c) => c.time[0] ?? 0));
  const across = scaleOf([start, stop], LEFT, size.width - 4);
  const given = [tile.low, tile.high].filter((v) => v !== null);
  const up = scaleOf(
    given.length === 2 ? given : [...given, ...curves.flatMap((c) => c.values)],
    size.height - BOTTOM,
    6,
  );
  return (
    <div className="flex h-full flex-col">
      <p className="flex flex-wrap gap-x-3 px-1 text-[11.5px]">
        {names.map((name, k) => (
          <span key={name} className="flex items-center gap-1">
            <svg width="16" height="6" aria-hidden="true">
              <line x1="0" x2="16" y1="3" y2="3" stroke={runColour(k)} strokeWidth="2" />
            </svg>
            {name} <span className="muted">{formatUnit(variables.get(name)!.shown_unit)}</span>
          </span>
        ))}
      </p>
      <div ref={host} className="min-h-0 flex-1">
        {size.width > 0 && (
          <svg width={size.width} height={size.height} role="img" aria-label={names.join(", ")}>
            {[up.low, up.high].map((value, k) => (
              <text
                key={k}
                x={LEFT - 4}
                y={k ? 13 : size.height - BOTTOM}
                textAnchor="end"
                fontSize="11"
                fill="var(--color-secondary)"
              >
                {formatNumber(value, 3)}
              </text>
            ))}
            <text
              x={LEFT - 4}
              y={size.height / 2}
              textAnchor="end"
              fontSize="11"
              fill="var(--color-secondary)"
            >
              {formatUnit(unit)}
            </text>
            <path
              d={`M${LEFT},6 V${size.height - BOTTOM} H${size.width - 4}`}
              fill="none"
              stroke="var(--color-base-300)"
            />
            <text x={LEFT} y={size.height - 3} fontSize="11" fill="var(--color-secondary)">
              {formatTime(start)}
            </text>
            <text
              x={size.width - 4}
              y={size.height - 3}
              textAnchor="end"
              fontSize="11"
              fill="var(--color-secondary)"
            >
              {formatTime(stop)}
            </text>
            {curves.map((c) => (
              <polyline
                key={c.name}
                fill="none"
                stroke={runColour(names.indexOf(c.name))}
                strokeWidth="1.5"
                points={c.time
                  .map((t, i) => [across.at(t), up.at(c.values[i]!)] as const)
                  .filter(([, y]) => Number.isFinite(y))
                  .map(([x, y]) => `${x.toFixed(1)},${y.toFixed(1)}`)
                  .join(" ")}
              />
            ))}
          </svg>
        )}
      </div>
    </div>
  );
}
