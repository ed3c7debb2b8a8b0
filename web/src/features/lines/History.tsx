/** Who changed what and when. */
import { useInfiniteQuery } from "@tanstack/react-query";

import { api, data, type History as Page } from "../../api/client";
import { Button } from "../../ui/parts";
import { when } from "../../ui/when";

const KIND = { create: "", edit: "", undo: "Took back: ", redo: "Brought back: " } as const;

interface Props {
  id: string;
  newest: number;
  at: number | null;
  onAt: (revision: number | null) => void;
  onClose: () => void;
}

export function History({ id, newest, at, onAt, onClose }: Props) {
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
              {row.kind === "edit" && row.of ? `As at revision ${row.of} again: ` : KIND[row.kind]}
              {row.summary}
            </p>
            <p className="flex flex-wrap items-center gap-x-2 text-sm text-soft">
              Revision {row.number} · {row.author} · {when(row.at)}
              {row.number === (at ?? newest) ? (
                <b className="flex min-h-11 items-center">{at === null ? "as it stands" : "looked at"}</b>
              ) : (
                <button
                  type="button"
                  aria-label={`Look at revision ${row.number}`}
                  className="min-h-11 underline decoration-faint underline-offset-4 hover:decoration-copper"
                  onClick={() => onAt(row.number === newest ? null : row.number)}
                >
                  {row.number === newest ? "to what stands" : "look at it"}
                </button>
              )}
            </p>
          </li>
        ))}
      </ol>
      {history.hasNextPage && <Button onClick={() => void history.fetchNextPage()}>Show older</Button>}
    </>
  );
}
