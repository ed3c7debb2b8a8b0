/** The models that this company can plan with. */
import { useQuery } from "@tanstack/react-query";

import { api, type CatalogueModel, data } from "../api/client";

export function useCatalogue(): readonly CatalogueModel[] {
  const query = useQuery({
    queryKey: ["catalogue"],
    queryFn: async () => data(await api.GET("/api/catalogue")).models,
    staleTime: 60_000,
  });
  return query.data ?? [];
}
