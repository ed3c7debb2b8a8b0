/** Everything that Leitung judges by, as data. */
import { useQuery } from "@tanstack/react-query";

import { api, data, type RulebookOut } from "../api/client";

export function useRulebook(): RulebookOut | undefined {
  return useQuery({
    queryKey: ["rulebook"],
    queryFn: async () => data(await api.GET("/api/rulebook")),
    staleTime: Infinity,
  }).data;
}
