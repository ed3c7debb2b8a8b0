/** What is recorded on an install. */
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";

import { api, data } from "../api/client";
import { outboxOf } from "./outbox";
import { readAnew } from "./readAnew";

const LOOK_MS = 8_000;

export function useRecord(id: string) {
  return useQuery({
    queryKey: ["record", id],
    queryFn: async () =>
      data(await api.GET("/api/installs/{install_id}/record", { params: { path: { install_id: id } } })),
  });
}

/** Look now and then whether somebody else has entered something, while the screen is looked at. */
export function useOthers(id: string): void {
  const client = useQueryClient();
  const seen = useRecord(id).data?.install.changed_at;
  const { data: found } = useQuery({
    queryKey: ["changed", id],
    queryFn: async () =>
      data(await api.GET("/api/installs/{install_id}/changed", { params: { path: { install_id: id } } })),
    refetchInterval: LOOK_MS,
    enabled: seen !== undefined,
  });
  const newest = found?.changed_at;
  useEffect(() => {
    // What waits here comes back with its own answer.
    if (!seen || !newest || Date.parse(newest) <= Date.parse(seen) || outboxOf(id)?.read().waiting.length) return;
    for (const key of ["record", "plan"]) void readAnew(client, [key, id]);
  }, [client, id, newest, seen]);
}
