import { useEffect, useRef } from "react";

/** Whether an event belongs to a field in which somebody types, or to something with keys of its own. */
export function inField(event: Event): boolean {
  return within(event, "input, textarea, select, .cm-editor, [role=dialog], [data-own-keys]");
}

/** Whether a key takes back or repeats an edit in a field in which nothing was typed since the last one. */
function stepsInUntouchedField(event: KeyboardEvent): boolean {
  const steps = (event.ctrlKey || event.metaKey) && ["z", "y"].includes(event.key.toLowerCase());
  return steps && (event.target as HTMLElement | null)?.dataset?.untouched !== undefined;
}

function within(event: Event, places: string): boolean {
  const target = event.target as HTMLElement | null;
  return !!target?.closest?.(places);
}

type Handlers = Record<string, (event: KeyboardEvent) => void>;
/** Where keys are heard: not in fields and dialogs, not where text is typed, or wherever the focus is. */
type Reach = "outside fields" | "outside text" | "everywhere";

/** Calls the handler of a key, named like "Ctrl+a", "Shift+ArrowLeft" or "r". */
export function useKeys(handlers: Handlers, reach: Reach = "outside fields"): void {
  const now = useRef(handlers);
  useEffect(() => {
    now.current = handlers;
  });
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const free = reach === "everywhere" || stepsInUntouchedField(event);
      if (!free && reach === "outside fields" && inField(event)) return;
      if (!free && within(event, "input, textarea, .cm-editor")) return;
      const command =
        (event.ctrlKey || event.metaKey ? "Ctrl+" : "") + (event.altKey ? "Alt+" : "");
      const shift = event.shiftKey && (event.key.length > 1 || command) ? "Shift+" : "";
      const key = event.key.length === 1 ? event.key.toLowerCase() : event.key;
      const handler = now.current[command + shift + key];
      if (!handler) return;
      event.preventDefault();
      handler(event);
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, [reach]);
}
