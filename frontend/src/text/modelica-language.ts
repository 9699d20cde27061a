import { HighlightStyle, StreamLanguage, syntaxHighlighting } from "@codemirror/language";
import { tags } from "@lezer/highlight";

const KEYWORDS = new Set(
  `algorithm and annotation block break class connect connector constant constrainedby der discrete each else elseif elsewhen
   encapsulated end enumeration equation expandable extends external final flow for function if import impure in initial inner
   input loop model not operator or outer output package parameter partial protected public pure record redeclare replaceable
   return stream then type when while within`.split(/\s+/),
);
const ATOMS = new Set(["true", "false", "time"]);
const TYPES = new Set(["Real", "Integer", "Boolean", "String"]);

interface State {
  inComment: boolean;
}

/** Colouring of Modelica text, word by word (specification 3.6, chapter 2). */
export const modelica = StreamLanguage.define<State>({
  name: "modelica",
  startState: () => ({ inComment: false }),
  token(stream, state) {
    if (state.inComment || stream.match("/*")) {
      state.inComment = !stream.match(/^.*?\*\//);
      if (state.inComment) stream.skipToEnd();
      return "comment";
    }
    if (stream.eatSpace()) return null;
    if (stream.match("//")) {
      stream.skipToEnd();
      return "comment";
    }
    if (stream.match(/^"(?:[^"\\]|\\.)*"?/)) return "string";
    if (stream.match(/^\d+(?:\.\d*)?(?:[eE][+-]?\d+)?/)) return "number";
    const word = stream.match(/^[A-Za-z_][A-Za-z0-9_]*/);
    if (word) {
      const text = (word as RegExpMatchArray)[0];
      if (KEYWORDS.has(text)) return "keyword";
      if (ATOMS.has(text)) return "atom";
      return TYPES.has(text) ? "typeName" : "variableName";
    }
    stream.next();
    return null;
  },
  languageData: { commentTokens: { line: "//", block: { open: "/*", close: "*/" } } },
});

export const modelicaColours = syntaxHighlighting(
  HighlightStyle.define([
    { tag: tags.keyword, fontWeight: "600" },
    { tag: tags.comment, color: "var(--color-secondary)", fontStyle: "italic" },
    { tag: tags.string, color: "oklch(var(--domain-lightness) 0.08 155)" },
    { tag: [tags.number, tags.atom], color: "oklch(var(--domain-lightness) 0.1 275)" },
    { tag: tags.typeName, color: "oklch(var(--domain-lightness) 0.09 70)" },
  ]),
);
