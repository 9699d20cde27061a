import { note, useNotice } from "../state/notice";

/** The newest sentence about the files of a project, until somebody has read it. */
export function Notice({ project }: { project: number }) {
  const notice = useNotice();
  if (notice.project !== project || !notice.sentence) return null;
  return (
    <p role="status" className="rule-b bg-base-100 px-3 py-1.5" data-testid="notice">
      {notice.sentence}
      <button type="button" className="btn btn-ghost btn-xs ml-3" onClick={() => note(0, "")}>
        Dismiss
      </button>
    </p>
  );
}
