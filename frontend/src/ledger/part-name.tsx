import { asRefusal, type ModelView } from "../api/client";
import { useEdits } from "../state/use-edits";
import { DraftInput } from "../ui/draft-input";

/** The name of the selected part; typing another one renames it everywhere in the model. */
export function PartName({ view, name }: { view: ModelView; name: string }) {
  const edits = useEdits(view, () => undefined);
  return (
    <h2 className="text-[15px] font-semibold" data-testid="ledger-title">
      <span className="sr-only">{name}</span>
      <DraftInput
        value={name}
        label={`Name of ${name}`}
        testid="part-name"
        className="w-full border-b border-transparent bg-transparent outline-none hover:border-base-300 focus:border-primary"
        refusal={edits.error ? asRefusal(edits.error).sentence : null}
        onKeep={(text, done) =>
          edits.mutate({ do: "rename", name, new: text }, { onSuccess: done })
        }
        onAgain={edits.reset}
      />
    </h2>
  );
}
