import { useState } from "react";

import { asRefusal, type ModelView } from "../api/client";
import { useEdits } from "../sheet/use-edits";

/** The name of the selected part; typing another one renames it everywhere in the model. */
export function PartName({ view, name }: { view: ModelView; name: string }) {
  const [draft, setDraft] = useState(name);
  const edits = useEdits(view, () => undefined);
  const refusal = edits.error ? asRefusal(edits.error).sentence : null;
  const keep = () => {
    if (draft.trim() !== name) edits.mutate({ do: "rename", name, new: draft });
  };
  return (
    <h2 className="text-[15px] font-semibold" data-testid="ledger-title">
      <span className="sr-only">{name}</span>
      <input
        className={`w-full border-b bg-transparent outline-none focus:border-primary ${refusal ? "border-error" : "border-transparent hover:border-base-300"}`}
        value={draft}
        aria-label={`Name of ${name}`}
        aria-invalid={refusal !== null}
        spellCheck={false}
        data-testid="part-name"
        onChange={(event) => {
          setDraft(event.target.value);
          edits.reset();
        }}
        onBlur={() => refusal === null && keep()}
        onKeyDown={(event) => {
          if (event.key === "Enter") keep();
          if (event.key === "Escape") {
            setDraft(name);
            edits.reset();
          }
        }}
      />
      {refusal && (
        <span role="alert" className="block text-[12px] font-normal text-error" data-testid="part-name-fault">
          {refusal}
        </span>
      )}
    </h2>
  );
}
