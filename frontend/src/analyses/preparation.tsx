import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState, type ReactNode } from "react";

import { ask, asRefusal, client } from "../api/client";
import { formatUnit } from "../ui/format";
import { Plot, type Line } from "./plot";
import { EMPTY_DRAFT, KIND_WORDS, stepOf, type Draft, type Kind } from "./preparation-step";
import type { DataFile, Measurements } from "./types";
import { useDataFiles } from "./use-preview";

interface Props {
  project: number;
  file: DataFile;
  seen: Measurements;
}

/** The steps that prepare a file of measurements, each of which can be undone, and what comes of them. */
export function Preparation({ project, file, seen }: Props) {
  const cache = useQueryClient();
  const [open, setOpen] = useState(false);
  const [kind, setKind] = useState<Kind>("crop");
  const [draft, setDraft] = useState<Draft>(EMPTY_DRAFT);
  const [shown, setShown] = useState("");
  const files = useDataFiles(project);
  const change = useMutation({
    mutationFn: (what: "add" | "undo" | "redo") => {
      const params = { path: { file: file.id } };
      const step = stepOf(kind, draft);
      return what === "add"
        ? ask(client.POST("/api/data/{file}/steps", { params, body: { step: step! } }))
        : what === "undo"
          ? ask(client.POST("/api/data/{file}/steps/undo", { params }))
          : ask(client.POST("/api/data/{file}/steps/redo", { params }));
    },
    onSuccess: (now) => {
      cache.setQueryData(["data preview", file.id], now);
      void cache.invalidateQueries({ queryKey: ["measured", project] });
    },
  });
  const names = seen.prepared.columns.map((c) => c.name);
  const column = names.includes(shown) ? shown : (names[0] ?? "");
  const ready = stepOf(kind, draft) !== null && !change.isPending;
  const put = (part: Partial<Draft>) => setDraft({ ...draft, ...part });
  /** A number of the draft, with its words and unit; Enter adds the step. */
  const number = (key: keyof Draft, words: string, unit: string) => (
    <label className="flex items-center gap-1">
      {words}
      <input
        className="input input-xs mono w-20 text-right"
        value={draft[key]}
        onChange={(event) => put({ [key]: event.target.value })}
        onKeyDown={(event) => {
          if (event.key !== "Enter") return;
          event.preventDefault();
          if (ready) change.mutate("add");
        }}
        data-testid={`step-${key}`}
      />
      <span className="muted">{unit}</span>
    </label>
  );
  const unitField = (words: string, placeholder: string) => (
    <label className="flex items-center gap-1">
      {words}
      <input
        className="input input-xs mono w-20"
        placeholder={placeholder}
        value={draft.unit}
        onChange={(event) => put({ unit: event.target.value })}
        data-testid="step-unit"
      />
    </label>
  );
  const ofColumn = (
    <select
      className="select select-xs w-40"
      aria-label="column of the step"
      value={draft.column}
      onChange={(event) => {
        put({ column: event.target.value });
        setShown(event.target.value);
      }}
      data-testid="step-column"
    >
      <option value="">choose a column</option>
      {names.map((name) => (
        <option key={name}>{name}</option>
      ))}
    </select>
  );
  const unit = formatUnit(seen.prepared.columns.find((c) => c.name === draft.column)?.unit ?? "");
  const fields: Record<Kind, ReactNode> = {
    crop: (
      <>
        {number("low", "before", "s")}
        {number("high", "after", "s")}
      </>
    ),
    offset: (
      <>
        {ofColumn}
        {number("by", "plus", unit)}
      </>
    ),
    shift: number("by", "later by", "s"),
    resample: number("period", "of", "s"),
    "low pass": (
      <>
        {ofColumn}
        {number("period", "without what is faster than", "s")}
      </>
    ),
    outliers: (
      <>
        {ofColumn}
        {number("deviations", "beyond", "standard deviations")}
        {number("window", "of", "samples")}
      </>
    ),
    "in unit": (
      <>
        {ofColumn}
        {unitField("is in", "none")}
      </>
    ),
    "as time": (
      <>
        {ofColumn}
        {unitField("in", "s")}
      </>
    ),
    join: (
      <>
        <select
          className="select select-xs w-48"
          aria-label="file to join"
          value={draft.file}
          onChange={(event) => put({ file: event.target.value })}
          data-testid="step-file"
        >
          <option value="">choose a file</option>
          {(files.data ?? [])
            .filter((f) => f.id !== file.id)
            .map((f) => (
              <option key={f.id} value={f.path}>
                {f.name}
              </option>
            ))}
        </select>
        <select
          className="select select-xs w-36"
          aria-label="how to join"
          value={draft.how}
          onChange={(event) => put({ how: event.target.value as Draft["how"] })}
        >
          <option value="beside">columns beside</option>
          <option value="after">rows after</option>
        </select>
        {number("shift", "later by", "s")}
      </>
    ),
  };
  const refusal = change.error && (
    <p role="alert" className="text-error" data-testid="step-refusal">
      ✕ {asRefusal(change.error).sentence}
    </p>
  );
  return (
    <div className="flex flex-col gap-2" data-testid="preparation">
      {(seen.steps.length > 0 || seen.undone > 0) && (
        <ol className="list-decimal pl-6">
          {seen.steps.map((s, k) => (
            <li key={k} data-testid={`prepared-${k}`}>
              {s.words}
              {s.note && <span className="muted">: {s.note}</span>}
            </li>
          ))}
        </ol>
      )}
      {seen.fault && (
        <p role="alert" className="text-error" data-testid="preparation-fault">
          ✕ {seen.fault} What follows it is not done: undo it.
        </p>
      )}
      <p className="flex items-center gap-2">
        <button
          type="button"
          className="btn btn-xs"
          aria-expanded={open}
          onClick={() => setOpen(!open)}
          data-testid="prepare"
        >
          {open ? "Close the preparation" : "Prepare it"}
        </button>
        <button
          type="button"
          className="btn btn-ghost btn-xs"
          disabled={seen.steps.length === 0 || change.isPending}
          onClick={() => change.mutate("undo")}
          data-testid="undo-step"
        >
          Undo step
        </button>
        <button
          type="button"
          className="btn btn-ghost btn-xs"
          disabled={seen.undone === 0 || change.isPending}
          onClick={() => change.mutate("redo")}
          data-testid="redo-step"
        >
          Redo step
        </button>
        {!open && seen.steps.length === 0 && (
          <span className="muted">
            units, time, ends, outliers, noise, offsets, another file; the file stays as it is
          </span>
        )}
      </p>
      {!open && refusal}
      {open && (
        <>
          <p className="flex flex-wrap items-center gap-2">
            <select
              className="select select-xs w-44"
              aria-label="kind of step"
              value={kind}
              onChange={(event) => {
                setKind(event.target.value as Kind);
                change.reset();
              }}
              data-testid="step-kind"
            >
              {Object.entries(KIND_WORDS).map(([key, words]) => (
                <option key={key} value={key}>
                  {words}
                </option>
              ))}
            </select>
            {fields[kind]}
            <button
              type="button"
              className="btn btn-xs btn-primary"
              disabled={!ready}
              onClick={() => change.mutate("add")}
              data-testid="add-step"
            >
              Add the step
            </button>
          </p>
          {refusal}
          <BeforeAndAfter seen={seen} column={column} names={names} onChoose={setShown} />
        </>
      )}
    </div>
  );
}

