import { useConnection } from "@xyflow/react";

import { misfit } from "./building";
import { useSheet } from "./context";

/** Says why the port under the pointer does not go with the one from which a wire is drawn. */
export function WhyNot() {
  const { sheet } = useSheet();
  const connection = useConnection();
  if (!connection.inProgress || !connection.toHandle || connection.isValid) return null;
  const reason = misfit(
    sheet,
    { part: connection.fromHandle.nodeId, port: connection.fromHandle.id ?? "" },
    { part: connection.toHandle.nodeId, port: connection.toHandle.id ?? "" },
  );
  if (!reason) return null;
  return (
    <div
      role="status"
      className="pointer-events-none absolute top-12 left-1/2 z-20 -translate-x-1/2 border border-error bg-base-100 px-2 py-1"
      data-testid="why-not"
    >
      ✕ {reason}
    </div>
  );
}
