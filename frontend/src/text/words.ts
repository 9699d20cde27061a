import type { Completion, CompletionContext, CompletionResult } from "@codemirror/autocomplete";
import type { EditorView, Tooltip } from "@codemirror/view";

import type { ModelView, Schemas } from "../api/client";
import { formatUnit } from "../ui/format";

/** A name that can be written, with what it is. */
export interface Word {
  name: string;
  kind: string;
  description: string;
  detail: string;
}

const KEYWORDS =
  "algorithm annotation and block break connect connector constant constrainedby der discrete each else elseif elsewhen end equation extends external false final flow for function if import in initial inner input loop model not or outer output package parameter partial protected public record redeclare replaceable return stream then true when while within".split(
    " ",
  );
const FUNCTIONS: Record<string, string> = {
  der: "derivative by time",
  pre: "value just before the event",
  edge: "true at the moment at which it becomes true",
  change: "true when it changes",
  sample: "sample(start, interval): true at these times",
  reinit: "reinit(state, value) in a when clause",
  initial: "true at the start",
  terminal: "true at the end",
  noEvent: "without events",
  smooth: "smooth(order, expression)",
  delay: "delay(expression, time)",
  homotopy: "homotopy(actual, simplified)",
  assert: "assert(condition, message)",
  terminate: "ends the run",
  sqrt: "square root",
  abs: "absolute value",
  sign: "sign",
  sin: "sine",
  cos: "cosine",
  tan: "tangent",
  asin: "arc sine",
  acos: "arc cosine",
  atan: "arc tangent",
  atan2: "angle of (y, x)",
  sinh: "",
  cosh: "",
  tanh: "",
  exp: "exponential",
  log: "natural logarithm",
  log10: "decimal logarithm",
  min: "smallest",
  max: "largest",
  mod: "remainder, with the sign of the divisor",
  floor: "",
  ceil: "",
  integer: "",
  sum: "sum of an array",
};

/** All words that the model knows: parts, quantities with their units, classes, functions, keywords. */
export function wordsOf(view: ModelView, classes: Schemas["ShelfEntry"][]): Word[] {
  return [
    ...view.sheet.components.map((c) => ({
      name: c.name,
      kind: "part",
      description: c.description,
      detail: c.class,
    })),
    ...view.rows
      .filter((row) => !row.name.endsWith(".start") || row.type !== "Real")
      .map((row) => ({
        name: row.name,
        kind: row.group === "watch" ? "variable" : "parameter",
        description: row.description,
        detail: [row.type, formatUnit(row.unit)].filter(Boolean).join(" in "),
      })),
    ...classes.map((entry) => ({
      name: entry.class,
      kind: "class",
      description: entry.description,
      detail: entry.group,
    })),
    ...Object.entries(FUNCTIONS).map(([name, description]) => ({
      name,
      kind: "function",
      description,
      detail: "",
    })),
    ...KEYWORDS.map((name) => ({ name, kind: "keyword", description: "", detail: "" })),
  ];
}

/** Completion of dotted names: after `basin.` only what belongs to basin. */
export function completionsFor(words: Word[]) {
  return (context: CompletionContext): CompletionResult | null => {
    const typed = context.matchBefore(/[A-Za-z_][\w.]*/);
    if (!typed || (typed.from === typed.to && !context.explicit)) return null;
    const dot = typed.text.lastIndexOf(".");
    const prefix = dot >= 0 ? typed.text.slice(0, dot + 1) : "";
    const options = new Map<string, Completion>();
    for (const word of words) {
      if (!word.name.startsWith(prefix)) continue;
      const rest = word.name.slice(prefix.length);
      const next = rest.split(".")[0]!;
      const whole = next === rest || word.kind === "class";
      // A class is offered by its last name too, and written in full.
      const label = word.kind === "class" && !prefix ? word.name.split(".").at(-1)! : next;
      if (!label || options.has(label)) continue;
      options.set(label, {
        label,
        apply: word.kind === "class" && !prefix ? word.name : next,
        detail: whole ? word.detail : "",
        info: whole ? word.description : "",
        type: word.kind,
        boost:
          { part: 3, parameter: 2, variable: 2, class: 1, function: 0, keyword: -1 }[word.kind] ??
          0,
      });
    }
    return options.size
      ? { from: typed.from + dot + 1, options: [...options.values()], validFor: /^\w*$/ }
      : null;
  };
}

/** What a word under the pointer is: its type, unit and description. */
export function hoverFor(words: Word[]) {
  const byName = new Map(words.map((word) => [word.name, word]));
  return (view: EditorView, at: number): Tooltip | null => {
    const line = view.state.doc.lineAt(at);
    for (const match of line.text.matchAll(/[A-Za-z_][\w.]*/g)) {
      const from = line.from + match.index;
      if (at < from || at > from + match[0].length) continue;
      // The part of a dotted name up to the pointer.
      const until = match[0].indexOf(".", at - from);
      const word = byName.get(until < 0 ? match[0] : match[0].slice(0, until));
      if (!word || word.kind === "keyword") return null;
      return {
        pos: from,
        end: from + match[0].length,
        create: () => {
          const dom = document.createElement("div");
          dom.className = "word-tip";
          dom.textContent = [`${word.kind} ${word.name}`, word.detail, word.description]
            .filter(Boolean)
            .join("\n");
          return { dom };
        },
      };
    }
    return null;
  };
}
