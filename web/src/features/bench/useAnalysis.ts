/** All single mistakes of a system: asked for once, followed until they are worked out, cancelled on request. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";

import { type Analysis, api, data, freshKey, post } from "../../api/client";

export interface AnalysisHandle {
  analysis: Analysis | null;
  refused: string | null;
  ask: () => void;
  cancel: () => void;
}

export function useAnalysis(install: string, revision: number, system: string, wanted: boolean): AnalysisHandle {
  const client = useQueryClient();
  const key = ["analysis", install, revision, system];
  const asked = useMutation({
    mutationFn: async () => {
      const sent = await post<Analysis>(`/api/installs/${install}/analyses`, freshKey(), { system });
      if (sent.kind === "refused") throw new Error(sent.problem.detail);
      if (sent.kind === "unreachable") throw new Error("Leitung does not answer. Try again in a moment.");
      return sent.body;
    },
    onSuccess: (body) => client.setQueryData(key, body),
  });
  const { mutate, isIdle } = asked;
  const followed = useQuery({
    queryKey: key,
    queryFn: async () => {
      const known = client.getQueryData<Analysis>(key);
      if (!known) return null;
      return data(
        await api.GET("/api/installs/{install_id}/analyses/{analysis_id}", {
          params: { path: { install_id: install, analysis_id: known.id } },
        }),
      );
    },
    staleTime: Infinity,
    refetchInterval: (query) => (isWaiting(query.state.data ?? null) ? 500 : false),
  });
  const analysis = followed.data ?? null;
  useEffect(() => {
    if (wanted && isIdle && !analysis) mutate();
  }, [wanted, isIdle, analysis, mutate]);
  return {
    analysis,
    refused: asked.error?.message ?? null,
    ask: () => mutate(),
    cancel: () => {
      if (!analysis) return;
      void post<Analysis>(`/api/installs/${install}/analyses/${analysis.id}/cancellation`, freshKey(), {}).then(
        (sent) => {
          if (sent.kind === "done") client.setQueryData(key, sent.body);
        },
      );
    },
  };
}

export function isWaiting(analysis: Analysis | null): boolean {
  return analysis?.status === "queued" || analysis?.status === "running";
}
