import { codeFolding, foldGutter } from "@codemirror/language";
import { highlightSelectionMatches, search, searchKeymap } from "@codemirror/search";
import { EditorState } from "@codemirror/state";
import { EditorView, keymap, lineNumbers } from "@codemirror/view";
import { useEffect, useRef } from "react";

import { useText } from "../api/queries";
import { modelica, modelicaColours } from "./modelica-language";

/** The Modelica source of the model, to read and search. */
export default function TextView({ project, model, revision }: { project: number; model: string; revision: number }) {
  const text = useText(project, model, revision);
  const host = useRef<HTMLDivElement>(null);
  const content = text.data?.text;
  useEffect(() => {
    if (content === undefined || !host.current) return;
    const editor = new EditorView({
      parent: host.current,
      state: EditorState.create({
        doc: content,
        extensions: [
          EditorState.readOnly.of(true),
          EditorView.contentAttributes.of({ "aria-label": "Modelica source", tabindex: "0" }),
          lineNumbers(),
          codeFolding(),
          foldGutter(),
          search({ top: true }),
          highlightSelectionMatches(),
          keymap.of(searchKeymap),
          modelica,
          modelicaColours,
        ],
      }),
    });
    return () => editor.destroy();
  }, [content]);
  return (
    <div className="flex h-full flex-col" data-testid="text-view">
      <div className="rule-b flex items-center gap-3 px-3 py-1.5">
        <span className="mono">{text.data?.file ?? "…"}</span>
        <span className="muted">Read only. Values are changed in the ledger; each change is a patch of this text.</span>
        <a
          className="btn btn-sm ml-auto"
          href={`/api/projects/${project}/models/${encodeURIComponent(model)}/download`}
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
