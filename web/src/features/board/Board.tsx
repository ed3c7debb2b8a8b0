/** The installs of the company: what is next, what is stuck, on what. */
import { useInfiniteQuery, useQueryClient } from "@tanstack/react-query";
import { type ChangeEvent, type SubmitEvent, useEffect, useState } from "react";
import { Link, useNavigate } from "react-router";

import {
  api,
  type Board as BoardPage,
  data,
  freshKey,
  type InstallOut,
  type Person,
  type PlanOut,
  post,
} from "../../api/client";
import { Places } from "../../ui/Page";
import { Wordmark } from "../../ui/Wordmark";
import { Button, Mark, Message } from "../../ui/parts";

const MILESTONES = [
  { id: "lines", name: "Planning" },
  { id: "start-up", name: "Start-up" },
  { id: "handover", name: "Handover" },
] as const;

function reached(install: InstallOut): number {
  return install.station === "signed"
    ? MILESTONES.length
    : MILESTONES.findIndex((station) => station.id === install.station);
}

export function Board({ person }: { person: Person }) {
  const [search, setSearch] = useState("");
  const board = useInfiniteQuery({
    queryKey: ["board", search],
    queryFn: async ({ pageParam }) =>
      data(await api.GET("/api/installs", { params: { query: { search: search || undefined, cursor: pageParam } } })),
    initialPageParam: undefined as string | undefined,
    getNextPageParam: (page: BoardPage) => page.cursor ?? undefined,
    placeholderData: (old) => old,
  });
  useEffect(() => {
    document.title = "Installs · Leitung";
  }, []);
  const installs = board.data?.pages.flatMap((page) => page.installs) ?? [];
  const stuck = installs.filter((install) => install.stuck_on).length;
  return (
    <div className="mx-auto max-w-6xl px-5 pb-16 md:px-7">
      <header className="flex flex-wrap items-center gap-x-4 pt-3">
        <Wordmark />
        <Places />
        <p className="ml-auto text-soft">
          {person.company} · {person.name}
        </p>
        <SignOut />
      </header>
      <main>
        <div className="mt-8 flex flex-wrap items-end gap-x-8 gap-y-4">
          <h1 className="text-3xl font-bold">
            {board.data ? headline(installs.length, stuck, board.hasNextPage) : "Installs"}
          </h1>
          <input
            type="search"
            aria-label="Find an install by name or site"
            placeholder="Find by name or site"
            className="ml-auto min-h-11 w-64 rounded-xs border-b-2 border-ink/50 bg-transparent px-2 focus:border-copper max-md:w-full"
            value={search}
            onChange={(event) => setSearch(event.target.value)}
          />
        </div>
        {person.may.includes("plan") && <Begin />}
        {board.isError && (
          <Message title="The installs cannot be shown">
            <p>Leitung does not answer. Nothing is lost.</p>
            <Button className="mt-4" onClick={() => void board.refetch()}>
              Try again
            </Button>
          </Message>
        )}
        <ol className="mt-6 border-t border-rule">
          {installs.map((install) => (
            <Row key={install.id} install={install} />
          ))}
        </ol>
        {board.data && installs.length === 0 && (
          <p className="py-10 text-lg text-soft">
            {search
              ? `No install has “${search}” in its name or site.`
              : "No install yet. Begin one above, or bring in a plan file."}
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

function headline(count: number, stuck: number, more: boolean): string {
  const installs = `${count}${more ? "+" : ""} ${count === 1 ? "install" : "installs"}`;
  return stuck ? `${installs}, ${stuck} stuck` : installs;
}

/** An install as a line of its stations, with what is next or what it is stuck on. */
function Row({ install }: { install: InstallOut }) {
  const at = reached(install);
  const stuck = Boolean(install.stuck_on);
  const station = install.station === "signed" ? "handover" : install.station;
  return (
    <li className="border-b border-rule">
      <Link
        to={`/installs/${install.id}/${station}`}
        className="grid gap-x-8 gap-y-2 py-4 hover:bg-sheet md:grid-cols-[17rem_15rem_1fr] md:px-3"
      >
        <span>
          <span className="block text-lg font-bold">{install.name}</span>
          <span className="text-soft">{install.site}</span>
        </span>
        <Track at={at} stuck={stuck} />
        <span className="flex items-start gap-3">
          {stuck ? (
            <>
              <span className="pt-0.5 text-stop">
                <Mark severity="stop" />
              </span>
              <span>
                <b className="block text-stop">{install.stuck_on}</b>
                <span className="text-soft">{install.next}</span>
              </span>
            </>
          ) : (
            <span>
              <b className="block">{install.next}</b>
              <span className="text-soft">{install.station === "signed" ? "Done" : "Next"}</span>
            </span>
          )}
        </span>
      </Link>
    </li>
  );
}

const TRACK = 176;

function Track({ at, stuck }: { at: number; stuck: boolean }) {
  const step = TRACK / (MILESTONES.length - 1);
  const end = Math.min(TRACK, at * step + (at < MILESTONES.length - 1 ? step * 0.35 : 0));
  const name = MILESTONES[at]?.name ?? "Signed";
  return (
    <svg viewBox={`-6 -4 240 50`} width="228" height="48" role="img" aria-label={`At ${name}${stuck ? ", stuck" : ""}`}>
      <path d={`M0 10H${TRACK}`} stroke="#b9ab92" strokeWidth="2" />
      <path d={`M0 10H${end}`} stroke="#1b2126" strokeWidth="4.5" />
      {MILESTONES.map((station, index) => (
        <g key={station.id}>
          <path
            d={`M${index * step} 2v16`}
            stroke={index <= at ? "#1b2126" : "#b9ab92"}
            strokeWidth={index === at ? 7 : 4}
          />
          <text
            x={index * step - 3}
            y="36"
            fontSize="13"
            fontWeight={index === at ? 650 : 400}
            fill={index === at ? "#1b2126" : "#474c50"}
          >
            {station.name}
          </text>
        </g>
      ))}
      {stuck && <path d={`M${end - 12} 0l7 20M${end} 0l7 20`} stroke="#96181c" strokeWidth="4" />}
    </svg>
  );
}

function Begin() {
  const navigate = useNavigate();
  const client = useQueryClient();
  const [message, setMessage] = useState<string | null>(null);
  const [name, setName] = useState("");
  const [busy, setBusy] = useState(false);

  async function create(path: string, body: unknown) {
    setBusy(true);
    const answer = await post<PlanOut>(path, freshKey(), body);
    setBusy(false);
    if (answer.kind === "done") {
      await client.invalidateQueries({ queryKey: ["board"] });
      void navigate(`/installs/${answer.body.install.id}/lines`);
    } else if (answer.kind === "refused") {
      const errors = answer.problem.errors ?? [];
      const listed = errors.map((e) => `${e.field}: ${e.message}. ${e.remedy}`).join(" ");
      setMessage(listed || answer.problem.detail);
    } else {
      setMessage("Leitung does not answer. What you entered stays here; try again.");
    }
  }
  async function bringIn(event: ChangeEvent<HTMLInputElement>) {
    const input = event.target;
    const file = input.files?.[0];
    if (!file) return;
    setMessage(null);
    if (file.size > 5_000_000)
      setMessage(`${file.name} is larger than 5 MB; a plan is far smaller. Choose the plan file.`);
    else {
      try {
        await create("/api/imports", JSON.parse(await file.text()));
      } catch {
        setMessage(`${file.name} is not readable JSON. Export the plan again, or choose another file.`);
      }
    }
    input.value = "";
  }
  function begin(event: SubmitEvent) {
    event.preventDefault();
    setMessage(null);
    void create("/api/installs", { name });
  }
  return (
    <section className="mt-5">
      <form onSubmit={begin} className="flex flex-wrap items-center gap-3">
        <input
          aria-label="Name of the new install"
          placeholder="Name of a new install"
          className="min-h-11 w-72 rounded-xs border-b-2 border-ink/50 bg-transparent px-2 focus:border-copper"
          value={name}
          onChange={(event) => setName(event.target.value)}
        />
        <Button type="submit" kind="main" disabled={busy || !name.trim()}>
          Begin
        </Button>
        <label className="flex min-h-11 cursor-pointer items-center underline decoration-faint underline-offset-4 focus-within:outline-3 focus-within:outline-copper hover:decoration-copper md:ml-6">
          Bring in a plan file
          <input
            type="file"
            accept=".json,application/json"
            className="sr-only"
            onChange={(event) => void bringIn(event)}
          />
        </label>
      </form>
      {message && (
        <p role="alert" className="mt-3 max-w-3xl text-stop">
          {message}
        </p>
      )}
    </section>
  );
}

function SignOut() {
  const client = useQueryClient();
  async function out() {
    await api.DELETE("/api/session");
    client.clear();
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
