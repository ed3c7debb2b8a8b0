/** Practice: a few rounds a day, judged by what judges a plan, and seen by nobody else. */
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";

import { api, data, type Person, type PracticeOut, type SharedPractice } from "../../api/client";
import { Page } from "../../ui/Page";
import { Button, NotShown } from "../../ui/parts";
import { useSend } from "../../ui/useSend";
import { when } from "../../ui/when";
import { Played } from "./Played";
import { usePractice } from "./usePractice";
import { LEVELS, MINUTES } from "./words";

export function Practice({ person }: { person: Person }) {
  const practice = usePractice(person.username);
  const [playing, setPlaying] = useState<string | null>(null);
  const { found, due } = practice;
  const next = due.find((one) => one.held && one.id !== playing);
  if (practice.failed) return <NotShown what="Practice" />;
  if (playing)
    return (
      <Page title="Practice" atWork>
        <Played
          key={playing}
          id={playing}
          onAnswer={(given) => practice.answer(playing, given)}
          onNext={next ? () => setPlaying(next.id) : null}
          onEnd={() => setPlaying(null)}
        />
      </Page>
    );
  return (
    <Page title="Practice">
      {found && (
        <div className="max-w-2xl">
          <Today found={found} due={due} away={practice.away} onBegin={next ? () => setPlaying(next.id) : null} />
          {practice.waiting > 0 && (
            <p role="status" className="mt-3 text-soft">
              {practice.waiting === 1 ? "One answer waits" : `${practice.waiting} answers wait`} for a signal; nothing
              is lost.
            </p>
          )}
          <h2 className="mt-8 text-lg font-bold">How it stands</h2>
          <Standing levels={found.levels} />
          <Own found={found} onTake={practice.take} />
          {person.may.includes("people") && <Shared />}
        </div>
      )}
    </Page>
  );
}

type Due = ReturnType<typeof usePractice>["due"];

interface TodayProps {
  found: PracticeOut;
  due: Due;
  away: boolean;
  onBegin: (() => void) | null;
}

function Today({ found, due, away, onBegin }: TodayProps) {
  const minutes = due.reduce((sum, one) => sum + MINUTES[one.level], 0);
  if (!due.length)
    return (
      <p className="mt-2 text-lg">
        {found.answered ? "That is all for now." : "Nothing is due."}{" "}
        {found.next && <span className="text-soft">The next comes {when(found.next)}.</span>}
      </p>
    );
  return (
    <>
      <p className="mt-2 text-soft">
        {due.length === 1 ? "One round" : `${due.length} rounds`}, about {minutes} minutes. What you get wrong comes
        again soon, what you know later. Nobody sees it but you.
        {due.every((one) => one.held) && " All of it is on this device: no signal is needed."}
      </p>
      <ol className="mt-4">
        {due.map((one) => (
          <li key={one.id} className="flex items-baseline gap-3 border-t border-rule py-2 first:border-0">
            <b>{LEVELS[one.level]}</b>
            <span className="text-soft">{one.held ? one.title : coming(one, away)}</span>
          </li>
        ))}
      </ol>
      <Button kind="main" className="mt-4 w-full sm:w-auto sm:px-10" disabled={!onBegin} onClick={() => onBegin?.()}>
        {onBegin ? "Begin" : "Not here yet …"}
      </Button>
    </>
  );
}

function coming({ ready, title }: Due[number], away: boolean) {
  if (!ready) return "being made …";
  return `${title} (${away ? "comes when there is a signal" : "on its way"})`;
}

function Standing({ levels }: { levels: PracticeOut["levels"] }) {
  return (
    <ul className="mt-1">
      {levels.map(({ level, rounds, right }) => (
        <li key={level} className="flex items-center gap-4 border-t border-rule py-2 first:border-0">
          <span className="w-48 shrink-0">{LEVELS[level]}</span>
          <span aria-hidden className="h-1 min-w-0 grow bg-rule max-sm:invisible">
            {rounds > 0 && <span className="block h-1 bg-ink" style={{ width: `${(100 * right) / rounds}%` }} />}
          </span>
          <span className="w-28 shrink-0 text-right text-soft">
            {rounds ? `${right} of ${rounds} right` : "not begun"}
          </span>
        </li>
      ))}
    </ul>
  );
}

function Own({ found, onTake }: { found: PracticeOut; onTake: (found: PracticeOut) => void }) {
  const { busy, wrong, send } = useSend();
  const [sure, setSure] = useState(false);
  const change = async (path: string, body: unknown) => {
    const out = await send<PracticeOut>(`/api/practice/${path}`, body);
    if (out) onTake(out);
    setSure(false);
  };
  return (
    <section className="mt-6 border-t border-rule pt-3" aria-label="Whose it is">
      <label className="flex min-h-11 items-center gap-3">
        <input
          type="checkbox"
          className="h-5 w-5 accent-ink"
          checked={found.shared}
          disabled={busy}
          onChange={(event) => void change("sharing", { on: event.target.checked })}
        />
        My crew lead may see how it stands
      </label>
      {sure ? (
        <p className="flex flex-wrap items-center gap-3">
          All of it goes: what you answered, and what comes when.
          <Button disabled={busy} onClick={() => void change("forgetting", {})}>
            Forget it
          </Button>
          <Button onClick={() => setSure(false)}>Keep it</Button>
        </p>
      ) : (
        <button
          type="button"
          className="min-h-11 text-soft underline decoration-faint underline-offset-4 hover:decoration-copper"
          onClick={() => setSure(true)}
        >
          Forget all of it
        </button>
      )}
      {wrong && (
        <p role="alert" className="font-semibold text-stop">
          {wrong}
        </p>
      )}
    </section>
  );
}

function Shared() {
  const query = useQuery({
    queryKey: ["practice shared"],
    queryFn: async () => data(await api.GET("/api/practice/shared")),
  });
  const rows: SharedPractice[] = query.data ?? [];
  if (!rows.length) return null;
  return (
    <section aria-label="Shared with you">
      {rows.map((one) => (
        <details key={one.name} className="border-t border-rule">
          <summary className="min-h-11 cursor-pointer py-2 font-semibold">How it stands with {one.name}</summary>
          <Standing levels={one.levels} />
        </details>
      ))}
    </section>
  );
}
