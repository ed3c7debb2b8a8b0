/** Supply: what feeds the lines, whether they start on it, what is left; the ways out, and the trials in fact. */
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { useSearchParams } from "react-router";

import { api, data, type PlanOut, Refusal, type StartPicture, type SupplyAt, type TriedOut } from "../../api/client";
import { findingsAt } from "../../api/findings";
import { FeedsDrawing } from "../../drawing/FeedsDrawing";
import { moment } from "../../drawing/start";
import { type Logged, StartDrawing } from "../../drawing/StartDrawing";
import { merge } from "../../plan/merge";
import type { PlanHandle } from "../../plan/usePlan";
import { AtRest } from "../../ui/atRest";
import { Findings } from "../../ui/Findings";
import { WHO } from "../../ui/caution";
import { inWords } from "../../ui/inWords";
import { Button, Mark } from "../../ui/parts";
import { SideScroll } from "../../ui/SideScroll";
import { sentence } from "../../ui/text";
import { useWidth } from "../../ui/useWidth";
import { failing, LookedAt, severityOf, Ways } from "../../ui/StartAnswer";
import { LoggedCurrent, type LogEvent } from "../../ui/LoggedCurrent";
import { moved, type Trial } from "../../plan/trial";
import { AddFeed } from "./AddFeed";
import { callOf, groupsOf } from "./feeds";
import { PlannedLoad } from "./PlannedLoad";
import { PlannedSource } from "./PlannedSource";
import { Trials } from "./Trials";

interface Props {
  plan: PlanHandle;
  readOnly: boolean;
  canRecord: boolean;
}

export function Supply({ plan, readOnly, canRecord }: Props) {
  const [query, setQuery] = useSearchParams();
  const server = plan.plan;
  if (!server || !plan.document) return null;
  const { supplies } = server.result;
  const groups = groupsOf(supplies);
  const at = supplies[query.get("source") ?? ""] ?? groups[0]?.[0];
  const group = groups.find((entries) => entries.some(({ source }) => source === at?.source));
  const choose = (source: string) => setQuery({ source });
  if (!at || !group)
    return (
      <main className="mt-2 border-t border-rule px-5 py-12 md:px-7">
        <h2 className="text-2xl font-bold">Nothing weak feeds this install</h2>
        <p className="mt-2 max-w-2xl text-soft">
          A building’s panel is judged by its demand, not by one unit’s start. Where lines are fed from a pedestal, a
          generator or an inverter, add it here: Leitung then says who starts on it, what trips and when, and what is
          left.
        </p>
        {!readOnly && <AddFeed plan={plan} base={null} onAdded={choose} />}
      </main>
    );
  return (
    <main className="mt-2 border-t border-rule">
      {groups.length > 1 && (
        <p className="flex flex-wrap gap-x-6 px-5 pt-2 md:px-7">
          {groups.map(([first]) => (
            <button
              key={first?.source}
              type="button"
              aria-pressed={group[0]?.source === first?.source}
              className={`min-h-11 border-b-3 text-lg ${group[0]?.source === first?.source ? "border-copper font-bold" : "border-transparent text-soft hover:text-ink"}`}
              onClick={() => first && choose(first.source)}
            >
              {first?.name}
            </button>
          ))}
        </p>
      )}
      <Fed
        key={at.source}
        at={at}
        group={group}
        plan={plan}
        server={server}
        readOnly={readOnly}
        canRecord={canRecord}
        onChoose={choose}
      />
    </main>
  );
}

interface FedProps {
  at: SupplyAt;
  group: readonly SupplyAt[];
  plan: PlanHandle;
  server: PlanOut;
  readOnly: boolean;
  canRecord: boolean;
  onChoose: (source: string) => void;
}

