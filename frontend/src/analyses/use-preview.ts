import { useQuery } from "@tanstack/react-query";

import { ask, client } from "../api/client";
import type { DataFile } from "./types";

/** What is in a chosen file. */
export function usePreview(file: DataFile | null) {
  return useQuery({
    queryKey: ["data preview", file?.id],
    queryFn: () => ask(client.GET("/api/data/{file}", { params: { path: { file: file!.id } } })),
    enabled: file !== null,
    staleTime: Infinity,
  });
}
