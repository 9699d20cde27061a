import { mapped, type Columns } from "./columns";
import { numberOf, type DataFile } from "./types";

/** One experiment as it is chosen: a file, what its columns are, and between which instants it counts. */
export interface Experiment {
  file: DataFile | null;
  columns: Columns;
  low: string;
  high: string;
}

export const NO_EXPERIMENT: Experiment = { file: null, columns: {}, low: "", high: "" };

/** What an order says of an experiment; none before a file is chosen and a column compared. */
export function askedOf({ file, columns, low, high }: Experiment) {
  const said = mapped(columns);
  return file && Object.keys(said.outputs).length > 0
    ? { file: file.path, ...said, low: numberOf(low), high: numberOf(high) }
    : null;
}
