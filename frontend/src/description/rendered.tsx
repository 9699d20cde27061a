import "katex/dist/katex.min.css";

import { useLayoutEffect, useRef } from "react";

import { safe } from "./safe";

/** A documentation made safe: known tags only, nothing that runs, nothing fetched from elsewhere. */
export function Rendered({ info }: { info: string }) {
  const place = useRef<HTMLDivElement>(null);
  useLayoutEffect(() => place.current?.replaceChildren(safe(info)), [info]);
  if (!info.trim()) return <p className="muted">No documentation yet.</p>;
  return <div ref={place} data-testid="documentation" />;
}
