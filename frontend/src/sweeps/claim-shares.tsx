import type { Detail } from "./part";
import { shareWords } from "../ui/claim-share";

/** The claims of the model with the share of the points at which each holds; a click shows a point at which it fails. */
export function ClaimShares({ sweep, onPick }: { sweep: Detail; onPick: (point: number) => void }) {
  if (sweep.claims.length === 0) return null;
  return (
    <table className="self-start text-[12px]" aria-label="Claims" data-testid="claim-shares">
      <tbody>
        {sweep.claims.map((claim, k) => {
          const failing = sweep.points.find((p) => p.claims[k] === false);
          return (
            <tr key={claim.text} data-testid={`claim-share-${k}`}>
              <td className={claim.fail > 0 ? "text-error" : claim.hold > 0 ? "text-success" : ""}>
                {claim.fail > 0 ? "✕" : claim.hold > 0 ? "✓" : "○"}
              </td>
              <td className="mono px-2">{claim.text}</td>
              <td className="pr-2 whitespace-nowrap">{shareWords(claim)}</td>
              <td>
                {failing && (
                  <button
                    type="button"
                    className="btn btn-ghost btn-xs font-normal whitespace-nowrap"
                    onClick={() => onPick(failing.number)}
                    data-testid={`claim-failing-${k}`}
                  >
                    show one where it fails
                  </button>
                )}
              </td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}
