/** The week of the crew: who does what when, drawn; put elsewhere by hand, and the rest answers. */
import { type ReactNode, useRef, useState } from "react";
import { Link, useSearchParams } from "react-router";

import type { Person, WeekOut, WeekPart } from "../../api/client";
import { clockOf } from "../../drawing/week";
import { WeekDrawing } from "../../drawing/WeekDrawing";
import { Page } from "../../ui/Page";
import { Button, Mark, NotShown } from "../../ui/parts";
import { useWidth } from "../../ui/useWidth";
import { noon, sayDay } from "../../ui/when";
import { Crew } from "./Crew";
import { OnePart } from "./OnePart";
import { searching, useWeek, type WeekHandle } from "./useWeek";
import { handedOver, holding, letGo, mondayOf } from "./wishes";

const NARROW = 760;

export function Week({ person }: { person: Person }) {
  const [search, setSearch] = useSearchParams();
  const monday = search.get("monday") ?? mondayOf(new Date(), new Date().getDay() === 0 ? 1 : 0);
  const to = (weeks: number) => setSearch({ monday: mondayOf(noon(monday), weeks) });
  const handle = useWeek(monday);
  const { week } = handle;
  return (
    <Page title={titled(monday)} wide>
      <main className="grow px-5 pb-16 md:px-7">
        <div className="mt-4 flex flex-wrap items-center gap-x-4 gap-y-1">
          <h1 className="text-3xl font-bold">{titled(monday)}</h1>
          <span className="flex gap-1">
            <Button aria-label="The week before" onClick={() => to(-1)}>
              ←
            </Button>
            <Button aria-label="The week after" onClick={() => to(1)}>
              →
            </Button>
          </span>
          {week && week.parts.length > 0 && (
            <p className="flex gap-x-5 md:ml-auto">
              <Out href={`/api/weeks/${monday}/sheets.pdf`}>Day sheets</Out>
              <Out href={`/api/weeks/${monday}/calendar.ics`}>As a calendar</Out>
            </p>
          )}
        </div>
        {handle.failed && !week ? (
          <NotShown what="The week" />
        ) : !week ? (
          <p className="mt-6 text-soft">Reading the work lists …</p>
        ) : (
          <Planned key={monday} handle={handle} week={week} mayPlan={person.may.includes("plan")} />
        )}
      </main>
    </Page>
  );
}

function titled(monday: string): string {
  const day = sayDay(monday, { day: "numeric", month: "long" });
  return `Week of ${day}`;
}

function Out({ href, children }: { href: string; children: ReactNode }) {
  return (
    <a className="inline-flex min-h-11 items-center underline" href={href} target="_blank" rel="noreferrer">
      {children}
    </a>
  );
}

interface PlannedProps {
  handle: WeekHandle;
  week: WeekOut;
  mayPlan: boolean;
}

function Planned({ handle, week, mayPlan }: PlannedProps) {
  const empty = week.wishes.people.length === 0 || week.sites.length === 0;
  const [crew, setCrew] = useState(empty);
  const [selected, setSelected] = useState<string | null>(null);
  const [day, setDay] = useState(0);
  const [box, width] = useWidth();
  const narrow = width > 0 && width < NARROW;
  const days = narrow ? week.days.slice(day, day + 1) : week.days;
  const part = week.parts.find((one) => one.id === selected);
  function move(moved: WeekPart, place: { day: string; minute: number; person: string }, from: string) {
    const people = handedOver(moved, from, place.person);
    void handle.wish(holding(week.wishes, moved.id, place.day, clockOf(place.minute), people));
  }
  return (
    <>
      {empty && (
        <p className="mt-2 max-w-2xl text-soft">
          Name the crew and the installs of this week. Who does what, and when, follows from their work lists: the
          fewest visits, nobody idle beside something that runs by itself, power off only when the house can do without.
        </p>
      )}
      {!empty && <Result handle={handle} week={week} mayPlan={mayPlan} />}
      {handle.wrong && (
        <p role="alert" className="mt-1 font-semibold text-stop">
          {handle.wrong}
        </p>
      )}
      <div className="mt-3 grid gap-x-8 xl:grid-cols-[minmax(0,1fr)_20rem]">
        <div ref={box} className="min-w-0">
          {narrow && !empty && (
            <p className="mb-2 flex flex-wrap gap-1" role="group" aria-label="Day">
              {week.days.map((one, index) => (
                <button
                  key={one}
                  type="button"
                  aria-pressed={index === day}
                  className={`min-h-11 min-w-12 border-b-3 px-1 ${index === day ? "border-copper font-bold" : "border-transparent text-soft"}`}
                  onClick={() => setDay(index)}
                >
                  {sayDay(one, { weekday: "short", day: "numeric" })}
                </button>
              ))}
            </p>
          )}
          {!empty && width > 0 && (
            <WeekDrawing
              week={week}
              days={days}
              width={width}
              selected={selected}
              onSelect={setSelected}
              onMove={mayPlan && !handle.busy ? move : undefined}
            />
          )}
          {!empty && (
            <p className="mt-1 text-sm text-soft">
              Drag a task along the days, or to another line; a bar at its begin: somebody put it there. Dashed: it runs
              by itself.
            </p>
          )}
        </div>
        {!empty && (
          <aside aria-label="About this task" className="max-xl:mt-4">
            {part ? (
              <OnePart
                key={part.id}
                part={part}
                week={week}
                disabled={!mayPlan || handle.busy}
                onHold={(on, from, people) => void handle.wish(holding(week.wishes, part.id, on, from, people))}
                onLetGo={() => void handle.wish(letGo(week.wishes, part.id))}
              />
            ) : (
              <p className="text-soft">Choose a task: why it stands where it stands, and what would let it move.</p>
            )}
          </aside>
        )}
      </div>
      {week.open.length > 0 && (
        <section aria-label="No place in this week">
          <h2 className="mt-5 text-lg font-bold">No place in this week</h2>
          <ul>
            {week.open.map((row) => (
              <li key={row.id} className="flex gap-2 border-t border-rule py-1 first:border-0">
                <span className="text-warning">
                  <Mark severity="warning" />
                </span>
                <span>
                  {row.text} <span className="text-soft">{row.says}</span>
                </span>
              </li>
            ))}
          </ul>
        </section>
      )}
      <section aria-label="Who and where" className="mt-6 border-t border-rule pt-3">
        {!empty && (
          <Button aria-expanded={crew} onClick={() => setCrew(!crew)}>
            {crew ? "That is all" : "Who and where"}
          </Button>
        )}
        {(crew || empty) && (
          <div className="mt-3">
            <Crew week={week} disabled={!mayPlan || handle.busy} onWish={(wishes) => void handle.wish(wishes)} />
          </div>
        )}
        {mayPlan && !empty && <Bring handle={handle} />}
      </section>
      <p className="mt-6 text-sm text-soft">
        Work lists are those of the installs:{" "}
        {week.sites.map((site, index) => (
          <span key={site.id}>
            {index > 0 && ", "}
            <Link className="underline" to={`/installs/${site.install}/load-out?work`}>
              {site.name}
            </Link>
          </span>
        ))}
        {week.sites.length === 0 ? "none yet." : "."}
      </p>
    </>
  );
}