interface ShownProps {
  seen: Measurements;
  column: string;
  names: string[];
  onChoose: (name: string) => void;
}

/** A column as it was taken in, and as it is now. */
function BeforeAndAfter({ seen, column, names, onChoose }: ShownProps) {
  const original = seen.original.columns.find((c) => c.name === column);
  const now = seen.prepared.columns.find((c) => c.name === column);
  if (!now) return null;
  const lines: Line[] = [
    ...(original && seen.steps.length > 0
      ? [
          {
            name: "as it was taken in",
            x: original.time,
            y: original.values,
            colour: "var(--color-secondary)",
            dots: true,
          },
        ]
      : []),
    { name: "now", x: now.time, y: now.values, colour: "var(--color-primary)" },
  ];
  return (
    <div className="flex flex-col gap-1">
      <label className="flex items-center gap-2">
        shown
        <select
          className="select select-xs w-40"
          value={column}
          onChange={(event) => onChoose(event.target.value)}
        >
          {names.map((name) => (
            <option key={name}>{name}</option>
          ))}
        </select>
      </label>
      <Plot
        lines={lines}
        xWords="time in s"
        yWords={now.unit ? `${column} in ${formatUnit(now.unit)}` : column}
        label={`${column} before and after the steps`}
      />
    </div>
  );
}
