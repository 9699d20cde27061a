import { useMutation } from "@tanstack/react-query";
import { useState } from "react";

import { ask, asRefusal, client, type ModelView } from "../api/client";
import { formatUnit } from "../ui/format";
import { Part } from "../units/form";
import { Between, MeasurementsChoice, WhatIsIn } from "./measurements";
import { Preparation } from "./preparation";
import { numberOf, type DataFile } from "./types";
import { usePreview } from "./use-preview";

interface Props {
  view: ModelView;
  onOrdered: (id: number) => void;
}

/** Which columns of which file are a step test. */
export function NewStepTest({ view, onOrdered }: Props) {
  const [file, setFile] = useState<DataFile | null>(null);
  const [input, setInput] = useState("");
  const [response, setResponse] = useState("");
  const [low, setLow] = useState("");
  const [high, setHigh] = useState("");
  const preview = usePreview(file);
  const order = useMutation({
    mutationFn: () =>
      ask(
        client.POST("/api/projects/{project}/models/{model}/step-tests", {
          params: { path: { project: view.project, model: view.model } },
          body: { file: file!.path, input, response, low: numberOf(low), high: numberOf(high) },
        }),
      ),
    onSuccess: (made) => onOrdered(made.id),
  });
  const column = (
    label: string,
    chosen: string,
    choose: (name: string) => void,
    testid: string,
  ) => (
    <label className="flex items-center gap-3">
      <span className="w-24">{label}</span>
      <select
        className="select select-sm w-64"
        value={chosen}
        onChange={(event) => choose(event.target.value)}
        data-testid={testid}
      >
        <option value="">choose a column</option>
        {(preview.data?.prepared.columns ?? []).map((c) => (
          <option key={c.name} value={c.name}>
            {c.name} {c.unit && `in ${formatUnit(c.unit)}`}
          </option>
        ))}
      </select>
    </label>
  );
  return (
    <form
      className="flex max-w-3xl flex-col gap-4 p-4"
      data-testid="step-form"
      onSubmit={(event) => {
        event.preventDefault();
        order.mutate();
      }}
    >
      <h2 className="font-semibold">What a step test says</h2>
      <p className="muted">
        First order, second order and integrator, each with dead time, for a plant that rested until
        its input stepped.
      </p>
      <Part title="Measurements">
        <MeasurementsChoice
          project={view.project}
          file={file}
          onChoose={(chosen) => {
            setFile(chosen);
            setInput("");
            setResponse("");
          }}
        />
        {file && preview.data && (
          <>
            <WhatIsIn preview={preview.data.prepared} />
            <Preparation project={view.project} file={file} seen={preview.data} />
            {column("input", input, setInput, "step-input")}
            {column("response", response, setResponse, "step-response")}
            <Between low={low} high={high} onLow={setLow} onHigh={setHigh} />
          </>
        )}
      </Part>
      <p className="flex items-center gap-3">
        <button
          type="submit"
          className="btn btn-primary btn-sm"
          disabled={!file || !input || !response || order.isPending}
          data-testid="step-test"
        >
          Fit all three
        </button>
        {(!input || !response) && (
          <span className="muted">Choose a file, its input and its response.</span>
        )}
        {order.error && (
          <span role="alert" className="text-error" data-testid="step-refusal">
            ✕ {asRefusal(order.error).sentence}
          </span>
        )}
      </p>
    </form>
  );
}
