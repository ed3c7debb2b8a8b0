/** The installs of the company: one's own first, newest first; what is next, what is stuck, on what. */
import { useInfiniteQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { Link } from "react-router";

import { api, type Board as BoardPage, data, type Person } from "../../api/client";
import { LookSwitch } from "../../ui/LookSwitch";
import { Places } from "../../ui/Page";
import { Wordmark } from "../../ui/Wordmark";
import { forgetAnswers } from "../../ui/shell";
import { Button, Message } from "../../ui/parts";
import { Begin } from "./Begin";
import { Row } from "./Row";
import { type Shelf, useShelves } from "./useShelves";

const VIEWS = [
  { name: "All", shelf: "open" },
  { name: "Stuck", shelf: "open", only: "stuck" },
  { name: "Planning", shelf: "open", only: "lines" },
  { name: "Start-up", shelf: "open", only: "start-up" },
  { name: "Handover", shelf: "open", only: "handover" },
  { name: "Signed", shelf: "open", only: "signed" },
  { name: "Templates", shelf: "template" },
  { name: "Archived", shelf: "archived" },
  { name: "Deleted", shelf: "deleted" },
] as const;
const FIRST_SHELF = VIEWS.findIndex(({ shelf }) => shelf !== "open");
const NOTHING: Record<Shelf, string> = {
  open: "No install yet. Begin one above, or bring in a plan file.",
  template: "No template yet. Save an install as one under More, and others begin like it.",
  archived: "Nothing is archived.",
  deleted: "Nothing deleted is kept.",
};
const REFRESH_MS = 15_000;

export function Board({ person }: { person: Person }) {
  const [search, setSearch] = useState("");
  const [view, setView] = useState<(typeof VIEWS)[number]>(VIEWS[0]);
  const shelves = useShelves();
  const only = "only" in view ? view.only : undefined;
  const board = useInfiniteQuery({
    queryKey: ["board", view.name, search],
    queryFn: async ({ pageParam }) =>
      data(
        await api.GET("/api/installs", {
          params: { query: { search: search || undefined, shelf: view.shelf, only, cursor: pageParam } },
        }),
      ),
    initialPageParam: undefined as string | undefined,
    getNextPageParam: (page: BoardPage) => page.cursor ?? undefined,
    placeholderData: (old) => old,
    refetchInterval: REFRESH_MS,
  });
  useEffect(() => {
    document.title = "Installs · Leitung";
  }, []);
  const installs = board.data?.pages.flatMap((page) => page.installs) ?? [];
  const plans = person.may.includes("plan");
  return (
    <div className="mx-auto max-w-6xl px-5 pb-16 md:px-7">
      <header className="flex flex-wrap items-center gap-x-4 pt-3">
        <Wordmark />
        <Places />
        <span className="ml-auto">
          <LookSwitch />
        </span>
        <p className="text-soft">
          <span className="max-2xl:hidden">{person.company} · </span>
          <Link to="/account" className="underline decoration-faint underline-offset-4 hover:decoration-copper">
            {person.name}
          </Link>
        </p>
        <SignOut />
      </header>
      <main>
        <div className="mt-8 flex flex-wrap items-end gap-x-8 gap-y-4">
          <h1 className="text-3xl font-bold">
            {board.data ? headline(view, installs, board.hasNextPage) : "Installs"}
          </h1>
          <input
            type="search"
            aria-label="Find an install by name, address or serial number"
            placeholder="Name, address, serial number"
            className="ml-auto min-h-11 w-64 rounded-xs border-b-2 border-ink/50 bg-transparent px-2 focus:border-copper max-md:w-full"
            value={search}
            onChange={(event) => setSearch(event.target.value)}
          />
        </div>
        {plans && <Begin installs={view.shelf === "open" ? installs : []} />}
        <nav aria-label="Which installs" className="mt-6 flex flex-wrap gap-x-5">
          {VIEWS.map((entry, index) => (
            <button
              key={entry.name}
              type="button"
              aria-current={entry === view ? "true" : undefined}
              className={`min-h-11 ${index === FIRST_SHELF ? "md:ml-auto" : ""} ${entry === view ? "font-bold" : "text-soft hover:text-ink"}`}
              onClick={() => setView(entry)}
            >
              {entry.name}
            </button>
          ))}
        </nav>
        <p role="status" className={shelves.done?.wrong ? "text-stop" : ""}>
          {shelves.done && (
            <>
              {shelves.done.says}{" "}
              {shelves.done.back && (
                <button
                  type="button"
                  className="min-h-11 underline decoration-faint underline-offset-4 hover:decoration-copper"
                  onClick={() => void shelves.done?.back?.()}
                >
                  Take it back
                </button>
              )}
            </>
          )}
        </p>
        {board.isError && (
          <Message title="The installs cannot be shown">
            <p>Leitung does not answer. Nothing is lost.</p>
            <Button className="mt-4" onClick={() => void board.refetch()}>
              Try again
            </Button>
          </Message>
        )}
        <ol className="border-t border-rule">
          {installs.map((install) => (
            <Row key={install.id} install={install} shelves={plans ? shelves : null} />
          ))}
        </ol>
        {board.data && installs.length === 0 && (
          <p className="py-10 text-lg text-soft">
            {search
              ? `No install has “${search}” in its name, its address or on a plate.`
              : only
                ? "None of them just now."
                : NOTHING[view.shelf]}
          </p>
        )}
        {board.hasNextPage && (
          <Button className="mt-5" onClick={() => void board.fetchNextPage()}>
            Show more
          </Button>
        )}
      </main>
    </div>
  );
}

function headline(view: (typeof VIEWS)[number], rows: readonly { stuck_on: string }[], more: boolean): string {
  const count = `${rows.length}${more ? "+" : ""}`;
  if (view.shelf === "template") return `${count} ${rows.length === 1 ? "template" : "templates"}`;
  const installs = `${count} ${rows.length === 1 ? "install" : "installs"}`;
  if (view.name !== "All") return `${installs}, ${view.name.toLowerCase()}`;
  const stuck = rows.filter((install) => install.stuck_on).length;
  return stuck ? `${installs}, ${stuck} stuck` : installs;
}

function SignOut() {
  const client = useQueryClient();
  async function out() {
    await api.DELETE("/api/session");
    client.clear();
    await forgetAnswers();
    window.location.assign("/");
  }
  return (
    <button
      type="button"
      className="min-h-11 text-soft underline decoration-faint underline-offset-4 hover:decoration-copper"
      onClick={() => void out()}
    >
      Sign out
    </button>
  );
}
