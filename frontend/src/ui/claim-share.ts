import type { components } from "../api/schema";

export type ClaimCount = components["schemas"]["ClaimCount"];

/** How often a claim holds: "holds in 97 % of 500"; what could not be judged is said, and a share is never rounded to all. */
export function shareWords({ hold, fail, open }: ClaimCount): string {
  const judged = hold + fail;
  const rest = open > 0 ? `, ${open} not judged` : "";
  if (judged === 0) return open > 0 ? `not judged at any of ${open}` : "not judged yet";
  if (fail === 0) return `holds in all ${judged}${rest}`;
  if (hold === 0) return `fails in all ${judged}${rest}`;
  const percent = Math.min(99.9, Math.max(0.1, (100 * hold) / judged));
  const digits = percent > 99 || percent < 1 ? 1 : 0;
  return `holds in ${percent.toFixed(digits)} % of ${judged}${rest}`;
}
