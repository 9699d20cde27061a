import "katex/dist/katex.min.css";

import katex, { type TrustContext } from "katex";
import { useMemo } from "react";

/** What marks the name of a variable, so that it can be pointed at; nothing else is let through. */
function isMark(context: TrustContext): boolean {
  return (
    context.command === "\\htmlData" &&
    Object.keys(context.attributes ?? {}).every((key) => key === "data-name")
  );
}

/** A formula set by KaTeX; what it does not understand is shown as it was written. */
export default function Mathematics({ latex, display }: { latex: string; display: boolean }) {
  const html = useMemo(
    () =>
      katex.renderToString(latex, {
        displayMode: display,
        throwOnError: false,
        output: "htmlAndMathml",
        trust: isMark,
        strict: false,
        maxExpand: 200,
      }),
    [latex, display],
  );
  return <span className="formula" dangerouslySetInnerHTML={{ __html: html }} />;
}
