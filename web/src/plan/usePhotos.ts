/** The photos of an install: all of them at once, and what can be done to them. */
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState, useSyncExternalStore } from "react";

import { api, data, freshKey, type Photo, post } from "../api/client";
import { asBase64, shrunk } from "../ui/files";
import { outboxOf, type OutboxState } from "./outbox";

export interface Photos {
  all: readonly Photo[];
  /** Why the last one was not kept. */
  trouble: string | null;
  busy: boolean;
  add: (about: string, files: readonly File[], plate?: boolean) => Promise<Photo | null>;
  takeOut: (photo: Photo) => Promise<void>;
}

export const contentOf = (install: string, photo: Photo) => `/api/installs/${install}/photos/${photo.id}/content`;

export function usePhotos(install: string): Photos {
  const client = useQueryClient();
  const [trouble, setTrouble] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const key = ["photos", install];
  const all = useQuery({
    queryKey: key,
    enabled: install !== "",
    queryFn: async () =>
      data(await api.GET("/api/installs/{install_id}/photos", { params: { path: { install_id: install } } })),
  });
  return {
    all: all.data ?? [],
    trouble,
    busy,
    add: async (about, files, plate = false) => {
      setTrouble(null);
      setBusy(true);
      let last: Photo | null = null;
      for (const file of files) {
        const body = { about, name: file.name || "photo", base64: await asBase64(await shrunk(file)), plate };
        const [path, write] = [`/api/installs/${install}/photos`, freshKey()];
        const sent = await post<Photo>(path, write, body);
        const outbox = outboxOf(install);
        if (sent.kind === "done") last = sent.body;
        else if (sent.kind === "refused") setTrouble(sent.problem.detail);
        // A plate is read by the server: without it there is nothing to wait for.
        else if (plate || !outbox) setTrouble("Leitung does not answer. Try again.");
        else outbox.add({ key: write, path, body, label: `Photo ${body.name}` });
      }
      setBusy(false);
      await client.invalidateQueries({ queryKey: key });
      return last;
    },
    takeOut: async (photo) => {
      const sent = await post<Photo>(`/api/installs/${install}/photos/${photo.id}/removal`, freshKey(), {});
      setTrouble(sent.kind === "done" ? null : "It could not be taken out. Try again.");
      await client.invalidateQueries({ queryKey: key });
    },
  };
}

const none = { subscribe: () => () => undefined, read: () => null };

/** How many photos of a thing wait here for a signal. */
export function useKeptPhotos(install: string, about: string): number {
  const outbox = outboxOf(install) ?? none;
  const state = useSyncExternalStore<OutboxState | null>(outbox.subscribe, outbox.read);
  const mine = state?.waiting.filter((write) => write.path.endsWith("/photos")) ?? [];
  return mine.filter((write) => (write.body as { about?: string }).about === about).length;
}
