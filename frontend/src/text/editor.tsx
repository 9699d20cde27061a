import { autocompletion, completionKeymap, type CompletionSource } from "@codemirror/autocomplete";
import { defaultKeymap, history, historyKeymap, indentWithTab } from "@codemirror/commands";
import {
  codeFolding,
  foldGutter,
  foldKeymap,
  foldService,
  type LanguageSupport,
  type StreamLanguage,
} from "@codemirror/language";
import { lintGutter, setDiagnostics, type Diagnostic } from "@codemirror/lint";
import { highlightSelectionMatches, search, searchKeymap } from "@codemirror/search";
import { EditorState, type Extension } from "@codemirror/state";
import {
  EditorView,
  hoverTooltip,
  keymap,
  lineNumbers,
  type HoverTooltipSource,
} from "@codemirror/view";
import { useEffect, useRef, type RefObject } from "react";

/** Something to be pointed out in a text; lines and columns count from one, line 0 is the text as a whole. */
export interface Finding {
  severity: string;
  message: string;
  hint: string;
  line: number;
  column: number;
}

interface Props {
  /** The text with which editing begins; another one begins anew. */
  text: string;
  label: string;
  testid?: string;
  language?: StreamLanguage<unknown> | LanguageSupport;
  extra?: Extension;
  complete?: CompletionSource;
  hover?: HoverTooltipSource;
  findings?: Finding[];
  onChange: (text: string) => void;
  onKeep: () => void;
  editorRef?: RefObject<EditorView | null>;
}

/** A text editor with completion, hovering, findings in the margin, folding and search. */
export function Editor({
  text,
  label,
  testid,
  language,
  extra,
  complete,
  hover,
  findings,
  onChange,
  onKeep,
  editorRef,
}: Props) {
  const host = useRef<HTMLDivElement>(null);
  const made = useRef<EditorView | null>(null);
  const now = useRef({ onChange, onKeep, complete, hover });
  useEffect(() => {
    now.current = { onChange, onKeep, complete, hover };
  });
  useEffect(() => {
    if (!host.current) return;
    const view = new EditorView({
      parent: host.current,
      state: EditorState.create({
        doc: text,
        extensions: [
          EditorView.contentAttributes.of({ "aria-label": label, tabindex: "0" }),
          lineNumbers(),
          lintGutter(),
          history(),
          codeFolding(),
          foldService.of(foldIndented),
          foldGutter(),
          search({ top: true }),
          highlightSelectionMatches(),
          autocompletion({
            override: [(context) => now.current.complete?.(context) ?? null],
            icons: false,
          }),
          hoverTooltip((view, at, side) => now.current.hover?.(view, at, side) ?? null),
          keymap.of([
            { key: "Mod-s", preventDefault: true, run: () => (now.current.onKeep(), true) },
            ...completionKeymap,
            ...defaultKeymap,
            ...historyKeymap,
            ...searchKeymap,
            ...foldKeymap,
            indentWithTab,
          ]),
          EditorView.updateListener.of((update) => {
            if (update.docChanged) now.current.onChange(update.state.doc.toString());
          }),
          ...(language ? [language] : []),
          ...(extra ? [extra] : []),
        ],
      }),
    });
    made.current = view;
    if (editorRef) editorRef.current = view;
    return () => {
      made.current = null;
      if (editorRef) editorRef.current = null;
      view.destroy();
    };
    // eslint-disable-next-line react-hooks/exhaustive-deps -- only another text begins anew
  }, [text]);
  useEffect(() => {
    const view = made.current;
    if (view)
      view.dispatch(
        setDiagnostics(
          view.state,
          (findings ?? []).map((finding) => asDiagnostic(view.state, finding)),
        ),
      );
  }, [findings, text]);
  return <div ref={host} className="h-full min-h-0 overflow-hidden" data-testid={testid} />;
}

function asDiagnostic(state: EditorState, finding: Finding): Diagnostic {
  const line = state.doc.line(Math.min(Math.max(finding.line, 1), state.doc.lines));
  const from = Math.min(line.from + Math.max(finding.column - 1, 0), line.to);
  const word = /^[\w.]+/.exec(state.sliceDoc(from, line.to))?.[0] ?? "";
  return {
    from: finding.line ? from : line.from,
    to: finding.line ? Math.max(from + word.length, Math.min(from + 1, line.to)) : line.to,
    severity: finding.severity === "error" ? "error" : "warning",
    message: finding.hint ? `${finding.message} ${finding.hint}` : finding.message,
  };
}

/** What can be folded: lines that are indented deeper than the one above them. */
function foldIndented(state: EditorState, start: number): { from: number; to: number } | null {
  const line = state.doc.lineAt(start);
  const depth = (text: string) => text.length - text.trimStart().length;
  if (!line.text.trim()) return null;
  let last = line.number;
  for (let n = line.number + 1; n <= state.doc.lines; n += 1) {
    const next = state.doc.line(n).text;
    if (!next.trim()) continue;
    if (depth(next) <= depth(line.text)) break;
    last = n;
  }
  return last > line.number ? { from: line.to, to: state.doc.line(last).to } : null;
}
