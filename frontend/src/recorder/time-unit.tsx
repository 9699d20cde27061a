import type { ModelView } from "../api/client";
import { useEdits } from "../state/use-edits";
import { formatUnit } from "../ui/format";
import { TIME_UNITS } from "../state/suited-unit";

/** The unit of time, to be chosen; it is kept with the model. */
export function TimeUnit({
  view,
  unit,
  onFault,
}: {
  view: ModelView;
  unit: string;
  onFault: (sentence: string) => void;
}) {
  const edits = useEdits(view, (sentence) => sentence && onFault(sentence));
  return (
    <select
      className="select select-xs w-24 shrink-0 border-0"
      value={view.settings?.time_unit ?? ""}
      disabled={!view.settings}
      aria-label="Unit of time"
      title="The unit in which times are shown; kept with the model"
      onChange={(event) => edits.mutate({ do: "time unit", unit: event.target.value })}
      data-testid="time-unit"
    >
      <option value="">{`${formatUnit(unit)} (auto)`}</option>
      {Object.keys(TIME_UNITS).map((name) => (
        <option key={name} value={name}>
          {formatUnit(name)}
        </option>
      ))}
    </select>
  );
}
