import { useMutation } from "@tanstack/react-query";
import { useState } from "react";

import { ask, asRefusal, client, type SeenRun } from "../api/client";
import { FINISHED } from "../api/queries";
import { formatNumber } from "../ui/format";
import type { Tile } from "./grid";

/** A value that is turned while the rig runs. */
export function Knob({ tile, run }: { tile: Tile; run: SeenRun | undefined }) {
  const name = tile.names[0] ?? "";
  const kept = run?.parameters[name];
  const begin = typeof kept === "number" ? kept : 0;
  const [turned, setTurned] = useState<{ run: number; value: number } | null>(null);
  const value = turned && turned.run === run?.id ? turned.value : begin;
  const going = run !== undefined && !FINISHED.includes(run.state);
  const size = Math.max(Math.abs(begin), 1);
  const [low, high] = [
    tile.low ?? Math.min(0, 2 * begin),
    tile.high ?? (begin > 0 ? 2 * begin : size),
  ];
  const turn = useMutation({
    mutationFn: (wanted: number) =>
      ask(
        client.POST("/api/runs/{run}/command", {
          params: { path: { run: run!.id } },
          body: { do: "turn", name, value: wanted },
        }),
      ),
  });
  const set = (wanted: number) => {
    if (!going || !Number.isFinite(wanted)) return;
    setTurned({ run: run.id, value: wanted });
    turn.mutate(wanted);
  };
  return (
    <div className="flex h-full flex-col justify-center gap-1 px-2">
      <label className="flex items-center gap-2">
        <input
          type="range"
          className="range range-xs flex-1"
          min={low}
          max={high}
          step={(high - low) / 200 || 1}
          value={value}
          disabled={!going}
          aria-label={`${name}, turned while it runs`}
          onChange={(event) => set(Number(event.target.value))}
          data-testid={`knob-${name}`}
        />
        <span className="mono w-16 text-right">{formatNumber(value, 4)}</span>
      </label>
      {turn.error ? (
        <span className="text-[12px] text-error">✕ {asRefusal(turn.error).sentence}</span>
      ) : (
        !going && <span className="muted text-[11.5px]">Turns while the rig runs.</span>
      )}
    </div>
  );
}
