import "katex/dist/katex.min.css";

import katex from "katex";
import { useMemo } from "react";

/** A formula set by KaTeX; what it does not understand is shown as it was written. */
export default function Mathematics({ latex, display }: { latex: string; display: boolean }) {
  const html = useMemo(
    () =>
      katex.renderToString(latex, {
        displayMode: display,
        throwOnError: false,
        output: "htmlAndMathml",
        trust: false,
        strict: false,
        maxExpand: 200,
      }),
    [latex, display],
  );
  return <span className="formula" dangerouslySetInnerHTML={{ __html: html }} />;
}
