/** The photos of an install: all of them at once, and what can be done to them. */
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";

import { api, data, freshKey, type Photo, post } from "../api/client";
import { asBase64, shrunk } from "../ui/files";

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
        const sent = await post<Photo>(`/api/installs/${install}/photos`, freshKey(), body);
        if (sent.kind === "done") last = sent.body;
        else setTrouble(sent.kind === "refused" ? sent.problem.detail : "Leitung does not answer. Try again.");
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
