import { useMutation, useQueryClient } from "@tanstack/react-query";

import { ask, client } from "../api/client";
import { keys } from "../api/queries";
import { useDeleted } from "./deleted";

/** Offers to bring back what was just deleted. */
export function Undoing() {
  const { last, note } = useDeleted();
  const cache = useQueryClient();
  const restore = useMutation({
    mutationFn: (): Promise<unknown> =>
      last?.file !== undefined
        ? ask(client.POST("/api/files/{file}/restore", { params: { path: { file: last.file } } }))
        : ask(
            client.POST("/api/projects/{project}/restore", {
              params: { path: { project: last!.project! } },
            }),
          ),
    onSuccess: () => {
      note(null);
      return cache.invalidateQueries({ queryKey: keys.projects });
    },
  });
  if (!last) return null;
  return (
    <div
      role="status"
      className="fixed bottom-4 left-1/2 z-40 flex -translate-x-1/2 items-center gap-3 border border-base-300 bg-base-100 px-4 py-2 shadow-md"
      data-testid="deleted"
    >
      <span>{last.words}</span>
      <button
        type="button"
        className="btn btn-sm"
        onClick={() => restore.mutate()}
        data-testid="undelete"
      >
        Bring it back
      </button>
      <button type="button" className="btn btn-sm btn-ghost" onClick={() => note(null)}>
        Dismiss
      </button>
    </div>
  );
}
