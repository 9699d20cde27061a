import { useQuery } from "@tanstack/react-query";

import { ask, asRefusal, client, type ModelView, type Schemas } from "../api/client";
import type { Edits } from "../state/use-edits";
import { Part } from "./form";

interface Props {
  view: ModelView;
  edits: Edits;
  /** The unit that comes in. */
  unit: number;
}

/** The units of the model that could give way to this one, with what would vanish, appear and change. */
export function ExchangeUnit({ view, edits, unit }: Props) {
  const list = useQuery({
    queryKey: ["unit exchanges", unit, view.project, view.model, view.revision],
    queryFn: () =>
      ask(
        client.GET("/api/foreign-units/{unit}/exchanges", {
          params: { path: { unit }, query: { model: view.model } },
        }),
      ),
  });
  const exchanges = list.data?.exchanges ?? [];
  if (exchanges.length === 0) return null;
  return (
    <Part title="In place of a unit of this model">
      {exchanges.map((e) => (
        <section
          key={e.class}
          className="flex flex-col gap-1 border border-base-300 p-2"
          data-testid={`exchange-${e.class}`}
        >
          <p>
            <span className="mono font-medium">{e.class}</span>{" "}
            <span className="muted">
              {e.file}
              {e.plan.parts.length > 0 && `, of ${e.plan.parts.join(", ")}`}
            </span>
          </p>
          {e.fault ? <p className="text-error">✕ {e.fault}</p> : <Differences plan={e.plan} />}
          <p className="flex items-center gap-3">
            <button
              type="button"
              className="btn btn-sm"
              disabled={e.fault !== "" || e.plan.broken.length > 0 || edits.isPending}
              onClick={() => edits.mutate({ do: "exchange unit", class: e.class, text: e.text })}
              data-testid={`exchange-do-${e.class}`}
            >
              Exchange it for this one
            </button>
            {e.plan.broken.length > 0 && (
              <span className="text-error">
                ✕ What vanishes is used: {e.plan.broken[0]}. Change that place first.
              </span>
            )}
          </p>
        </section>
      ))}
      {edits.error && (
        <p role="alert" className="text-error">
          ✕ {asRefusal(edits.error).sentence}
        </p>
      )}
    </Part>
  );
}

/** What an exchange changes, in lines; a sentence where everything fits. */
function Differences({ plan }: { plan: Schemas["ExchangePlan"] }) {
  const lines: [string, string[]][] = [
    ["vanishes", plan.vanished],
    ["is new", plan.appeared],
    ["changes", plan.changed],
    ["wires that are lost", plan.wires],
    ["values that are lost", plan.lost],
  ];
  const shown = lines.filter(([, names]) => names.length > 0);
  if (shown.length === 0) return <p>All its variables are the same; wires and values stay.</p>;
  return (
    <dl className="grid w-fit grid-cols-[auto_minmax(0,1fr)] gap-x-4 text-[12px]">
      {shown.map(([words, names]) => (
        <div key={words} className="contents">
          <dt className="muted">{words}</dt>
          <dd className="mono min-w-0 break-words">{names.join(", ")}</dd>
        </div>
      ))}
    </dl>
  );
}
