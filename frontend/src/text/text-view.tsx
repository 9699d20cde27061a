import { EditorView } from "@codemirror/view";
import { useEffect, useMemo, useRef, useState } from "react";

import { ask, asRefusal, client, type ModelView } from "../api/client";
import { useShelf, useText } from "../api/queries";
import type { Edits } from "../state/use-edits";
import { usePlace } from "../state/place";
import { useSelection } from "../state/selection";
import { Editor, type Finding } from "./editor";
import { modelica, modelicaColours } from "./modelica-language";
import { ProjectSearch } from "./project-search";
import { completionsFor, hoverFor, wordsOf } from "./words";

interface Props {
  view: ModelView;
  edits: Edits;
  onFault: (sentence: string | null) => void;
}

/** How long after the last key a text is looked through, in ms. */
const PAUSE = 250;

/** The Modelica source of the model. A draft that was not kept survives a reload. */
export default function TextView({ view, edits, onFault }: Props) {
  const text = useText(view.project, view.model, view.revision);
  const shelf = useShelf(view.project, view.model, view.revision);
  const key = `movrel.draft.${view.project}.${view.file}`;
  const content = text.data?.text;
  const [draft, setDraft] = useState(() => localStorage.getItem(key));
  const [begun, setBegun] = useState<{ content: string; text: string } | null>(null);
  const [findings, setFindings] = useState<Finding[]>([]);
  const [searching, setSearching] = useState(false);
  const editor = useRef<EditorView | null>(null);
  const line = usePlace((s) => s.line);
  const selected = useSelection((s) => s.selected);
  if (content !== undefined && begun?.content !== content) {
    // A draft goes on over what others did meanwhile only by its author's will: it stays as it is.
    setBegun({ content, text: localStorage.getItem(key) ?? content });
  }
  const changed = draft !== null && content !== undefined && draft !== content;
  const now = draft ?? content;
  useEffect(() => {
    if (now === undefined) return;
    let stale = false;
    const timer = window.setTimeout(() => {
      ask(
        client.POST("/api/projects/{project}/models/{model}/check", {
          params: { path: { project: view.project, model: view.model } },
          body: { text: now },
        }),
      )
        .then((answer) => !stale && setFindings(answer.findings))
        .catch(() => undefined);
    }, PAUSE);
    return () => {
      stale = true;
      window.clearTimeout(timer);
    };
  }, [now, view.project, view.model, view.revision]);
  const words = useMemo(() => wordsOf(view, shelf.data?.entries ?? []), [view, shelf.data]);
  const complete = useMemo(() => completionsFor(words), [words]);
  const hover = useMemo(() => hoverFor(words), [words]);
  useEffect(() => {
    // Show the place that was asked for, or the declaration of the selected part.
    const shown = editor.current;
    if (!shown || !text.data) return;
    const wanted = line ?? declarationOf(shown, selected, text.data.first_line);
    if (!wanted || wanted > shown.state.doc.lines) return;
    const at = shown.state.doc.line(wanted);
    shown.dispatch({
      selection: { anchor: at.from, head: at.to },
      effects: EditorView.scrollIntoView(at.from, { y: "center" }),
    });
  }, [line, selected, text.data, begun]);
  const change = (value: string) => {
    setDraft(value);
    if (value === content) localStorage.removeItem(key);
    else localStorage.setItem(key, value);
  };
  const replace = (value: string) => {
    const shown = editor.current;
    if (shown) shown.dispatch({ changes: { from: 0, to: shown.state.doc.length, insert: value } });
  };
  const keep = () => {
    const value = editor.current?.state.doc.toString();
    if (value !== undefined)
      edits.mutate(
        { do: "text", text: value },
        { onSuccess: () => (localStorage.removeItem(key), setDraft(null)) },
      );
  };
  const indent = () =>
    ask(client.POST("/api/indent", { body: { text: editor.current?.state.doc.toString() ?? "" } }))
      .then((answer) => replace(answer.text))
      .catch((fault: unknown) => onFault(asRefusal(fault).sentence));
  const errors = findings.filter((f) => f.severity === "error");
  return (
    <div className="flex h-full flex-col" data-testid="text-view">
      <div className="rule-b flex flex-wrap items-center gap-2 px-3 py-1.5">
        <span className="mono">{text.data?.file ?? "…"}</span>
        {changed ? (
          <span data-testid="draft">
            Draft, not kept yet: sheet and runs still show the text before.
          </span>
        ) : (
          <span className="muted">The same model as the sheet and the ledger.</span>
        )}
        <span className="ml-auto" />
        {changed && (
          <>
            <button
              type="button"
              className="btn btn-sm btn-ghost"
              onClick={() => content !== undefined && replace(content)}
            >
              Give up the draft
            </button>
            <button
              type="button"
              className="btn btn-sm btn-primary"
              onClick={keep}
              disabled={edits.isPending}
              data-testid="keep-text"
            >
              Keep (Ctrl+S)
            </button>
          </>
        )}
        <RenamePart view={view} edits={edits} disabled={changed} />
        <button
          type="button"
          className="btn btn-sm"
          onClick={() => void indent()}
          title="Indent the text as its structure asks"
          data-testid="indent"
        >
          Indent
        </button>
        <button
          type="button"
          className="btn btn-sm"
          onClick={() => setSearching(!searching)}
          aria-expanded={searching}
          data-testid="search-project"
        >
          Search project
        </button>
        <a
          className="btn btn-sm"
          href={`/api/projects/${view.project}/models/${encodeURIComponent(view.model)}/download`}
          download
          data-testid="download"
        >
          Download .mo
        </a>
      </div>
      {searching && <ProjectSearch view={view} onClose={() => setSearching(false)} />}
      <div className="min-h-0 flex-1">
        {begun && (
          <Editor
            text={begun.text}
            label="Modelica source"
            language={modelica}
            extra={modelicaColours}
            complete={complete}
            hover={hover}
            findings={findings}
            onChange={change}
            onKeep={keep}
            editorRef={editor}
          />
        )}
      </div>
      <div className="rule-t px-3 py-1 text-[12px]" role="status" data-testid="text-findings">
        {errors[0] ? (
          <span className="text-error">
            ✕ {errors[0].line > 0 && `line ${errors[0].line}: `}
            {errors[0].message} {errors[0].hint}
          </span>
        ) : findings[0] ? (
          <span>
            ? {findings[0].message}
            {findings.length > 1 && ` (and ${findings.length - 1} more)`}
          </span>
        ) : (
          <span className="muted">✓ no remarks</span>
        )}
      </div>
    </div>
  );
}

