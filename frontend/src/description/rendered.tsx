import "katex/dist/katex.min.css";

import { useMemo } from "react";

import { safe } from "./safe";

/** A documentation made safe: known tags only, nothing that runs, nothing fetched from elsewhere. */
export function Rendered({ info }: { info: string }) {
  const html = useMemo(() => safe(info), [info]);
  if (!info.trim()) return <p className="muted">No documentation yet.</p>;
  return <div dangerouslySetInnerHTML={{ __html: html }} />;
}
