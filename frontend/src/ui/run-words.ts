import type { RunView } from "../api/client";

const STATES: Record<string, string> = {
  queued: "waiting",
  running: "running",
  stopping: "stopping",
  done: "done",
  failed: "failed",
  stopped: "stopped",
};

export function stateWords(run: RunView): string {
  const words = STATES[run.state] ?? run.state;
  return run.state === "running" ? `${words} ${Math.round(run.progress * 100)}\u2009%` : words;
}
