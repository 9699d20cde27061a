import { useEffect, useId, useRef, type ReactNode } from "react";

import type { Schemas } from "../api/client";

/** For each missing class: a stub, or the name of one of ours. */
export type Decided = Record<string, string>;

interface Props {
  name: string;
  report: Schemas["ImportReport"];
  decided: Decided;
  busy: boolean;
  onDecide: (decided: Decided) => void;
  onTake: () => void;
  onClose: () => void;
}

/** What is to be said about text of others before it is taken in, with what can be decided. */
export default function ImportReport({
  name,
  report,
  decided,
  busy,
  onDecide,
  onTake,
  onClose,
}: Props) {
  const open = report.missing.filter((m) => !m.decided);
  const nothing = report.classes === 0;
  const obstacle =
    report.clashes.length > 0
      ? "Rename or delete what clashes, or import into a project of its own."
      : open.length > 0
        ? `Decide about ${open.length === 1 ? "the missing class" : `${open.length} missing classes`}.`
        : nothing
          ? "There is nothing to import: all of it is here already."
          : "";
  const dialog = useRef<HTMLDialogElement>(null);
  const title = useId();
  useEffect(() => {
    const element = dialog.current!;
    element.showModal();
    return () => element.close();
  }, []);
  return (
    <dialog
      ref={dialog}
      className="m-auto max-h-[85vh] w-[46rem] max-w-[95vw] flex-col gap-4 border border-base-content bg-base-100 p-5 text-base-content open:flex"
      aria-labelledby={title}
      onCancel={onClose}
      data-testid="import-report"
    >
      <h2 id={title} className="text-[16px] font-semibold">
        {name}
      </h2>
      <p className="muted">
        {count(report.classes, "class", "classes")} in {count(report.files, "file")},{" "}
        {count(report.models.length, "model")} that can be opened.
        {report.left_out.length > 0 &&
          ` Here already, and left out: ${report.left_out.slice(0, 6).join(", ")}${report.left_out.length > 6 ? ` and ${report.left_out.length - 6} more` : ""}.`}
      </p>
      <div className="flex min-h-0 flex-col gap-4 overflow-y-auto p-1">
        {report.clashes.length > 0 && (
          <Section title="Names that clash">
            {report.clashes.map((clash) => (
              <li key={clash.name}>
                {clash.sentence} <Place file={clash.file} line={clash.line} />
              </li>
            ))}
          </Section>
        )}
        {report.missing.length > 0 && (
          <Section title="Missing classes">
            {report.missing.map((missing) => (
              <li
                key={missing.name}
                className="flex items-baseline gap-3"
                data-testid={`missing-${missing.name}`}
              >
                <span className="min-w-0 flex-1">
                  <span className="mono">{missing.name}</span>
                  {missing.used_by && (
                    <span className="muted">
                      {" "}
                      named {missing.count === 1 ? "once" : `${missing.count} times`}, first by{" "}
                      {missing.used_by} <Place file={missing.file} line={missing.line} />
                    </span>
                  )}
                  {(missing.ports.length > 0 || missing.parameters.length > 0) && (
                    <span className="muted block text-[12px]">
                      {missing.ports.length > 0 && `ports ${missing.ports.join(", ")}`}
                      {missing.ports.length > 0 && missing.parameters.length > 0 && "; "}
                      {missing.parameters.length > 0 &&
                        `parameters ${missing.parameters.join(", ")}`}
                    </span>
                  )}
                </span>
                <select
                  className="select select-sm w-56 shrink-0"
                  aria-label={`What stands in for ${missing.name}`}
                  value={decided[missing.name] ?? ""}
                  disabled={busy}
                  onChange={(event) => onDecide({ ...decided, [missing.name]: event.target.value })}
                >
                  <option value="">not decided</option>
                  <option value="stub">a stub with these ports</option>
                  {missing.decided && missing.decided !== "stub" && (
                    <option>{missing.decided}</option>
                  )}
                  {missing.candidates
                    .filter((ours) => ours !== missing.decided)
                    .map((ours) => (
                      <option key={ours}>{ours}</option>
                    ))}
                </select>
              </li>
            ))}
          </Section>
        )}
        {report.troubles.length > 0 && (
          <Section title="Models that cannot be run as they are">
            {report.troubles.map((trouble) => (
              <li key={trouble.name}>
                <span className="mono">{trouble.name}</span>: {trouble.sentence}{" "}
                <Place file={trouble.file} line={trouble.line} />
              </li>
            ))}
          </Section>
        )}
      </div>
      <div className="flex items-center justify-end gap-3">
        {obstacle && <span className="mr-auto">{obstacle}</span>}
        <button type="button" className="btn btn-sm" onClick={onClose}>
          Leave it
        </button>
        <button
          type="button"
          className="btn btn-primary btn-sm"
          onClick={onTake}
          disabled={busy || obstacle !== ""}
          data-testid="import-take"
        >
          Import
        </button>
      </div>
    </dialog>
  );
}

function Section({ title, children }: { title: string; children: ReactNode }) {
  return (
    <section>
      <h3 className="pb-1 font-semibold">{title}</h3>
      <ul className="flex flex-col gap-2">{children}</ul>
    </section>
  );
}

function Place({ file, line }: { file: string; line: number }) {
  return file && line > 0 ? (
    <span className="muted mono text-[12px]">
      {file}:{line}
    </span>
  ) : null;
}

function count(n: number, one: string, many = `${one}s`): string {
  return `${n} ${n === 1 ? one : many}`;
}
