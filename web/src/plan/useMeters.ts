/** The meter in hand: chosen once on this device, and kept with every reading that follows. */
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useSyncExternalStore } from "react";

import { api, data, freshKey, type MeterOut, type PointOut, post } from "../api/client";
import { inWords } from "../ui/inWords";

const KEPT = "leitung:meter";
const listeners = new Set<() => void>();

function subscribe(listener: () => void): () => void {
  listeners.add(listener);
  return () => listeners.delete(listener);
}

/** What meters are kept for: a thermometer is not. */
export type MeteredUnit = Exclude<PointOut["unit"], "°F">;

export interface Meters {
  every: readonly MeterOut[];
  /** The one in hand; undefined where nobody has said which. */
  inHand: MeterOut | undefined;
  choose: (id: string) => void;
  /** Note a meter of the company and take it in hand; what went wrong, in words. */
  add: (name: string, serial: string, calibratedOn: string, reads: MeteredUnit) => Promise<string | null>;
}

export function useMeters(): Meters {
  const client = useQueryClient();
  const chosen = useSyncExternalStore(subscribe, () => localStorage.getItem(KEPT) ?? "");
  const every = useQuery({ queryKey: ["meters"], queryFn: async () => data(await api.GET("/api/meters")) }).data ?? [];
  function choose(id: string) {
    localStorage.setItem(KEPT, id);
    for (const listener of listeners) listener();
  }
  return {
    every,
    inHand: every.find((meter) => meter.id === chosen),
    choose,
    async add(name, serial, calibratedOn, reads) {
      const body = { name, serial, reads, ...(calibratedOn ? { calibrated_on: calibratedOn } : {}) };
      const sent = await post<MeterOut>("/api/meters", freshKey(), body);
      if (sent.kind !== "done") return inWords(sent);
      await client.invalidateQueries({ queryKey: ["meters"] });
      choose(sent.body.id);
      return null;
    },
  };
}

/** What an instrument shows at a point; nothing is recorded by it. */
export async function taken(install: string, key: string, meter: string): Promise<{ value?: number; says?: string }> {
  const sent = await post<{ value: number }>(`/api/installs/${install}/takings`, freshKey(), { key, meter });
  return sent.kind === "done" ? { value: sent.body.value } : { says: inWords(sent) };
}
