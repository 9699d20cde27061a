import { lazy, Suspense } from "react";

const Mathematics = lazy(() => import("./mathematics"));

/** A text in which what stands between dollar signs is set as mathematics. */
export function Formulae({ text }: { text: string }) {
  const pieces = text.split(/(\$[^$\n]+\$)/);
  return (
    <span className="whitespace-pre-wrap">
      {pieces.map((piece, i) =>
        piece.startsWith("$") && piece.endsWith("$") && piece.length > 2 ? (
          <Formula key={i} latex={piece.slice(1, -1)} />
        ) : (
          piece
        ),
      )}
    </span>
  );
}

/** One formula; its source is shown until the typesetting is there. */
export function Formula({ latex, display = false }: { latex: string; display?: boolean }) {
  return (
    <Suspense fallback={<code className="mono">{latex}</code>}>
      <Mathematics latex={latex} display={display} />
    </Suspense>
  );
}
