import { note, useNotice } from "../state/notice";

interface NoticeProps {
  project: number;
  /** The file on the screen, and how the text kept beside it is compared with what is there. */
  file?: string;
  onCompare?: (revision: number) => void;
}

/** The newest sentence about the files of a project, until somebody has read it. */
export function Notice({ project, file, onCompare }: NoticeProps) {
  const notice = useNotice();
  if (notice.project !== project || !notice.sentence) return null;
  return (
    <p role="status" className="rule-b bg-base-100 px-3 py-1.5" data-testid="notice">
      {notice.sentence}
      {onCompare && notice.revision > 0 && notice.file === file && (
        <button
          type="button"
          className="btn btn-xs ml-3"
          onClick={() => {
            onCompare(notice.revision);
            note(0, "");
          }}
          data-testid="compare-both"
        >
          Compare both
        </button>
      )}
      <button type="button" className="btn btn-ghost btn-xs ml-3" onClick={() => note(0, "")}>
        Dismiss
      </button>
    </p>
  );
}
