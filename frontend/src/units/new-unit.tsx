import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";

import { ask, asRefusal, client, type ModelView } from "../api/client";
import { usePlace } from "../state/place";
import { scenariosOf } from "../state/scenarios";
import { oneAfterTheOther } from "../state/use-edits";
import { formatTime, formatUnit } from "../ui/format";
import { rowWords } from "../ui/row-text";
import { obstacle, orderOf, platformWords, USUAL, type Choices } from "./choices";
import { Choice, Part } from "./form";
import { NameList } from "./name-list";

interface Props {
  view: ModelView;
  platforms: string[];
  onOrdered: (unit: number) => void;
}

type Change = (part: Partial<Choices>) => void;

const LOGS: [Choices["log"][number], string][] = [
  ["events", "what happens at events"],
  ["steps", "each step of the solver in co-simulation"],
  ["warnings", "assertions that are warnings"],
];

/** The page of choices from which a unit is made. */
export function NewUnit({ view, platforms, onOrdered }: Props) {
  const cache = useQueryClient();
  const active = usePlace((s) => s.scenario);
  const [choices, setChoices] = useState<Choices>({
    ...USUAL,
    interfaces: view.rig ? ["cs"] : USUAL.interfaces,
    scenario: active,
  });
  const change = (part: Partial<Choices>) => setChoices((now) => ({ ...now, ...part }));
  const order = useMutation({
    scope: oneAfterTheOther(view),
    mutationFn: () =>
      ask(
        client.POST("/api/projects/{project}/models/{model}/units", {
          params: { path: { project: view.project, model: view.model } },
          body: orderOf(choices),
        }),
      ),
    onSuccess: (made) => {
      void cache.invalidateQueries({ queryKey: ["units", view.project, view.model] });
      onOrdered(made.id);
    },
  });
  const parameters = view.rows.filter((row) => row.group !== "watch" && row.fixed === null);
  const curves = view.rows.filter((row) => row.group === "watch");
  const why = obstacle(choices);
  return (
    <form
      className="flex max-w-3xl flex-col gap-4 p-4"
      data-testid="unit-form"
      onSubmit={(event) => {
        event.preventDefault();
        if (!why) order.mutate();
      }}
    >
      <p className="muted max-w-prose">
        A unit is this model as a file that other simulation programs load: one archive by the
        Functional Mock-up Interface standard, with its own solver if you like.
        {view.rig &&
          ` That of a rig contains its units and couples them every ${formatTime(view.rig.step)}.`}
      </p>
      <Part title="Version of the standard">
        {[3, 2].map((version) => (
          <Choice
            key={version}
            kind="radio"
            name="version"
            words={`FMI ${version}.0`}
            beside={
              version === 2
                ? "understood by most programs"
                : view.rig
                  ? ""
                  : "arrays, adjoint derivatives"
            }
            checked={choices.version === version}
            onChange={() => change({ version })}
            testid={`unit-version-${version}`}
          />
        ))}
      </Part>
      {!view.rig && <Purpose choices={choices} change={change} />}
      {view.scenarios.length > 0 && (
        <Part title="Values of the scenario">
          <select
            className="select select-sm w-56"
            aria-label="Scenario whose values the unit has"
            value={choices.scenario}
            onChange={(event) => change({ scenario: event.target.value })}
            data-testid="unit-scenario"
          >
            {scenariosOf(view).map((s) => (
              <option key={s.name}>{s.name}</option>
            ))}
          </select>
        </Part>
      )}
      <Part title="Parameters that can be set in the unit">
        <Choice
          kind="radio"
          name="parameters"
          words={`all ${parameters.length}`}
          checked={choices.parameters === null}
          onChange={() => change({ parameters: null })}
          testid="unit-parameters-all"
        />
        <Choice
          kind="radio"
          name="parameters"
          words="only these, the others keep their values inside"
          checked={choices.parameters !== null}
          onChange={() => change({ parameters: [] })}
          testid="unit-parameters-some"
        />
        {choices.parameters !== null && (
          <NameList
            label="Parameter that stays visible"
            names={choices.parameters}
            choice={parameters.map((row) => ({
              name: row.name,
              words: `${rowWords(row)} ${row.description}`.trim(),
            }))}
            onChange={(names) => change({ parameters: names })}
            testid="unit-parameters"
          />
        )}
      </Part>
      <Part title="Outputs">
        <p className="muted pl-6 text-[12px]">
          Outputs that the model declares are outputs of the unit; other variables become some here.
        </p>
        <NameList
          label="Variable that becomes an output"
          names={choices.outputs}
          choice={curves.map((row) => ({
            name: row.name,
            words: `${formatUnit(row.unit)} ${row.description}`.trim(),
          }))}
          onChange={(names) => change({ outputs: names })}
          testid="unit-outputs"
        />
      </Part>
      <Part title="What others see">
        <Choice
          kind="radio"
          name="sealed"
          words="open"
          beside={
            view.rig ? "signals between its units, too" : "all variables, and the sources in C"
          }
          checked={!choices.sealed}
          onChange={() => change({ sealed: false })}
          testid="unit-open"
        />
        <Choice
          kind="radio"
          name="sealed"
          words="sealed"
          beside={`inputs, outputs and visible parameters only${view.rig ? "" : ", no sources"}`}
          checked={choices.sealed}
          onChange={() => change({ sealed: true })}
          testid="unit-sealed"
        />
        <Choice
          kind="checkbox"
          words="with a page of documentation"
          checked={choices.documentation}
          onChange={() => change({ documentation: !choices.documentation })}
          testid="unit-documentation"
        />
        <Choice
          kind="checkbox"
          words="with the symbol as a picture"
          beside="and the connectors as terminals (version 3)"
          checked={choices.symbol}
          onChange={() => change({ symbol: !choices.symbol })}
          testid="unit-symbol"
        />
      </Part>
      <Part title="Messages that the other program can ask for">
        {LOGS.filter(([kind]) => !view.rig || kind !== "steps").map(([kind, words]) => (
          <Choice
            key={kind}
            kind="checkbox"
            words={words}
            checked={choices.log.includes(kind)}
            onChange={() => change({ log: toggled(choices.log, kind) })}
            testid={`unit-log-${kind}`}
          />
        ))}
        <p className="muted pl-6 text-[12px]">What makes a call fail is always told.</p>
      </Part>
      <Part title="Compiled for">
        {platforms.length === 0 && (
          <p className="max-w-prose pl-6">
            There is no compiler here: the unit will hold its sources and no binary. Install the
            system’s C compiler, or the Python package ziglang.
          </p>
        )}
        {platforms.length === 1 && (
          <p className="pl-6">{platformWords(platforms[0]!)} (this machine)</p>
        )}
        {platforms.length > 1 &&
          platforms.map((platform) => (
            <Choice
              key={platform}
              kind="checkbox"
              words={platformWords(platform)}
              checked={choices.platforms.includes(platform)}
              onChange={() => change({ platforms: toggled(choices.platforms, platform) })}
              testid={`unit-platform-${platform}`}
            />
          ))}
        {platforms.length === 1 && (
          <p className="muted max-w-prose pl-6 text-[12px]">
            With the Python package ziglang, units are compiled for Windows, macOS and ARM, too.
          </p>
        )}
      </Part>
      <div className="flex items-center gap-3">
        <button
          type="submit"
          className="btn btn-primary btn-sm"
          disabled={order.isPending || why !== null}
          data-testid="unit-make"
        >
          Make the unit
        </button>
        {why && <span data-testid="unit-obstacle">{why}</span>}
        {order.error && (
          <span className="text-error" data-testid="unit-refusal">
            {asRefusal(order.error).sentence}
          </span>
        )}
      </div>
    </form>
  );
}

