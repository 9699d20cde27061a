import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Pause, Play, Square, StepForward } from "lucide-react";

import { ask, asRefusal, client, type SeenRun } from "../api/client";
import { FINISHED, keys } from "../api/queries";
import { formatTime } from "../ui/format";

interface Props {
  run: SeenRun | undefined;
  /** Whether the model is a rig: only these can stand still. */
  coupled: boolean;
  onFault: (sentence: string | null) => void;
}

/** How far the run is, and what can be done with one that is under way. */
export function RunButtons({ run, coupled, onFault }: Props) {
  const cache = useQueryClient();
  const going = run !== undefined && !FINISHED.includes(run.state);
  const id = run?.id ?? 0;
  const { data: paused } = useQuery({
    queryKey: keys.paused(id),
    queryFn: () => false,
    initialData: false,
    staleTime: Infinity,
  });
  const say = useMutation({
    mutationFn: (wish: "pause" | "go on" | "one step") =>
      ask(
        client.POST("/api/runs/{run}/command", {
          params: { path: { run: id } },
          body: { do: wish },
        }),
      ),
    onSuccess: (_, wish) => cache.setQueryData(keys.paused(id), wish !== "go on"),
    onError: (fault) => onFault(asRefusal(fault).sentence),
  });
  const stop = useMutation({
    mutationFn: () => ask(client.POST("/api/runs/{run}/stop", { params: { path: { run: id } } })),
    onError: (fault) => onFault(asRefusal(fault).sentence),
  });
  const button = "btn btn-sm";
  return (
    <div className="flex items-center gap-2">
      <span className="mono w-40" data-testid="board-time" role="status">
        {run ? (
          <>
            t = {formatTime(run.time_reached ?? 0)}{" "}
            <span className="muted">{going && paused ? "paused" : run.state}</span>
          </>
        ) : (
          <span className="muted">not run yet</span>
        )}
      </span>
      {coupled && (
        <>
          {paused && going ? (
            <button
              type="button"
              className={button}
              onClick={() => say.mutate("go on")}
              data-testid="board-go-on"
            >
              <Play size={13} /> Go on
            </button>
          ) : (
            <button
              type="button"
              className={button}
              disabled={!going}
              onClick={() => say.mutate("pause")}
              data-testid="board-pause"
            >
              <Pause size={13} /> Pause
            </button>
          )}
          <button
            type="button"
            className={button}
            disabled={!going}
            onClick={() => say.mutate("one step")}
            title="Compute one communication step and stand still"
            data-testid="board-step"
          >
            <StepForward size={13} /> One step
          </button>
        </>
      )}
      <button
        type="button"
        className={button}
        disabled={!going}
        onClick={() => stop.mutate()}
        data-testid="board-stop"
      >
        <Square size={13} /> Stop
      </button>
    </div>
  );
}
