import type { ModelView, Schemas } from "../api/client";
import { usePlace } from "../state/place";

/** Leads to the line of the model's own text at which something is wrong; nothing where that lies in a library part. */
export function FaultPlace({
  view,
  where,
}: {
  view: ModelView;
  where: Schemas["Place"] | null | undefined;
}) {
  const setView = usePlace((s) => s.setView);
  if (!where || where.file.startsWith("library/")) return null;
  if (where.file !== view.file)
    return (
      <p className="muted">
        in <span className="mono">{where.file}</span>, line {where.line}
      </p>
    );
  return (
    <button
      type="button"
      className="btn btn-ghost btn-xs -ml-1 font-normal underline"
      onClick={() => setView("text", where.line)}
      data-testid="fault-place"
    >
      Show line {where.line} in Text
    </button>
  );
}
