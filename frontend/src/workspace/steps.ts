import { useNavigate, useSearchParams } from "react-router";

import type { ModelView } from "../api/client";

/** One step down: the model one came from and the part that was opened. */
export interface Step {
  model: string;
  part: string;
}

export function readSteps(via: string | null): Step[] {
  return (via ?? "")
    .split(",")
    .filter(Boolean)
    .map((piece) => ({
      model: piece.slice(0, piece.lastIndexOf("~")),
      part: piece.slice(piece.lastIndexOf("~") + 1),
    }));
}

export function address(project: number, model: string, steps: Step[]): string {
  const via = steps.map((s) => `${s.model}~${s.part}`).join(",");
  return `/projects/${project}/models/${encodeURIComponent(model)}${via ? `?via=${encodeURIComponent(via)}` : ""}`;
}

/** Opens the assembly behind a part, remembering where one came from. */
export function useStepIn(view: ModelView) {
  const navigate = useNavigate();
  const [search] = useSearchParams();
  return (part: string) => {
    const component = view.sheet.components.find((c) => c.name === part);
    if (component?.opens)
      void navigate(
        address(view.project, component.class, [
          ...readSteps(search.get("via")),
          { model: view.model, part },
        ]),
      );
  };
}
