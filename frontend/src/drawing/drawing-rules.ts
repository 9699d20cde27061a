import { INK, PAPER, RULE } from "./paper";

/** Rules of the screen that drawings are made with; fonts and everything else stay behind. */
export function drawingRules(): string {
  const wanted = /thumbnail|domain-|symbol|wire|transition/;
  return [...document.styleSheets]
    .flatMap((sheet) => {
      try {
        return [...sheet.cssRules];
      } catch {
        return [];
      }
    })
    .flatMap((rule) => (rule instanceof CSSLayerBlockRule ? [...rule.cssRules] : [rule]))
    .filter(
      (rule) =>
        rule instanceof CSSStyleRule &&
        wanted.test(rule.selectorText) &&
        !rule.selectorText.includes("night"),
    )
    .map((rule) => rule.cssText)
    .join("\n");
}

/** The colours of paper, whatever the theme of the screen. */
export const PAPER_COLOURS = `:root { --color-base-100: ${PAPER}; --color-base-200: #f7f5ef; --color-base-300: ${RULE}; --color-base-content: ${INK}; --color-secondary: #5a6070; --color-primary: #c83f00; --symbol-lightness: l; --domain-lightness: 44%; }`;
