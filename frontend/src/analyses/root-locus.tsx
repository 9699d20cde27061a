import { useState } from "react";

import { formatNumber } from "../ui/format";
import { Plot } from "./plot";
import { type Pair, polesAt } from "./types";

interface Props {
  pair: Pair;
  locus: NonNullable<Pair["locus"]>;
}

/** Where the poles of the closed loop go as its gain grows; a gain can be chosen, and its poles are read. */
export function RootLocus({ pair, locus }: Props) {
  const nearest = locus.gains.findIndex((gain) => gain >= 1);
  const [chosen, setChosen] = useState(nearest < 0 ? locus.gains.length - 1 : nearest);
  const poles = polesAt(locus, chosen);
  const gain = locus.gains[chosen] ?? 0;
  const branches = locus.real.map((real, k) => ({
    name: `branch ${k + 1}`,
    x: real,
    y: locus.imaginary[k]!,
    colour: "var(--run-0)",
  }));
  return (
    <section className="flex flex-col gap-1" data-testid="root-locus">
      <h4 className="font-medium">Root locus, closed with a gain and a minus</h4>
      <Plot
        label="root locus"
        xWords="real part in rad/s"
        yWords="imaginary part in rad/s"
        height={280}
        width={460}
        legend={false}
        lines={[
          ...branches,
          {
            name: "open loop",
            x: locus.real.map((real) => real[0]!),
            y: locus.imaginary.map((imaginary) => imaginary[0]!),
            colour: "var(--color-base-content)",
            marks: "cross",
          },
          {
            name: "zeros",
            x: pair.zeros.map(([re]) => re),
            y: pair.zeros.map(([, im]) => im),
            colour: "var(--color-base-content)",
            marks: "ring",
          },
          {
            name: "chosen gain",
            x: poles.map((p) => p.real),
            y: poles.map((p) => p.imaginary),
            colour: "var(--run-1)",
            marks: "disc",
          },
        ]}
      />
      <label className="flex items-center gap-2">
        gain
        <input
          type="range"
          className="range range-xs w-64"
          min={0}
          max={locus.gains.length - 1}
          value={chosen}
          aria-valuetext={formatNumber(gain, 4)}
          onChange={(event) => setChosen(Number(event.target.value))}
          data-testid="locus-gain"
        />
        <span className="mono">{formatNumber(gain, 4)}</span>
      </label>
      <p className="mono text-[12px]" data-testid="locus-poles">
        {poles
          .filter((p) => p.imaginary >= 0)
          .slice(0, 12)
          .map(
            (p) =>
              `${formatNumber(p.real, 4)}${p.imaginary > 0 ? ` ± ${formatNumber(p.imaginary, 4)}j (damping ${formatNumber(p.damping, 3)})` : ""}`,
          )
          .join(", ")}
      </p>
      <p className="muted text-[12px]">
        × poles of the open loop, ○ its zeros, ● poles with the chosen gain
        {poles.some((p) => p.real > 0) ? "; with this gain it is not stable." : "."}
      </p>
    </section>
  );
}