/** One source with the start on it: as planned, or as it is tried on paper, with the run before beneath. */
function Fed({ at, group, plan, server, readOnly, canRecord, onChoose }: FedProps) {
  const planned = at.document as unknown as Trial | undefined;
  const [draft, setDraft] = useState<{ trial: Trial; of: number; kept: boolean } | null>(null);
  const [before, setBefore] = useState<StartPicture | null>(null);
  const [selected, setSelected] = useState<string | null>(null);
  const [seen, setSeen] = useState<{ course: readonly Logged[]; event: LogEvent } | null>(null);
  const [box, width] = useWidth();
  const { revision, id } = server.install;
  // What was kept in the plan stands there once the server has answered; what was tried only is let go by another change.
  const trial = draft && draft.of === revision ? draft.trial : planned;
  const trying = Boolean(draft && draft.of === revision && !draft.kept);
  const found = useQuery({
    queryKey: ["supply", id, at.source, revision, trial],
    enabled: trial !== undefined,
    queryFn: async () => {
      const path = { install_id: id, source: at.source };
      const body = trial as unknown as Record<string, never>;
      return data(await api.POST("/api/installs/{install_id}/supplies/{source}/starts", { params: { path }, body }));
    },
    placeholderData: keepPreviousData,
    retry: false,
    staleTime: Infinity,
  });
  const answer = trial ? found.data : undefined;
  useBeforeOf(revision, answer, found.isPlaceholderData, setBefore);
  const decides = answer?.why[0];
  const fails = answer !== undefined && failing(answer.verdict);
  const rows = at.loads.map(({ id: load, name }) => ({
    id: load,
    name,
    at: trial?.calls.find((call) => call.load === load)?.at_s ?? null,
  }));
  const load = at.loads.find(({ id: key }) => key === selected);
  const [rest] = useState(() => new AtRest(AT_REST_MS));
  useEffect(() => rest.watch(window), [rest]);
  const drop = (key: string, moment: number) =>
    rest.later(() => plan.change(callOf(at, key, moment), `Call ${key} at ${String(moment)} s on ${at.name}`));
  const again = () => {
    setDraft(null);
    setBefore(null);
  };
  return (
    <div className="grid grow lg:grid-cols-[minmax(0,1fr)_25rem]">
      <section aria-label="The start" className="min-w-0 px-5 pt-2 pb-10 md:px-7">
        <h2 className={`flex items-center gap-3 text-2xl font-bold ${fails ? "text-stop" : ""}`}>
          {answer && <Mark severity={severityOf(answer.verdict)} />}
          {answer?.headline ?? at.says}
          {trying && <span className="text-base font-normal text-copper-deep">tried on paper, not in the plan</span>}
        </h2>
        {decides && answer.verdict !== "starts" && (
          <p className="text-soft">
            {sentence(decides.about)}, {moment(decides.at_s)}: {decides.says}.
          </p>
        )}
        {trying && answer && (
          <p className="flex flex-wrap items-center gap-3 py-1">
            {answer.keep && !readOnly && (
              <Button
                kind="main"
                onClick={() => {
                  if (draft) setDraft({ ...draft, kept: true });
                  plan.change(answer.keep ?? {}, `Keep the start on ${at.name}`);
                }}
              >
                Keep it in the plan
              </Button>
            )}
            <Button onClick={again}>Back to the plan</Button>
          </p>
        )}
        <div ref={box}>
          <FeedsDrawing
            group={group.map((entry) => (entry === at && answer && trial ? as(entry, answer, trial) : entry))}
            chosen={at.source}
            narrow={width > 0 && width < 640}
            onChoose={onChoose}
          />
        </div>
        {found.error && <Trouble error={found.error} />}
        {answer && (
          <div className={found.isPlaceholderData ? "opacity-60" : ""}>
            <SideScroll more="the rest of the start">
              <div className="min-w-[44rem]">
                <StartDrawing
                  picture={answer.picture}
                  before={before}
                  logged={seen ? laid(seen.course, seen.event, answer.picture) : []}
                  loads={rows}
                  failsAt={fails ? (decides?.at_s ?? null) : null}
                  title={`Current against time: ${answer.headline}`}
                  at={{
                    selected,
                    onSelect: setSelected,
                    onMove: (key, moment) => {
                      if (!trial || readOnly) return;
                      if (!trying) setBefore(answer.picture);
                      setDraft({ trial: moved(trial, key, moment), of: revision, kept: true });
                    },
                    onDrop: readOnly ? undefined : drop,
                  }}
                />
              </div>
            </SideScroll>
            <p className="text-sm text-soft">
              Drag a call along its line, or move it by ← and →. ○ the compressor joins.
              {before && " Dashed: the run before."}
              {seen && " The band is what the logger saw."}{" "}
              {before && !trying && (
                <button type="button" className="min-h-11 underline" onClick={() => setBefore(null)}>
                  Without it
                </button>
              )}
            </p>
          </div>
        )}
        <Trials plan={plan} id={id} group={group} canRecord={canRecord} />
        <LoggedCurrent
          rating={ratingOf(trial)}
          path={`/api/installs/${id}/supplies/${at.source}/logs`}
          onLay={(rise, event) => setSeen({ course: rise.course, event })}
        />
      </section>
      <aside
        aria-label="About this source"
        className="border-rule bg-sheet px-6 py-4 max-lg:border-t-4 lg:border-l-2 lg:border-l-ink"
      >
        {load ? (
          <PlannedLoad plan={plan} at={at} load={load} readOnly={readOnly} onClose={() => setSelected(null)} />
        ) : (
          <PlannedSource plan={plan} at={at} readOnly={readOnly} onSelect={setSelected} />
        )}
        {!trying && (
          <Findings
            rows={findingsAt(server.result, `sources/${at.source}`).filter(({ code }) => OF_START.has(code))}
            plan={plan}
            readOnly={readOnly}
          />
        )}
        {answer && (
          <>
            <Ways
              answer={answer}
              onTry={(way) => {
                if (!trial) return;
                setBefore(answer.picture);
                setDraft({ trial: merge(trial, way.change), of: revision, kept: false });
              }}
            />
            <LookedAt answer={answer} />
          </>
        )}
        {!readOnly && <AddFeed plan={plan} base={at.base} onAdded={onChoose} />}
        <p className="mt-5 border-t border-rule pt-3 text-sm text-soft">A breaker is no way to find out. {WHO}</p>
      </aside>
    </div>
  );
}

