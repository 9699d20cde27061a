import type { ModelView } from "../api/client";
import { ColumnRoles } from "./column-roles";
import { guessed, watchedOf } from "./columns";
import type { Experiment } from "./experiment";
import { Between, MeasurementsChoice, WhatIsIn } from "./measurements";
import { Preparation } from "./preparation";
import { usePreview } from "./use-preview";

interface Props {
  view: ModelView;
  experiment: Experiment;
  onChange: (experiment: Experiment) => void;
}

/** The fields of an experiment. */
export function ExperimentFields({ view, experiment, onChange }: Props) {
  const { file, columns, low, high } = experiment;
  const preview = usePreview(file);
  return (
    <>
      <MeasurementsChoice
        project={view.project}
        file={file}
        onChoose={(chosen, seen) =>
          onChange({
            ...experiment,
            file: chosen,
            columns: seen ? guessed(seen, watchedOf(view)) : {},
          })
        }
      />
      {file && preview.data && (
        <>
          <WhatIsIn preview={preview.data.prepared} />
          <Preparation project={view.project} file={file} seen={preview.data} />
          <ColumnRoles
            view={view}
            preview={preview.data.prepared}
            columns={columns}
            onChange={(changed) => onChange({ ...experiment, columns: changed })}
          />
          <Between
            low={low}
            high={high}
            onLow={(text) => onChange({ ...experiment, low: text })}
            onHigh={(text) => onChange({ ...experiment, high: text })}
          />
        </>
      )}
    </>
  );
}