function Result({ handle, week, mayPlan }: PlannedProps) {
  const running = searching(week);
  const visits = week.visits ?? 0;
  return (
    <div className="mt-1 flex flex-wrap items-center gap-x-4 gap-y-1">
      {week.conflict.length > 0 ? (
        <p className="flex gap-2 font-semibold text-stop">
          <Mark severity="stop" />
          Not all of this can be had: {week.conflict.join("; ")}. Let one of them give.
        </p>
      ) : week.parts.length > 0 ? (
        <p>
          <b>
            {visits} {visits === 1 ? "visit" : "visits"}
          </b>
          {sure(week)}, <b>{hours(week.idle_min ?? 0)}</b> idle between tasks.
          {week.agreed && " The crew goes by it."}
          {week.agreed_moves > 0 && ` ${String(week.agreed_moves)} stand elsewhere than agreed.`}
        </p>
      ) : (
        <p className="text-soft">
          {week.waiting > 0 ? `${String(week.waiting)} tasks, not planned yet.` : "Nothing left to do."}
        </p>
      )}
      {week.status === "failed" && (
        <p className="flex gap-2 text-warning">
          <Mark severity="warning" />
          The search broke off. Plan it once more.
        </p>
      )}
      {running && (
        <p role="status" className="flex items-center gap-3 text-soft">
          <progress value={week.share} max={1} className="h-2 w-32 accent-copper" aria-label="The search" />
          {week.parts.length > 0 ? "looking for a better one" : "looking for a plan"}
          {mayPlan && <Button onClick={() => void handle.stop()}>This one will do</Button>}
        </p>
      )}
      {mayPlan && !running && (
        <span className="flex gap-2">
          {(week.stale || week.parts.length === 0 || week.waiting > 0 || week.status === "failed") &&
            week.waiting + week.parts.length > 0 && (
              <Button kind="main" disabled={handle.busy} onClick={() => void handle.plan()}>
                Plan the week
              </Button>
            )}
          {week.parts.length > 0 && !week.stale && !week.agreed && (
            <Button kind="main" disabled={handle.busy} onClick={() => void handle.agree()}>
              Go by this plan
            </Button>
          )}
        </span>
      )}
    </div>
  );
}

function sure(week: WeekOut): string {
  if (searching(week) || week.least_visits == null || week.visits == null) return "";
  return week.visits <= week.least_visits ? ", fewer cannot be" : "";
}

function hours(minutes: number): string {
  return minutes < 60 ? `${String(minutes)} min` : `${String(Math.floor(minutes / 60))} h ${String(minutes % 60)} min`;
}

function Bring({ handle }: { handle: WeekHandle }) {
  const input = useRef<HTMLInputElement>(null);
  const [brought, setBrought] = useState<string | null>(null);
  return (
    <p className="mt-3 flex flex-wrap items-center gap-3">
      <input
        ref={input}
        type="file"
        accept=".ics,text/calendar"
        aria-label="A calendar file"
        className="hidden"
        onChange={(event) => {
          const file = event.target.files?.[0];
          event.target.value = "";
          if (file) void file.text().then(handle.bring).then(setBrought);
        }}
      />
      <Button disabled={handle.busy} onClick={() => input.current?.click()}>
        Bring a calendar back
      </Button>
      <span role="status" className="text-soft">
        {brought ?? "What was moved in it is held there; other events, as “odo: course”, are hours away."}
      </span>
    </p>
  );
}
