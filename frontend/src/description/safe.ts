import DOMPurify from "dompurify";
import katex from "katex";

const TAGS =
  "p br h1 h2 h3 h4 h5 h6 b strong i em u sub sup code pre ul ol li dl dt dd table thead tbody tr th td hr blockquote span div a".split(
    " ",
  );

/** The HTML of a documentation with known tags only and its formulae set. */
export function safe(info: string): string {
  const body = /<[a-z][\s\S]*>/i.test(info)
    ? info
    : escape(info)
        .replace(/\n{2,}/g, "</p><p>")
        .replace(/\n/g, "<br>")
        .replace(/^/, "<p>")
        .concat("</p>");
  const cleaned = DOMPurify.sanitize(body, {
    ALLOWED_TAGS: TAGS,
    ALLOWED_ATTR: ["href", "colspan", "rowspan"],
    ALLOWED_URI_REGEXP: /^(?:https?:|mailto:|#)/i,
  });
  // Formulae are set after cleaning; their source is text, never markup.
  return cleaned.replace(/\$([^$<>\n]+)\$/g, (_, latex: string) =>
    katex.renderToString(unescape(latex), {
      throwOnError: false,
      trust: false,
      strict: false,
      maxExpand: 200,
    }),
  );
}

function escape(text: string): string {
  return text.replace(/&/g, "&amp;").replace(/</g, "&lt;").replace(/>/g, "&gt;");
}

function unescape(text: string): string {
  return text.replace(/&lt;/g, "<").replace(/&gt;/g, ">").replace(/&amp;/g, "&");
}
