import { useMutation } from "@tanstack/react-query";
import { useState } from "react";

import { ask, asRefusal, client, type ModelView } from "../api/client";
import { usePlace } from "../state/place";
import type { Edits } from "../state/use-edits";
import { formatUnit } from "../ui/format";
import type { ForeignPage } from "./foreign-unit";
import { Choice, Part } from "./form";
import { freeClassName, groupedBy, isPort, orderOfPart, ROLES, type PartDraft } from "./part-draft";

interface Props {
  view: ModelView;
  edits: Edits;
  page: ForeignPage;
  onPlace: () => { x: number; y: number };
}

/** How a unit of others becomes a part: its name, how it is solved, which variables are seen and what they are called. */
export function ForeignPart({ view, edits, page, onPlace }: Props) {
  const setView = usePlace((s) => s.setView);
  const [draft, setDraft] = useState<PartDraft>(() => ({
    name: freeClassName(view, page.class),
    kind: page.interfaces.includes("cs") ? "cs" : "me",
    step: String(page.step),
    seen: {},
    names: {},
    groups: groupedBy(page.variables, "terminal"),
  }));
  const change = (part: Partial<PartDraft>) => setDraft((now) => ({ ...now, ...part }));
  const place = useMutation({
    mutationFn: async () => {
      const { text } = await ask(
        client.POST("/api/foreign-units/{unit}/part", {
          params: { path: { unit: page.unit.id } },
          body: orderOfPart(draft, page),
        }),
      );
      return edits.mutateAsync({ do: "component", text, replaces: "", ...onPlace() });
    },
    onSuccess: () => setView("sheet"),
  });
  const step = Number(draft.step);
  const wrong = draft.kind === "cs" && !(step > 0);
  return (
    <form
      className="flex flex-col gap-3"
      data-testid="foreign-part"
      onSubmit={(event) => {
        event.preventDefault();
        if (!wrong) place.mutate();
      }}
    >
      <Part title="As a part on the sheet">
        <label className="flex items-center gap-2">
          <span className="w-36">name of its class</span>
          <input
            className="input input-sm mono w-56"
            value={draft.name}
            onChange={(event) => change({ name: event.target.value })}
            data-testid="foreign-part-name"
          />
        </label>
        {page.interfaces.includes("cs") && (
          <div className="flex items-center gap-2">
            <Choice
              kind="radio"
              name="solving"
              words="by its own solver, stepped every"
              checked={draft.kind === "cs"}
              onChange={() => change({ kind: "cs" })}
              testid="foreign-part-cs"
            />
            <input
              className="input input-sm mono w-24"
              aria-label="Communication step in seconds"
              value={draft.step}
              disabled={draft.kind !== "cs"}
              onChange={(event) => change({ step: event.target.value })}
              data-testid="foreign-part-step"
            />
            <span className="muted">s</span>
          </div>
        )}
        {page.interfaces.includes("me") && (
          <Choice
            kind="radio"
            name="solving"
            words="by the model’s solver"
            beside="its states and events are solved with the model’s"
            checked={draft.kind === "me"}
            onChange={() => change({ kind: "me" })}
            testid="foreign-part-me"
          />
        )}
      </Part>
      <Headings page={page} groups={draft.groups} onChange={(groups) => change({ groups })} />
      <div className="max-h-72 overflow-y-auto border border-base-300">
        <table className="w-full">
          <thead className="sticky top-0 bg-base-100">
            <tr className="muted rule-b text-left text-[12px]">
              <th className="px-2 font-normal">seen</th>
              <th className="font-normal">as</th>
              <th className="font-normal">variable of the unit</th>
              <th className="font-normal">called here</th>
              <th className="font-normal">heading</th>
              <th className="font-normal">start</th>
              <th className="pr-2 font-normal">what it is</th>
            </tr>
          </thead>
          <tbody>
            {page.variables.map((v) => {
              const seen = draft.seen[v.name] ?? v.role !== "";
              return (
                <tr key={v.name} className="align-baseline" data-testid={`variable-${v.name}`}>
                  <td className="px-2">
                    <input
                      type="checkbox"
                      className="checkbox checkbox-xs"
                      checked={seen}
                      aria-label={`${v.name} is seen`}
                      onChange={() => change({ seen: { ...draft.seen, [v.name]: !seen } })}
                    />
                  </td>
                  <td className="muted pr-3">{ROLES[v.role ?? ""]}</td>
                  <td className="mono max-w-64 truncate pr-3" title={v.name}>
                    {v.name}
                    {v.size && <span className="muted"> [{v.size}]</span>}
                  </td>
                  <td className="pr-3">
                    <input
                      className="input input-xs mono w-36"
                      aria-label={`Name of ${v.name} in the part`}
                      value={draft.names[v.name] ?? v.name_in_class}
                      disabled={!seen}
                      onChange={(event) =>
                        change({ names: { ...draft.names, [v.name]: event.target.value } })
                      }
                    />
                  </td>
                  <td className="pr-3">
                    {isPort(v) && (
                      <input
                        className="input input-xs w-24"
                        aria-label={`Heading of ${v.name} on the symbol`}
                        value={draft.groups[v.name] ?? ""}
                        disabled={!seen}
                        onChange={(event) =>
                          change({ groups: { ...draft.groups, [v.name]: event.target.value } })
                        }
                        data-testid={`heading-${v.name}`}
                      />
                    )}
                  </td>
                  <td className="mono pr-3 whitespace-nowrap">
                    {v.start} {v.start && formatUnit(v.unit ?? "")}
                    {!v.start && <span className="muted">{formatUnit(v.unit ?? "")}</span>}
                  </td>
                  <td className="muted w-full max-w-0 truncate pr-2" title={v.description}>
                    {v.description || v.kind}
                  </td>
                </tr>
              );
            })}
          </tbody>
        </table>
      </div>
      {page.left_out && <p className="muted">{page.left_out}</p>}
      {(page.more ?? 0) > 0 && (
        <p className="muted">And {page.more} variables more, which are not seen.</p>
      )}
      <div className="flex items-center gap-3">
        <button
          type="submit"
          className="btn btn-primary btn-sm"
          disabled={place.isPending || wrong}
          data-testid="foreign-part-place"
        >
          Put it on the sheet
        </button>
        {wrong && <span>Give the communication step in seconds.</span>}
        {place.error && (
          <span className="text-error" data-testid="foreign-part-refusal">
            {asRefusal(place.error).sentence}
          </span>
        )}
      </div>
    </form>
  );
}

