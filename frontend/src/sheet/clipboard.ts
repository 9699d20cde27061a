import { useEffect, useRef } from "react";

import { ask, client } from "../api/client";
import { inField } from "../ui/keys";

const KEPT = "movrel.clipboard";

/** Put the text of parts on the clipboard; another window finds it even where the browser keeps pages from it. */
export async function copyParts(project: number, model: string, parts: string[]): Promise<void> {
  const path = { project, model };
  const { text } = await ask(
    client.POST("/api/projects/{project}/models/{model}/clipboard", {
      params: { path },
      body: { parts },
    }),
  );
  localStorage.setItem(KEPT, text);
  await navigator.clipboard?.writeText(text).catch(() => undefined);
}

/** Calls `onPaste` with the text that somebody pastes outside of fields. */
export function usePaste(onPaste: (text: string) => void): void {
  const now = useRef(onPaste);
  useEffect(() => {
    now.current = onPaste;
  });
  useEffect(() => {
    const onEvent = (event: ClipboardEvent) => {
      if (inField(event)) return;
      const text = event.clipboardData?.getData("text/plain") || localStorage.getItem(KEPT);
      if (!text) return;
      event.preventDefault();
      now.current(text);
    };
    document.addEventListener("paste", onEvent);
    return () => document.removeEventListener("paste", onEvent);
  }, []);
}
