import { ArrowDown, ArrowUp } from "lucide-react";

import { asRefusal, type ModelView } from "../api/client";
import { domainClass } from "../drawing/geometry";
import { useSelection } from "../state/selection";
import { useEdits } from "../state/use-edits";
import { DraftInput } from "../ui/draft-input";
import { Group } from "./group";
import { portSides, SIDES, type Side } from "./port-sides";

/** The ports that the model has as a part of others: name, side of the symbol and order there, edited in place. */
export function Ports({ view, only }: { view: ModelView; only: string | undefined }) {
  const sides = portSides(view.symbol);
  const own = new Set(view.sheet.components.filter((c) => c.port).map((c) => c.name));
  const rows = SIDES.flatMap((side) =>
    sides[side].map((port, index) => ({ port, side, index, count: sides[side].length })),
  ).filter(({ port }) => own.has(port.name) && (!only || port.name === only));
  if (rows.length === 0) return null;
  return (
    <Group title={only ? "On the symbol" : "Ports"}>
      {rows.map((row) => (
        <PortRow key={row.port.name} view={view} {...row} />
      ))}
    </Group>
  );
}

interface RowProps {
  view: ModelView;
  port: ModelView["symbol"]["ports"][number];
  side: Side;
  index: number;
  count: number;
}

function PortRow({ view, port, side, index, count }: RowProps) {
  const naming = useEdits(view, () => undefined);
  const placing = useEdits(view, () => undefined);
  const selected = useSelection((s) => s.selected);
  const select = useSelection((s) => s.select);
  const put = (to: Side, at: number) =>
    placing.mutate({ do: "arrange port", name: port.name, side: to, index: at });
  const [before, after] = side === "top" || side === "bottom" ? ["left", "right"] : ["up", "down"];
  return (
    <div className="px-3 py-0.5" data-testid={`port-row-${port.name}`}>
      <div className="grid grid-cols-[10px_minmax(0,1fr)_5.5rem_1.6rem_1.6rem] items-center gap-x-1.5">
        <span
          aria-hidden="true"
          className={`h-2.5 w-2.5 border ${domainClass(port.domain)} ${port.direction ? "" : "rounded-full"}`}
          style={{
            borderColor: "var(--domain)",
            background: port.direction === "in" ? "transparent" : "var(--domain)",
          }}
        />
        <DraftInput
          value={port.name}
          label={`Name of the port ${port.name}`}
          testid={`port-name-${port.name}`}
          className="w-full min-w-0 border-b border-transparent bg-transparent outline-none hover:border-base-300 focus:border-primary"
          refusal={naming.error ? asRefusal(naming.error).sentence : null}
          onKeep={(text, done) =>
            naming.mutate(
              { do: "rename", name: port.name, new: text },
              {
                onSuccess: () => {
                  done();
                  // One goes on in the list of ports, not in the part.
                  select(selected === port.name ? text.trim() : selected);
                },
              },
            )
          }
          onAgain={naming.reset}
        />
        <select
          className="select select-xs w-full"
          value={side}
          aria-label={`Side of the port ${port.name}`}
          onChange={(event) => put(event.target.value as Side, 1000)}
          data-testid={`port-side-${port.name}`}
        >
          {SIDES.map((name) => (
            <option key={name} value={name}>
              {name}
            </option>
          ))}
        </select>
        <button
          type="button"
          className="btn btn-ghost btn-xs px-0"
          disabled={index === 0 || placing.isPending}
          title={`Further ${before}`}
          aria-label={`Move the port ${port.name} further ${before}`}
          onClick={() => put(side, index - 1)}
          data-testid={`port-before-${port.name}`}
        >
          <ArrowUp size={12} className={before === "left" ? "-rotate-90" : ""} />
        </button>
        <button
          type="button"
          className="btn btn-ghost btn-xs px-0"
          disabled={index === count - 1 || placing.isPending}
          title={`Further ${after}`}
          aria-label={`Move the port ${port.name} further ${after}`}
          onClick={() => put(side, index + 1)}
          data-testid={`port-after-${port.name}`}
        >
          <ArrowDown size={12} className={after === "right" ? "-rotate-90" : ""} />
        </button>
      </div>
      {placing.error && (
        <p role="alert" className="text-[12px] text-error">
          ✕ {asRefusal(placing.error).sentence}
        </p>
      )}
    </div>
  );
}