interface HeadingsProps {
  page: ForeignPage;
  groups: Record<string, string>;
  onChange: (groups: Record<string, string>) => void;
}

/** Ways to bring many inputs and outputs under headings at once; each can be changed in the table. */
function Headings({ page, groups, onChange }: HeadingsProps) {
  const terminals = groupedBy(page.variables, "terminal");
  const stems = groupedBy(page.variables, "stem");
  const ways: [string, string, Record<string, string>][] = [
    ["none", "without headings", {}],
    ["terminal", "by the unit’s terminals", terminals],
    ["stem", "as their names begin", stems],
  ];
  if (Object.keys(terminals).length + Object.keys(stems).length === 0) return null;
  return (
    <p className="flex items-center gap-2">
      <span className="w-36">ports on the symbol</span>
      {ways.map(
        ([key, words, way]) =>
          (key === "none" || Object.keys(way).length > 0) && (
            <button
              key={key}
              type="button"
              className="btn btn-xs font-normal"
              aria-pressed={same(groups, way)}
              onClick={() => onChange(way)}
              data-testid={`headings-${key}`}
            >
              {same(groups, way) && "✓ "}
              {words}
            </button>
          ),
      )}
    </p>
  );
}

function same(a: Record<string, string>, b: Record<string, string>): boolean {
  const names = Object.keys(a);
  return names.length === Object.keys(b).length && names.every((name) => a[name] === b[name]);
}
