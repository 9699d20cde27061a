import { perCent } from "./cables";
import type { StepCheck } from "./use-step-check";

/** The button that starts the check, and its outcome in a sentence. */
export function StepCheckLine({ check, canCheck }: { check: StepCheck; canCheck: boolean }) {
  return (
    <p className="flex flex-wrap items-center gap-3">
      <button
        type="button"
        className="btn btn-sm"
        disabled={!canCheck || check.waiting}
        onClick={check.order}
        title={canCheck ? "Repeat the newest run at half the step" : "Run the rig first"}
        data-testid="check-step"
      >
        {check.waiting ? "Running at half the step…" : "Is the step small enough?"}
      </button>
      {check.refusal && <span className="text-error">✕ {check.refusal}</span>}
      {check.worst && (
        <span data-testid="step-verdict">
          At half the step {check.worst.source} differs most: {perCent(check.worst.largest)} of its
          range at {check.worst.at.toPrecision(4)} s, {perCent(check.worst.mean)} on average.
        </span>
      )}
      {!canCheck && <span className="muted">Run the rig first; then it can be checked.</span>}
    </p>
  );
}
