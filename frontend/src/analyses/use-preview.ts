import { useQuery } from "@tanstack/react-query";

import { ask, client } from "../api/client";
import type { DataFile } from "./types";

/** The files of measurements of a project. */
export function useDataFiles(project: number) {
  return useQuery({
    queryKey: ["data", project],
    queryFn: async () =>
      (await ask(client.GET("/api/projects/{project}/data", { params: { path: { project } } })))
        .files,
  });
}

/** What is in a chosen file, as it was taken in and after its steps. */
export function usePreview(file: DataFile | null) {
  return useQuery({
    queryKey: ["data preview", file?.id],
    queryFn: () => ask(client.GET("/api/data/{file}", { params: { path: { file: file!.id } } })),
    enabled: file !== null,
    staleTime: Infinity,
  });
}
