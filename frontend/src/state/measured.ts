import { useQuery } from "@tanstack/react-query";

import { ask, client, type Curve } from "../api/client";

/** The number under which curves of measurements go, where others have that of their run. */
export const MEASURED_RUN = -2;
/** How names of measured columns begin. */
const BEGINNING = "Data/";

export function isMeasured(name: string): boolean {
  return name.startsWith(BEGINNING);
}

/** A quantity as it is written beside its curve: a measured column first, then its file. */
export function shortName(name: string): string {
  const [, file, column] = /^Data\/(.*\.[a-z]{3,7}):(.*)$/i.exec(name) ?? [];
  return column === undefined ? name : `${column} · ${file}`;
}

/** The columns of a project's measurements, each as a quantity. */
export function useMeasuredColumns(project: number, wanted = true) {
  return useQuery({
    queryKey: ["measured", project],
    queryFn: async () =>
      (await ask(client.GET("/api/projects/{project}/measured", { params: { path: { project } } })))
        .columns,
    enabled: wanted,
  });
}

/** Columns of measurements as curves, in a range. */
export async function fetchMeasured(
  project: number,
  names: string[],
  width: number,
  range: [number, number] | null,
): Promise<Curve[]> {
  const body = { names, width, ...(range ? { low: range[0], high: range[1] } : {}) };
  const params = { path: { project } };
  return (await ask(client.POST("/api/projects/{project}/measured-curves", { params, body })))
    .curves;
}
