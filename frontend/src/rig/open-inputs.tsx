import { useState } from "react";

import { asRefusal, type ModelView, type Schemas } from "../api/client";
import { useEdits, type Edits } from "../state/use-edits";
import { DraftInput } from "../ui/draft-input";
import { formatNumber, formatUnit } from "../ui/format";
import { bestOf } from "./cables";

type Proposal = Schemas["Proposal"];

interface Props {
  view: ModelView;
  edits: Edits;
  inputs: Schemas["OpenInput"][];
  proposals: Proposal[];
}

const NOTHING = () => undefined;

/** Inputs that nothing feeds, each with its start value and the outputs that may belong to it. */
export function OpenInputs({ view, edits, inputs, proposals }: Props) {
  const best = bestOf(proposals);
  const take = (chosen: Proposal[]) =>
    edits.mutate({
      do: "connect pairs",
      pairs: chosen.map((p) => ({ from: p.source, to: p.target })),
    });
  if (inputs.length === 0) return <p className="muted">Every input is fed by an output.</p>;
  return (
    <div className="flex flex-col gap-1">
      {best.length > 0 && (
        <p className="flex items-center gap-3">
          <button
            type="button"
            className="btn btn-sm"
            disabled={edits.isPending}
            onClick={() => take(best)}
            data-testid="take-all"
          >
            Wire the {best.length === 1 ? "likely pair" : `${best.length} likely pairs`}
          </button>
          <span className="muted">
            by name, unit and range; the number says how sure, from 0 to 1
          </span>
        </p>
      )}
      <table className="w-full">
        <thead>
          <tr className="muted text-left text-[12px]">
            <th className="font-normal">input without a source</th>
            <th className="font-normal">stays at</th>
            <th className="font-normal">may belong to</th>
            <th />
          </tr>
        </thead>
        <tbody>
          {inputs.map((input) => (
            <OpenRow
              key={input.name}
              view={view}
              input={input}
              proposals={proposals.filter((p) => p.target === input.name)}
              onTake={(p) => take([p])}
              busy={edits.isPending}
            />
          ))}
        </tbody>
      </table>
    </div>
  );
}

function OpenRow({
  view,
  input,
  proposals,
  onTake,
  busy,
}: {
  view: ModelView;
  input: Schemas["OpenInput"];
  proposals: Proposal[];
  onTake: (proposal: Proposal) => void;
  busy: boolean;
}) {
  const edits = useEdits(view, NOTHING);
  const [chosen, setChosen] = useState(0);
  const proposal = proposals[Math.min(chosen, proposals.length - 1)];
  return (
    <tr className="align-baseline" data-testid={`open-${input.name}`}>
      <td className="mono pr-3">{input.name}</td>
      <td className="pr-3 whitespace-nowrap">
        <DraftInput
          value={formatNumber(input.start)}
          label={`start value of ${input.name}`}
          testid={`start-${input.name}`}
          className="input input-xs mono w-24 text-right"
          refusal={edits.error ? asRefusal(edits.error).sentence : null}
          onAgain={edits.reset}
          onKeep={(text, done) =>
            edits.mutate(
              { do: "parameter", name: `${input.name}.start`, text },
              { onSuccess: done },
            )
          }
        />{" "}
        <span className="muted">{formatUnit(input.unit)}</span>
      </td>
      <td className="pr-2">
        {proposals.length > 1 ? (
          <select
            className="select select-xs mono w-full"
            aria-label={`outputs for ${input.name}`}
            value={chosen}
            onChange={(event) => setChosen(Number(event.target.value))}
          >
            {proposals.map((p, k) => (
              <option key={p.source} value={k}>
                {p.source} · {p.score.toFixed(2)}
              </option>
            ))}
          </select>
        ) : proposal ? (
          <span className="mono">
            {proposal.source} · {proposal.score.toFixed(2)}
          </span>
        ) : (
          <span className="muted">nothing alike; wire it on the sheet</span>
        )}
        {proposal && <span className="muted block text-[12px]">{proposal.reason}</span>}
      </td>
      <td className="text-right">
        {proposal && (
          <button
            type="button"
            className="btn btn-xs"
            disabled={busy}
            onClick={() => onTake(proposal)}
            data-testid={`take-${input.name}`}
          >
            Wire
          </button>
        )}
      </td>
    </tr>
  );
}
