import { NamesField } from "./names-field";
import type { Rest } from "./rest";

interface Props {
  rest: Rest;
  onChange: (rest: Rest) => void;
  variables: string[];
  settable: string[];
  units: Map<string, string>;
}

/** A state at rest: which values it is to have, which inputs are found for them, and what may go on moving. */
export function RestFields({ rest, onChange, variables, settable, units }: Props) {
  return (
    <div className="ml-6 flex flex-col gap-2" data-testid="linear-rest">
      <NamesField
        title="Held values"
        words="variables that are to have a value there"
        names={variables}
        chosen={Object.keys(rest.held)}
        onChange={(names) =>
          onChange({
            ...rest,
            held: Object.fromEntries(names.map((name) => [name, rest.held[name] ?? ""])),
          })
        }
        testid="rest-held"
      />
      {Object.entries(rest.held).map(([name, typed]) => (
        <label key={name} className="flex items-center gap-2">
          <span className="mono">{name}</span> =
          <input
            className="input input-sm mono w-28"
            aria-label={`Value of ${name}`}
            value={typed}
            onChange={(event) =>
              onChange({ ...rest, held: { ...rest.held, [name]: event.target.value } })
            }
            data-testid={`rest-value-${name}`}
          />
          <span className="muted">{units.get(name)}</span>
        </label>
      ))}
      <NamesField
        title="Inputs that are found"
        words="inputs or parameters that may change for it, as many as there are values"
        names={settable}
        chosen={rest.free}
        onChange={(free) => onChange({ ...rest, free })}
        testid="rest-free"
      />
      <NamesField
        title="States that may move"
        words="states that may go on changing, such as the angle of a shaft that turns"
        names={variables}
        chosen={rest.moving}
        onChange={(moving) => onChange({ ...rest, moving })}
        testid="rest-moving"
      />
    </div>
  );
}
