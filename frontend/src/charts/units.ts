import { ask, client } from "../api/client";

/** The question in which units a quantity of a declared unit can be shown. */
export function unitsQuery(declared: string) {
  return {
    queryKey: ["units", declared],
    queryFn: async () =>
      (await ask(client.GET("/api/units", { params: { query: { unit: declared } } }))).units,
    staleTime: Infinity,
    retry: false,
  };
}
