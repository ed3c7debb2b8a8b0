/** A week as the server has it: read, changed, planned anew; what is being looked for is read again until it is found. */
import { useQuery, useQueryClient } from "@tanstack/react-query";

import { api, data, type WeekOut, type WeekWishes } from "../../api/client";
import { useSend } from "../../ui/useSend";

const EVERY_MS = 1000;

export interface WeekHandle {
  week: WeekOut | undefined;
  failed: boolean;
  busy: boolean;
  /** What was refused last, in words. */
  wrong: string | null;
  wish: (wishes: WeekWishes) => Promise<void>;
  plan: () => Promise<void>;
  stop: () => Promise<void>;
  agree: () => Promise<void>;
  /** A calendar that was changed elsewhere; what it brought, in words. */
  bring: (ics: string) => Promise<string | null>;
}

export function searching(week: WeekOut): boolean {
  return week.status === "queued" || week.status === "running";
}

export function useWeek(monday: string): WeekHandle {
  const client = useQueryClient();
  const key = ["week", monday];
  const { busy, wrong, send: sent } = useSend();
  const query = useQuery({
    queryKey: key,
    queryFn: async () => data(await api.GET("/api/weeks/{monday}", { params: { path: { monday } } })),
    refetchInterval: ({ state }) => (state.data && searching(state.data) ? EVERY_MS : false),
  });
  const base = `/api/weeks/${monday}`;

  async function send<T>(path: string, body: unknown): Promise<T | null> {
    const found = await sent<T>(`${base}/${path}`, body);
    if (!found) await client.invalidateQueries({ queryKey: key });
    return found;
  }
  async function take(path: string, body: unknown) {
    await client.cancelQueries({ queryKey: key });
    const found = await send<WeekOut>(path, body);
    if (found) client.setQueryData(key, found);
    return found;
  }
  return {
    week: query.data,
    failed: query.isError,
    busy,
    wrong,
    async wish(wishes) {
      const found = await take("wishes", { base_revision: query.data?.revision ?? 0, wishes });
      if (found && wishes.people.length > 0 && found.sites.some((site) => site.tasks > 0)) await take("plans", {});
    },
    plan: async () => {
      await take("plans", {});
    },
    stop: async () => {
      await take("stops", {});
    },
    agree: async () => {
      await take("agreements", {});
    },
    async bring(ics) {
      const body = { base_revision: query.data?.revision ?? 0, ics };
      const found = await send<{ held: number; off: number; unread: string[]; week: WeekOut }>("calendars", body);
      if (!found) return null;
      client.setQueryData(key, found.week);
      await take("plans", {});
      const unread = found.unread.length > 0 ? ` Not taken: ${found.unread.slice(0, 4).join("; ")}.` : "";
      return `${String(found.held)} tasks held where the calendar has them, ${String(found.off)} absences.${unread}`;
    },
  };
}
