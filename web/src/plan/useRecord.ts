/** What is recorded on an install. */
import { useQuery } from "@tanstack/react-query";

import { api, data } from "../api/client";

export function useRecord(id: string) {
  return useQuery({
    queryKey: ["record", id],
    queryFn: async () =>
      data(await api.GET("/api/installs/{install_id}/record", { params: { path: { install_id: id } } })),
  });
}