// What the headline says is not said twice.
const OF_START = new Set(["start-unknown", "start-range", "source-lacks-leg", "continuous-load"]);

/** What is tried shows at once where the sources are drawn too. */
function as(at: SupplyAt, answer: TriedOut, trial: Trial): SupplyAt {
  const called = new Set(trial.calls.map(({ load }) => load));
  return {
    ...at,
    verdict: answer.verdict,
    says: answer.headline,
    legs: answer.legs,
    supply: answer.supply,
    document: trial as unknown as Record<string, never>,
    loads: at.loads.map((load) => ({ ...load, called: called.has(load.id) })),
  };
}

function ratingOf(trial: Trial | undefined): number | null {
  const rating = trial?.supply.breaker_a;
  return typeof rating === "number" ? rating : null;
}

/** A logged rise in the seconds of the prediction: at the start of the part that it is likely to be, else at the first. */
function laid(course: readonly Logged[], event: LogEvent, picture: StartPicture): Logged[] {
  const named = event.likely?.[0];
  const part = picture.parts.find(
    (entry) =>
      entry.starting && entry.load === named?.load && (named.part === "the whole unit" || entry.part === named.part),
  );
  const from = part?.from_s ?? Math.min(...picture.parts.map((entry) => entry.from_s), picture.until_s);
  return course.map((entry) => ({ ...entry, t_s: entry.t_s - event.at_s + from }));
}

// Steps of a key are one change of the plan.
const AT_REST_MS = 1000;

/** After a change of the plan the run that stood before it is drawn beneath the new one. */
function useBeforeOf(
  revision: number,
  answer: TriedOut | undefined,
  stale: boolean,
  onBefore: (picture: StartPicture) => void,
) {
  const last = useRef<{ revision: number; picture: StartPicture } | null>(null);
  useEffect(() => {
    if (!answer || stale) return;
    const was = last.current;
    if (was && was.revision !== revision && JSON.stringify(was.picture) !== JSON.stringify(answer.picture))
      onBefore(was.picture);
    last.current = { revision, picture: answer.picture };
  }, [revision, answer, stale, onBefore]);
}

function Trouble({ error }: { error: Error }) {
  const said = error instanceof Refusal ? { kind: "refused" as const, problem: error.problem } : null;
  return (
    <p role="alert" className="font-semibold text-stop">
      {inWords(said ?? { kind: "unreachable" })}
    </p>
  );
}