/** Model exchange, co-simulation or both, and how the latter integrates. */
function Purpose({ choices, change }: { choices: Choices; change: Change }) {
  return (
    <Part title="For">
      <Choice
        kind="checkbox"
        words="model exchange"
        beside="the other program integrates its states"
        checked={choices.interfaces.includes("me")}
        onChange={() => change({ interfaces: toggled(choices.interfaces, "me") })}
        testid="unit-me"
      />
      <Choice
        kind="checkbox"
        words="co-simulation"
        beside="the unit brings a solver of its own"
        checked={choices.interfaces.includes("cs")}
        onChange={() => change({ interfaces: toggled(choices.interfaces, "cs") })}
        testid="unit-cs"
      />
      {choices.interfaces.includes("cs") && (
        <div className="flex items-center gap-4 pl-6">
          <Choice
            kind="radio"
            name="solver"
            words="variable steps, stiff"
            checked={choices.solver === "variable"}
            onChange={() => change({ solver: "variable" })}
            testid="unit-solver-variable"
          />
          <Choice
            kind="radio"
            name="solver"
            words="fixed steps of"
            checked={choices.solver === "fixed"}
            onChange={() => change({ solver: "fixed" })}
            testid="unit-solver-fixed"
          />
          <input
            className="input input-sm mono w-24"
            aria-label="Size of the fixed step in seconds"
            defaultValue={USUAL.step}
            disabled={choices.solver !== "fixed"}
            onChange={(event) => change({ step: Number(event.target.value) })}
            data-testid="unit-step"
          />
          <span className="muted">s</span>
        </div>
      )}
    </Part>
  );
}

function toggled<T>(list: T[], item: T): T[] {
  return list.includes(item) ? list.filter((other) => other !== item) : [...list, item];
}
