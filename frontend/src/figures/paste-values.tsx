import { useQuery } from "@tanstack/react-query";

import { asRefusal, type ModelView } from "../api/client";
import { readValues } from "../api/queries";
import type { Draft } from "../state/draft";
import { useEdits } from "../state/use-edits";
import { counted } from "../ui/format";

/** Lines that were not understood and are listed at most. */
const MOST_UNREAD = 50;

interface Props {
  view: ModelView;
  draft: Draft<string>;
  onClose: () => void;
}

/** Lines to paste: what is understood becomes values, what is not stays to be corrected. */
export function PasteValues({ view, draft, onClose }: Props) {
  const text = draft.value;
  const edits = useEdits(view, () => undefined);
  const read = useQuery({
    queryKey: ["read values", view.project, view.model, view.revision, text],
    queryFn: () => readValues(view, text),
    enabled: text.trim() !== "",
    placeholderData: (before) => before,
    staleTime: Infinity,
    gcTime: 0,
  });
  const unread = (text.trim() && read.data?.unread) || [];
  const count = (text.trim() && read.data?.count) || 0;
  const add = () =>
    edits.mutate(
      { do: "figures", text },
      {
        onSuccess: () => {
          if (unread.length > 0) draft.change(unread.map((line) => line.text).join("\n"));
          else {
            draft.forget();
            onClose();
          }
        },
      },
    );
  return (
    <div className="rule-b flex flex-col gap-2 px-3 py-2" data-testid="paste-values">
      <textarea
        autoFocus
        className="textarea mono h-40 w-full"
        placeholder={
          "R = 2.3 Ohm   % lines of a script,\nL = 0.5 mH;   # with units and remarks,\nJ\t12\tg.cm2\tor cells of name, value, unit and note"
        }
        aria-label="Values to paste"
        value={text}
        onChange={(event) => {
          draft.change(event.target.value);
          edits.reset();
        }}
        onKeyDown={(event) => event.key === "Escape" && onClose()}
        data-testid="figures-rows"
      />
      {unread.length > 0 && (
        <div className="max-h-32 overflow-y-auto text-[12px]" data-testid="unread-lines">
          <p className="text-warning">
            {counted(unread.length, "line")} not understood; {unread.length === 1 ? "it" : "they"}{" "}
            will stay here:
          </p>
          <table>
            <tbody>
              {unread.slice(0, MOST_UNREAD).map((line) => (
                <tr key={line.line} className="align-baseline">
                  <td className="muted pr-2 text-right whitespace-nowrap">line {line.line}</td>
                  <td className="mono max-w-80 truncate pr-3" title={line.text}>
                    {line.text}
                  </td>
                  <td>{line.reason}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
      {(edits.error || read.error) && (
        <p role="alert" className="text-error" data-testid="figures-fault">
          ✕ {asRefusal(edits.error ?? read.error).sentence}
        </p>
      )}
      <div className="flex items-center gap-2">
        <button
          type="button"
          className="btn btn-sm btn-primary"
          disabled={count === 0 || read.isPlaceholderData || edits.isPending}
          onClick={add}
          data-testid="figures-take"
        >
          {edits.isPending
            ? `Adding ${counted(count, "value")}…`
            : count === 0
              ? "Add values"
              : `Add ${counted(count, "value")}`}
        </button>
        <button type="button" className="btn btn-sm" onClick={onClose}>
          Cancel
        </button>
        {read.isFetching && <span className="muted">Reading…</span>}
      </div>
    </div>
  );
}