/** The line on which a part of the model is declared. */
function declarationOf(view: EditorView, part: string | null, firstLine: number): number | null {
  if (!part) return null;
  const declared = new RegExp(`^\\s*[\\w.]+(\\[.*?\\])?\\s+${part}\\b`);
  for (let n = firstLine; n <= view.state.doc.lines; n += 1) {
    if (declared.test(view.state.doc.line(n).text)) return n;
  }
  return null;
}

/** Gives the selected part another name everywhere. */
function RenamePart({
  view,
  edits,
  disabled,
}: {
  view: ModelView;
  edits: Edits;
  disabled: boolean;
}) {
  const selected = useSelection((s) => s.selected);
  const [name, setName] = useState<string | null>(null);
  if (!selected || !view.sheet.components.some((c) => c.name === selected)) return null;
  if (name === null) {
    return (
      <button
        type="button"
        className="btn btn-sm"
        disabled={disabled}
        onClick={() => setName(selected)}
        title={disabled ? "Keep the draft first" : `Rename ${selected} everywhere`}
      >
        Rename {selected}
      </button>
    );
  }
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        edits.mutate(
          { do: "rename", name: selected, new: name },
          { onSuccess: () => setName(null) },
        );
      }}
    >
      <input
        autoFocus
        className="input input-sm mono w-32"
        value={name}
        aria-label={`New name of ${selected}`}
        onChange={(e) => setName(e.target.value)}
        onKeyDown={(e) => e.key === "Escape" && setName(null)}
      />
    </form>
  );
}
