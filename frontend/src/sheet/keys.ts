import { useEffect, useRef } from "react";

/** Whether a key belongs to a field in which somebody types, or to a dialog. */
export function inField(event: KeyboardEvent): boolean {
  const target = event.target as HTMLElement | null;
  return !!target?.closest?.("input, textarea, select, .cm-editor, [role=dialog], [data-own-keys]");
}

type Handlers = Record<string, (event: KeyboardEvent) => void>;

/** Calls the handler of a key, named like "Ctrl+a", "Shift+ArrowLeft" or "r", while nobody types in a field. */
export function useKeys(handlers: Handlers): void {
  const now = useRef(handlers);
  useEffect(() => {
    now.current = handlers;
  });
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (inField(event)) return;
      const command = event.ctrlKey || event.metaKey ? "Ctrl+" : "";
      const shift = event.shiftKey && (event.key.length > 1 || command) ? "Shift+" : "";
      const key = event.key.length === 1 ? event.key.toLowerCase() : event.key;
      const handler = now.current[command + shift + key];
      if (!handler) return;
      event.preventDefault();
      handler(event);
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, []);
}
