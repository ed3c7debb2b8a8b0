/** The devices and cable constructions that can be put into a wiring. */
import { useQuery } from "@tanstack/react-query";

import { api, data, type WiringChoices } from "../../api/client";

export function useChoices(): WiringChoices {
  const query = useQuery({
    queryKey: ["wiring-choices"],
    queryFn: async () => data(await api.GET("/api/devices")),
    staleTime: Infinity,
  });
  return query.data ?? { devices: [], cables: [] };
}
