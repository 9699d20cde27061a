import { useMutation, useQueryClient } from "@tanstack/react-query";
import { FilePlus } from "lucide-react";
import { lazy, Suspense, useRef, useState } from "react";

import { ask, asRefusal, client, type Schemas } from "../api/client";
import { keys } from "../api/queries";
import { FileInput } from "../ui/file-input";
import type { Decided } from "./import-report";

const ImportReport = lazy(() => import("./import-report"));
type Report = Schemas["ImportReport"];

/** A file that was chosen, with what is to be said about it and what was decided. */
interface Coming {
  file: File;
  report: Report;
  decided: Decided;
}

/** What is sent of the decisions. */
function query(decided: Decided) {
  const stub = Object.keys(decided).filter((name) => decided[name] === "stub");
  const replace = Object.entries(decided)
    .filter(([, ours]) => ours !== "stub" && ours !== "")
    .map(([name, ours]) => `${name}=${ours}`);
  return { stub, replace };
}

/** Modelica text of others for a project: what is fine is taken at once, otherwise a report comes first. */
export function TakeIn({ project }: { project: number }) {
  const input = useRef<HTMLInputElement>(null);
  const cache = useQueryClient();
  const [coming, setComing] = useState<Coming | null>(null);
  const sent = (file: File, decided: Decided) => ({
    params: { path: { project, name: file.name }, query: query(decided) },
    body: file as never,
    bodySerializer: (body: unknown) => body as Blob,
    headers: { "Content-Type": "application/octet-stream" },
  });
  const take = useMutation({
    mutationFn: ({ file, decided }: { file: File; decided: Decided }) =>
      ask(client.POST("/api/projects/{project}/incoming/{name}", sent(file, decided))),
    onSuccess: () => {
      setComing(null);
      return cache.invalidateQueries({ queryKey: keys.projects });
    },
  });
  const look = useMutation({
    mutationFn: ({ file, decided }: { file: File; decided: Decided }) =>
      ask(client.POST("/api/projects/{project}/incoming/{name}/report", sent(file, decided))),
    onSuccess: (report, { file, decided }) => {
      const fine =
        report.missing.length + report.clashes.length + report.troubles.length === 0 &&
        report.classes > 0;
      if (fine) take.mutate({ file, decided });
      else setComing({ file, report, decided });
    },
  });
  const fault = look.error ?? take.error;
  const refused = fault && asRefusal(fault);
  const busy = look.isPending || take.isPending;
  return (
    <div className="flex items-center gap-3">
      {refused && (
        <p role="alert" className="text-error" data-testid="upload-fault">
          ✕{" "}
          {refused.where && `${refused.where.file}:${refused.where.line}:${refused.where.column}: `}
          {refused.sentence}
        </p>
      )}
      <FileInput
        inputRef={input}
        accept=".mo,.zip,.ssp"
        label="Modelica file or archive, or rig (.ssp), to import"
        testid="upload"
        onFile={(file) => {
          take.reset();
          look.mutate({ file, decided: {} });
        }}
      />
      <button
        type="button"
        className="btn btn-sm shrink-0"
        onClick={() => input.current?.click()}
        disabled={busy}
      >
        <FilePlus size={14} /> {busy ? "Reading…" : "Import Modelica or SSP"}
      </button>
      {coming && (
        <Suspense fallback={null}>
          <ImportReport
            name={coming.file.name}
            report={coming.report}
            decided={coming.decided}
            busy={busy}
            onDecide={(decided) => look.mutate({ file: coming.file, decided })}
            onTake={() => take.mutate(coming)}
            onClose={() => setComing(null)}
          />
        </Suspense>
      )}
    </div>
  );
}
