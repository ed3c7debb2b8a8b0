/** Who changed what and when. */
import { useInfiniteQuery } from "@tanstack/react-query";

import { api, data, type History as Page } from "../../api/client";
import { Button } from "../../ui/parts";
import { when } from "../../ui/when";

const KIND = { create: "", edit: "", undo: "Took back: ", redo: "Brought back: " } as const;

export function History({ id, onClose }: { id: string; onClose: () => void }) {
  const history = useInfiniteQuery({
    queryKey: ["history", id],
    queryFn: async ({ pageParam }) =>
      data(
        await api.GET("/api/installs/{install_id}/revisions", {
          params: { path: { install_id: id }, query: pageParam ? { before: pageParam } : {} },
        }),
      ),
    initialPageParam: undefined as number | undefined,
    getNextPageParam: (page: Page) => page.before ?? undefined,
  });
  const rows = history.data?.pages.flatMap((page) => page.revisions) ?? [];
  return (
    <>
      <div className="flex items-center justify-between">
        <h2 className="text-xl font-bold">History</h2>
        <Button onClick={onClose}>Close</Button>
      </div>
      <ol className="mt-4">
        {rows.map((row) => (
          <li key={row.number} className="border-t border-rule py-2.5">
            <p className="font-semibold">
              {KIND[row.kind]}
              {row.summary}
            </p>
            <p className="text-sm text-soft">
              Revision {row.number} · {row.author} · {when(row.at)}
            </p>
          </li>
        ))}
      </ol>
      {history.hasNextPage && <Button onClick={() => void history.fetchNextPage()}>Show older</Button>}
    </>
  );
}
