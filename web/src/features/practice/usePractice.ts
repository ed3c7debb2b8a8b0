/** One's own practice: what is due, rounds fetched ahead for where there is no signal, answers kept until they go out. */
import { useQueries, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useMemo, useSyncExternalStore } from "react";

import { api, data, type PracticeOut } from "../../api/client";
import { Outbox, type Write } from "../../plan/outbox";
import type { Given } from "./judge";

const LOOK_AGAIN_MS = 1_500;
const KEY = ["practice"];
const NOTHING = () => undefined;

const roundQuery = (id: string) => ({
  queryKey: ["practice round", id],
  queryFn: async () => data(await api.GET("/api/practice/rounds/{round_id}", { params: { path: { round_id: id } } })),
  // A round never changes.
  staleTime: Infinity,
});

const roundOf = (write: Write) => write.path.split("/").at(-2);

export function useRound(id: string) {
  return useQuery(roundQuery(id));
}

export function usePractice(username: string) {
  const client = useQueryClient();
  const outbox = useMemo(() => {
    // A round that is answered is not asked again while what comes next is read.
    const answered = (write: Write) => {
      client.setQueryData<PracticeOut>(
        KEY,
        (found) => found && { ...found, due: found.due.filter((one) => one.id !== roundOf(write)) },
      );
      void client.invalidateQueries({ queryKey: KEY });
    };
    return new Outbox(`leitung:${username}:practice`, { revision: () => 0, done: answered, refused: answered });
  }, [client, username]);
  const { waiting, trouble } = useSyncExternalStore(outbox.subscribe, outbox.read);
  useEffect(() => outbox.attach("practice"), [outbox]);
  useEffect(() => {
    void outbox.flush();
    const online = () => outbox.retry();
    window.addEventListener("online", online);
    return () => window.removeEventListener("online", online);
  }, [outbox]);
  const query = useQuery({
    queryKey: KEY,
    queryFn: async () => data(await api.GET("/api/practice")),
    refetchInterval: ({ state }) => (state.data?.due.some((one) => !one.ready) ? LOOK_AGAIN_MS : false),
  });
  const ready = query.data?.due.filter((one) => one.ready);
  const ids = ready?.map((one) => one.id).join(" ") ?? "";
  useEffect(() => {
    // One after the other: a phone on a thin line has the first at once.
    const ahead = ids.split(" ").filter(Boolean);
    void ahead.reduce(
      (before, id) => before.then(() => client.query(roundQuery(id)).then(NOTHING, NOTHING)),
      Promise.resolve(undefined),
    );
  }, [client, ids]);
  // Only looked at here: what is on this device is asked without a signal too.
  const rounds = useQueries({
    queries: (ready ?? []).map((one) => ({ ...roundQuery(one.id), enabled: false })),
  });
  const held = new Set(ready?.filter((_, at) => rounds[at]?.data).map((one) => one.id));
  const sent = new Set(waiting.map(roundOf));
  return {
    found: query.data,
    failed: query.isError && !query.data,
    due: query.data?.due.filter((one) => !sent.has(one.id)).map((one) => ({ ...one, held: held.has(one.id) })) ?? [],
    waiting: waiting.length,
    away: trouble === "offline",
    take: (found: PracticeOut) => client.setQueryData(KEY, found),
    answer: (id: string, given: Given) =>
      outbox.add({
        path: `/api/practice/rounds/${id}/answers`,
        body: { answer: given, noted_at: new Date().toISOString() },
        label: "Practice",
      }),
  };
}
