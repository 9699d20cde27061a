import { defaultKeymap, history, historyKeymap, indentWithTab } from "@codemirror/commands";
import { codeFolding, foldGutter } from "@codemirror/language";
import { highlightSelectionMatches, search, searchKeymap } from "@codemirror/search";
import { EditorState } from "@codemirror/state";
import { EditorView, keymap, lineNumbers } from "@codemirror/view";
import { useEffect, useRef, useState } from "react";

import type { ModelView } from "../api/client";
import { useText } from "../api/queries";
import type { useEdits } from "../sheet/use-edits";
import { modelica, modelicaColours } from "./modelica-language";

interface Props {
  view: ModelView;
  edits: ReturnType<typeof useEdits>;
}

/** The Modelica source of the model. A draft that was not kept survives a reload. */
export default function TextView({ view, edits }: Props) {
  const text = useText(view.project, view.model, view.revision);
  const host = useRef<HTMLDivElement>(null);
  const editor = useRef<EditorView | null>(null);
  const key = `movrel.draft.${view.project}.${view.file}`;
  const [draft, setDraft] = useState(() => localStorage.getItem(key));
  const content = text.data?.text;
  const changed = draft !== null && content !== undefined && draft !== content;
  const keep = () => {
    if (editor.current) edits.mutate({ do: "text", text: editor.current.state.doc.toString() }, { onSuccess: () => localStorage.removeItem(key) });
  };
  const keepNow = useRef(keep);
  useEffect(() => {
    keepNow.current = keep;
  });
  useEffect(() => {
    if (content === undefined || !host.current) return;
    const made = new EditorView({
      parent: host.current,
      state: EditorState.create({
        doc: localStorage.getItem(key) ?? content,
        extensions: [
          EditorView.contentAttributes.of({ "aria-label": "Modelica source", tabindex: "0" }),
          lineNumbers(),
          history(),
          codeFolding(),
          foldGutter(),
          search({ top: true }),
          highlightSelectionMatches(),
          keymap.of([
            { key: "Mod-s", preventDefault: true, run: () => (keepNow.current(), true) },
            ...defaultKeymap,
            ...historyKeymap,
            ...searchKeymap,
            indentWithTab,
          ]),
          EditorView.updateListener.of((update) => {
            if (!update.docChanged) return;
            const now = update.state.doc.toString();
            setDraft(now);
            if (now === content) localStorage.removeItem(key);
            else localStorage.setItem(key, now);
          }),
          modelica,
          modelicaColours,
        ],
      }),
    });
    editor.current = made;
    return () => {
      editor.current = null;
      made.destroy();
    };
  }, [content, key]);
  const giveUp = () => {
    if (!editor.current || content === undefined) return;
    editor.current.dispatch({ changes: { from: 0, to: editor.current.state.doc.length, insert: content } });
  };
  return (
    <div className="flex h-full flex-col" data-testid="text-view">
      <div className="rule-b flex items-center gap-3 px-3 py-1.5">
        <span className="mono">{text.data?.file ?? "…"}</span>
        {changed ? (
          <span data-testid="draft">Draft, not kept yet: sheet and runs still show the text before.</span>
        ) : (
          <span className="muted">The same model as the sheet and the ledger.</span>
        )}
        <span className="ml-auto" />
        {changed && (
          <>
            <button type="button" className="btn btn-sm btn-ghost" onClick={giveUp}>
              Give up the draft
            </button>
            <button type="button" className="btn btn-sm btn-primary" onClick={keep} disabled={edits.isPending} data-testid="keep-text">
              Keep (Ctrl+S)
            </button>
          </>
        )}
        <a
          className="btn btn-sm"
          href={`/api/projects/${view.project}/models/${encodeURIComponent(view.model)}/download`}
          download
          data-testid="download"
        >
          Download .mo
        </a>
      </div>
      <div ref={host} className="min-h-0 flex-1" />
    </div>
  );
}
