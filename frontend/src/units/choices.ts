import type { Schemas } from "../api/client";

export type Choices = Omit<Required<Schemas["UnitOrder"]>, "platforms"> & { platforms: string[] };
export type UnitView = Schemas["UnitView"];

export const USUAL: Choices = {
  version: 3,
  interfaces: ["me", "cs"],
  parameters: null,
  outputs: [],
  sealed: false,
  solver: "variable",
  step: 0.001,
  documentation: true,
  symbol: true,
  log: ["events", "steps", "warnings"],
  platforms: [],
  scenario: "base",
  ssp: "",
};

/** Platforms as people name them. */
const PLATFORMS: Record<string, string> = {
  linux64: "Linux, 64 bit",
  linux32: "Linux, 32 bit",
  "linux-arm": "Linux on ARM",
  win64: "Windows, 64 bit",
  win32: "Windows, 32 bit",
  darwin64: "macOS, Intel",
  "darwin-arm": "macOS, ARM",
};

export function platformWords(name: string): string {
  return PLATFORMS[name] ?? name;
}

/** What keeps a unit from being made with these choices, in words; null when nothing does. */
export function obstacle(choices: Choices): string | null {
  if (choices.interfaces.length === 0)
    return "Choose model exchange, co-simulation, or both: a unit needs one of them.";
  if (choices.interfaces.includes("cs") && choices.solver === "fixed" && !(choices.step > 0))
    return "Give the size of the fixed step in seconds.";
  return null;
}

/** What is sent for the choices on the page. */
export function orderOf(choices: Choices): Schemas["UnitOrder"] {
  return {
    ...choices,
    step: choices.solver === "fixed" ? choices.step : 0,
    platforms: choices.platforms.length > 0 ? choices.platforms : null,
  };
}

/** A unit in a line: the version and what it is for. */
export function kindWords(unit: Schemas["UnitChoices"]): string {
  if (unit.ssp) return `the rig as SSP ${unit.ssp}`;
  const kinds = [
    unit.interfaces.includes("me") ? "model exchange" : "",
    unit.interfaces.includes("cs") ? "co-simulation" : "",
  ].filter(Boolean);
  return `FMI ${unit.version}.0 for ${kinds.join(" and ")}`;
}

/** A size in kB or MB. */
export function sizeWords(bytes: number): string {
  return bytes < 1e6
    ? `${Math.max(1, Math.round(bytes / 1e3))} kB`
    : `${(bytes / 1e6).toFixed(1)} MB`;
}
