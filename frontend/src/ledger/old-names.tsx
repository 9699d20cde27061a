import { useState } from "react";

import type { ModelView } from "../api/client";
import { useEdits } from "../state/use-edits";

/** Names shown at most. */
const MOST = 3;

/** That the text uses names which the component library had before, with the offer to write the present ones. */
export function OldNames({ view }: { view: ModelView }) {
  const [fault, setFault] = useState<string | null>(null);
  const { mutate, isPending } = useEdits(view, setFault);
  const names = Object.entries(view.old_names);
  if (names.length === 0) return null;
  const shown = names.slice(0, MOST).map(([old, present]) => `${old} is now ${present}`);
  return (
    <div role="status" className="rule-b px-3 py-2" data-testid="old-names">
      <p>
        {names.length === 1 ? "One name" : `${names.length} names`} of the library{" "}
        {names.length === 1 ? "has" : "have"} changed: {shown.join(", ")}
        {names.length > MOST ? " …" : "."} The model means the same.
      </p>
      <button
        type="button"
        className="btn btn-xs mt-1"
        disabled={isPending}
        onClick={() => mutate({ do: "present names" })}
        data-testid="use-present-names"
      >
        Write the present names into the text
      </button>
      {fault && (
        <p role="alert" className="text-error">
          ✕ {fault}
        </p>
      )}
    </div>
  );
}
