import type { Schemas } from "../api/client";
import { numberOf } from "./types";

export type Step = Schemas["PreparationOrder"]["step"];
export type Kind = Step["do"];

/** What is typed for a step. */
export interface Draft {
  column: string;
  low: string;
  high: string;
  by: string;
  period: string;
  deviations: string;
  window: string;
  file: string;
  how: "beside" | "after";
  shift: string;
  unit: string;
}

export const EMPTY_DRAFT: Draft = {
  column: "",
  low: "",
  high: "",
  by: "",
  period: "",
  deviations: "5",
  window: "21",
  file: "",
  how: "beside",
  shift: "0",
  unit: "",
};

/** The kinds of steps, as they are chosen. */
export const KIND_WORDS: Record<Kind, string> = {
  crop: "leave out the ends",
  outliers: "mark outliers",
  "low pass": "smooth a column",
  resample: "average over periods",
  offset: "add to a column",
  shift: "move in time",
  join: "join another file",
  "in unit": "correct a unit",
  "as time": "take another column as time",
};

/** The step that a draft says; none while something is missing. */
export function stepOf(kind: Kind, draft: Draft): Step | null {
  const [low, high] = [numberOf(draft.low), numberOf(draft.high)];
  const [by, period] = [numberOf(draft.by), numberOf(draft.period)];
  const { column, file, how } = draft;
  switch (kind) {
    case "crop":
      return low === null && high === null ? null : { do: kind, low, high };
    case "offset":
      return column && by !== null ? { do: kind, column, by } : null;
    case "shift":
      return by !== null ? { do: kind, by } : null;
    case "resample":
      return period !== null ? { do: kind, period } : null;
    case "low pass":
      return column && period !== null ? { do: kind, column, period } : null;
    case "outliers": {
      const [deviations, window] = [numberOf(draft.deviations), numberOf(draft.window)];
      return column && deviations !== null && window !== null
        ? { do: kind, column, deviations, window: Math.round(window) }
        : null;
    }
    case "in unit":
      return column ? { do: kind, column, unit: draft.unit.trim() } : null;
    case "as time":
      return column ? { do: kind, column, unit: draft.unit.trim() || "s" } : null;
    case "join": {
      const shift = numberOf(draft.shift);
      return file && shift !== null ? { do: kind, file, how, shift } : null;
    }
  }
}
