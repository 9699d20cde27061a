import DOMPurify from "dompurify";
import katex from "katex";

/** What a documentation may consist of. */
const TAGS =
  "p br h1 h2 h3 h4 h5 h6 b strong i em u sub sup code pre ul ol li dl dt dd table thead tbody tr th td hr blockquote span div a".split(
    " ",
  );
const FORMULA = /\$([^$\n]+)\$/g;

/**
 * A documentation with known tags only and its formulae set.
 *
 * It is cleaned into elements, which are never written as text and read again; and formulae are looked for only in the
 * text between them, so that nothing in an attribute or a tag can become one.
 */
export function safe(info: string): DocumentFragment {
  // Where it cannot be cleaned it is text.
  const cleaned =
    DOMPurify.isSupported && /<[a-z][\s\S]*>/i.test(info)
      ? DOMPurify.sanitize(info, {
          ALLOWED_TAGS: TAGS,
          ALLOWED_ATTR: ["href", "colspan", "rowspan"],
          ALLOWED_URI_REGEXP: /^(?:https?:|mailto:|#)/i,
          ADD_URI_SAFE_ATTR: ["colspan", "rowspan"],
          ALLOW_DATA_ATTR: false,
          ALLOW_ARIA_ATTR: false,
          RETURN_DOM_FRAGMENT: true,
        })
      : paragraphs(info);
  for (const text of texts(cleaned)) {
    if (text.data.includes("$")) text.replaceWith(...withFormulae(text.data));
  }
  return cleaned;
}

/** Plain text, with its paragraphs and lines. */
function paragraphs(text: string): DocumentFragment {
  const whole = document.createDocumentFragment();
  for (const part of text.split(/\n{2,}/)) {
    const paragraph = document.createElement("p");
    part.split("\n").forEach((line, index) => {
      if (index > 0) paragraph.append(document.createElement("br"));
      paragraph.append(line);
    });
    whole.append(paragraph);
  }
  return whole;
}

function texts(root: Node): Text[] {
  if (root.nodeType === Node.TEXT_NODE) return [root as Text];
  const own = root as Element;
  if (own.tagName === "CODE" || own.tagName === "PRE") return [];
  return [...root.childNodes].flatMap(texts);
}

function withFormulae(text: string): Node[] {
  const nodes: Node[] = [];
  let end = 0;
  for (const match of text.matchAll(FORMULA)) {
    nodes.push(document.createTextNode(text.slice(end, match.index)));
    const formula = document.createElement("span");
    katex.render(match[1]!, formula, {
      throwOnError: false,
      trust: false,
      strict: false,
      maxExpand: 200,
    });
    nodes.push(formula);
    end = match.index + match[0].length;
  }
  nodes.push(document.createTextNode(text.slice(end)));
  return nodes;
}
