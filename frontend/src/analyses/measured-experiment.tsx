import { useState } from "react";

import type { ModelView } from "../api/client";
import { Part } from "../units/form";
import { ColumnRoles } from "./column-roles";
import { guessed, mapped, watchedOf, type Columns } from "./columns";
import { Between, MeasurementsChoice, WhatIsIn } from "./measurements";
import { Preparation } from "./preparation";
import { numberOf, type DataFile } from "./types";
import { usePreview } from "./use-preview";

/** One experiment as it is chosen in a form: a file, prepared, what its columns are, and between which instants. */
export function useExperiment(view: ModelView) {
  const [file, setFile] = useState<DataFile | null>(null);
  const [columns, setColumns] = useState<Columns>({});
  const [low, setLow] = useState("");
  const [high, setHigh] = useState("");
  const preview = usePreview(file);
  const said = mapped(columns);
  return {
    /** What an order says of it; none before a file is chosen and a column compared. */
    asked:
      file && Object.keys(said.outputs).length > 0
        ? { file: file.path, ...said, low: numberOf(low), high: numberOf(high) }
        : null,
    fields: (
      <Part title="Measurements">
        <MeasurementsChoice
          project={view.project}
          file={file}
          onChoose={(chosen, seen) => {
            setFile(chosen);
            setColumns(seen ? guessed(seen, watchedOf(view)) : {});
          }}
        />
        {file && preview.data && (
          <>
            <WhatIsIn preview={preview.data.prepared} />
            <Preparation project={view.project} file={file} seen={preview.data} />
            <ColumnRoles
              view={view}
              preview={preview.data.prepared}
              columns={columns}
              onChange={setColumns}
            />
            <Between low={low} high={high} onLow={setLow} onHigh={setHigh} />
          </>
        )}
      </Part>
    ),
  };
}
