import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useRef } from "react";

import { ask, asRefusal, client } from "../api/client";
import { FileInput } from "../ui/file-input";
import { formatTime } from "../ui/format";
import type { DataFile, Preview } from "./types";
import { useDataFiles } from "./use-preview";

interface Props {
  project: number;
  file: DataFile | null;
  /** The preview comes along where the file was taken in just now. */
  onChoose: (file: DataFile | null, preview?: Preview) => void;
}

/** One of the project's files of measurements, or a new one. */
export function MeasurementsChoice({ project, file, onChoose }: Props) {
  const cache = useQueryClient();
  const picker = useRef<HTMLInputElement>(null);
  const files = useDataFiles(project);
  const bring = useMutation({
    mutationFn: (chosen: File) =>
      ask(
        client.POST("/api/projects/{project}/data/{name}", {
          params: { path: { project, name: chosen.name } },
          body: chosen as never,
          bodySerializer: (body: unknown) => body as Blob,
          headers: { "Content-Type": "application/octet-stream" },
        }),
      ),
    onSuccess: (kept) => {
      void cache.invalidateQueries({ queryKey: ["data", project] });
      void cache.invalidateQueries({ queryKey: ["measured", project] });
      cache.setQueryData(["data preview", kept.file.id], kept.preview);
      onChoose(kept.file, kept.preview.prepared);
    },
  });
  return (
    <p className="flex items-center gap-3">
      <button type="button" className="btn btn-sm" onClick={() => picker.current?.click()}>
        Take in a file
      </button>
      <FileInput
        inputRef={picker}
        accept=".csv,.txt,.tsv,.parquet,.xlsx"
        label="Measurements: CSV, Parquet or spreadsheet"
        testid="data-file"
        onFile={(chosen) => bring.mutate(chosen)}
      />
      {(files.data?.length ?? 0) > 0 && (
        <select
          className="select select-sm w-80 truncate pr-8"
          aria-label="Measurements of the project"
          value={file?.id ?? ""}
          onChange={(event) =>
            onChoose(files.data!.find((f) => f.id === Number(event.target.value)) ?? null)
          }
          data-testid="data-files"
        >
          <option value="">choose one</option>
          {files.data!.map((f) => (
            <option key={f.id} value={f.id}>
              {f.name}
            </option>
          ))}
        </select>
      )}
      {bring.isPending && <span className="muted">Reading it…</span>}
      {bring.error && (
        <span role="alert" className="text-error" data-testid="data-refusal">
          ✕ {asRefusal(bring.error).sentence}
        </span>
      )}
    </p>
  );
}

/** How many rows a file has, from when to when, and what was done with others. */
export function WhatIsIn({ preview }: { preview: Preview }) {
  return (
    <p className="muted">
      {preview.rows} rows from {formatTime(preview.start)} to {formatTime(preview.stop)}, times in{" "}
      {preview.time}. {preview.notes.join(" ")}
    </p>
  );
}

/** Between which instants measurements count. */
export function Between({
  low,
  high,
  onLow,
  onHigh,
}: {
  low: string;
  high: string;
  onLow: (text: string) => void;
  onHigh: (text: string) => void;
}) {
  return (
    <p className="flex items-center gap-2">
      only from
      <input
        className="input input-xs mono w-20"
        aria-label="from, in seconds"
        value={low}
        onChange={(e) => onLow(e.target.value)}
      />
      s to
      <input
        className="input input-xs mono w-20"
        aria-label="to, in seconds"
        value={high}
        onChange={(e) => onHigh(e.target.value)}
      />
      s <span className="muted">empty: all of it</span>
    </p>
  );
}
