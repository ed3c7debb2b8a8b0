/** One install: its header, its stations, and the screen of the station at hand. */
import { type ComponentType, lazy, type ReactNode, Suspense, useEffect, useRef, useState } from "react";
import { Link, useNavigate, useParams } from "react-router";

import { type Person, type PlanOut, Refusal, type StationAt } from "../api/client";
import { type PlanHandle, usePlan } from "../plan/usePlan";
import { Message } from "../ui/parts";
import { useMetric } from "../ui/units";
import { Banners } from "../ui/Banners";
import { Earlier } from "./Earlier";
import { Shortcuts } from "./Shortcuts";
import { singleKeys } from "../ui/keys";
import { Stations } from "../ui/Stations";
import { LookSwitch } from "../ui/LookSwitch";
import { UnitsSwitch } from "../ui/UnitsSwitch";
import { Wordmark } from "../ui/Wordmark";

const fetches: (() => Promise<unknown>)[] = [];

/** A screen that is fetched when it is first drawn, or behind the screen at hand. */
function onDemand<P>(fetchIt: () => Promise<ComponentType<P>>) {
  fetches.push(fetchIt);
  return lazy(async () => ({ default: await fetchIt() }));
}

// What a roof needs first stands first.
const StartUp = onDemand(async () => (await import("../features/startup/StartUp")).StartUp);
const DeviceSheet = onDemand(async () => (await import("../features/landings/DeviceSheet")).DeviceSheet);
const LoadOut = onDemand(async () => (await import("../features/loadout/LoadOut")).LoadOut);
const Handover = onDemand(async () => (await import("../features/handover/Handover")).Handover);
const Bench = onDemand(async () => (await import("../features/bench/Bench")).Bench);
const Landings = onDemand(async () => (await import("../features/landings/Landings")).Landings);
const Lines = onDemand(async () => (await import("../features/lines/Lines")).Lines);
const Open = onDemand(async () => (await import("../features/open/Open")).Open);
const Panels = onDemand(async () => (await import("../features/panels/Panels")).Panels);
const Rules = onDemand(async () => (await import("../features/rules/Rules")).Rules);
const Site = onDemand(async () => (await import("../features/site/Site")).Site);
const Supply = onDemand(async () => (await import("../features/supply/Supply")).Supply);
const Visits = onDemand(async () => (await import("../features/visits/Visits")).Visits);
const Suit = onDemand(async () => (await import("../features/suit/Suit")).Suit);

/** Once the screen at hand is there, the others are fetched: on a roof the signal may be gone by then. */
function useEveryScreen() {
  useEffect(() => {
    const timer = setTimeout(() => {
      for (const fetchIt of fetches) void fetchIt().catch(() => undefined);
    }, 800);
    return () => clearTimeout(timer);
  }, []);
}

/** Screens that belong to a station and are reached from a thing on it: by which key, and to which station. */
const WITHIN: Record<string, { station: string; key?: string }> = {
  sheet: { station: "landings" },
  panels: { station: "lines", key: "p" },
  suit: { station: "lines", key: "d" },
  rules: { station: "site", key: "r" },
  open: { station: "open", key: "o" },
  visits: { station: "handover" },
};

export function Install({ person }: { person: Person }) {
  const { id = "", station = "lines" } = useParams();
  return <Opened key={id} id={id} station={station} person={person} />;
}

function Opened({ id, station, person }: { id: string; station: string; person: Person }) {
  const [at, setAt] = useState<number | null>(null);
  const plan = usePlan(id, person.username, at);
  useMetric();
  useEveryScreen();
  const [keys, setKeys] = useState(false);
  const [history, setHistory] = useState(false);
  const navigate = useNavigate();
  // The history stands beside the lines: from another station it takes you there.
  const openHistory = () => {
    setHistory((shown) => station !== "lines" || !shown);
    if (station !== "lines") void navigate(`/installs/${id}/lines`);
  };
  useKeys(id, plan, () => setKeys(true), openHistory);
  useEffect(() => {
    if (plan.plan) document.title = `${plan.plan.install.name} · Leitung`;
  }, [plan.plan]);

  if (plan.loadError) {
    const detail =
      plan.loadError instanceof Refusal
        ? plan.loadError.message
        : "Leitung does not answer. Nothing is lost; load the page again.";
    return (
      <Message title="This install cannot be shown">
        <p>{detail}</p>
        <Link className="mt-4 inline-block underline" to="/">
          To the installs
        </Link>
      </Message>
    );
  }
  if (!plan.plan || !plan.document) return <p className="p-7 text-soft">Reading the plan …</p>;
  const { install } = plan.plan;
  const { waiting, trouble, conflict } = plan.outbox;
  const held = trouble !== null || conflict !== null;
  const saved = held ? "not saved yet" : waiting.length ? "saving …" : `saved ${clock(install.changed_at)}`;
  // What is past is looked at: nothing of it can be changed, recorded or signed.
  const acting = at === null ? person : { ...person, may: [] };
  const readOnly = !acting.may.includes("plan");
  const current = WITHIN[station]?.station ?? station;
  const stations = stationsOf(plan.plan);
  const known = station in WITHIN || stations.some((entry) => entry.id === current);
  const left = plan.plan.result.stations.reduce((sum, entry) => sum + entry.left, 0);
  return (
    <div className={`flex min-h-screen flex-col ${station === "lines" ? "lg:h-screen" : ""}`}>
      <header className="flex flex-wrap items-center gap-x-4 gap-y-1 px-5 pt-2 pb-1 md:px-7">
        <a
          href="#main"
          className="sr-only focus:not-sr-only focus:absolute focus:z-30 focus:bg-ink focus:p-3 focus:text-sheet"
          onClick={(event) => {
            event.preventDefault();
            document.getElementById("main")?.focus();
          }}
        >
          To the drawing
        </a>
        <Link to="/" aria-label="Leitung: all installs" className="flex min-h-11 items-center">
          <Wordmark short />
        </Link>
        <h1 className="text-xl font-bold">{install.name}</h1>
        <p className="text-soft max-md:hidden">
          {[install.site, plan.plan.result.edition].filter(Boolean).join(" · ")}
        </p>
        <Link
          to={`/installs/${id}/open`}
          aria-current={station === "open" ? "page" : undefined}
          className={`ml-auto flex min-h-11 items-center underline decoration-faint underline-offset-4 hover:decoration-copper ${station === "open" ? "font-bold" : ""}`}
        >
          {left ? `${left} open` : "plan in order"}
        </Link>
        <p className="text-soft">
          <button
            type="button"
            className="min-h-11 underline decoration-faint underline-offset-4 hover:decoration-copper"
            aria-expanded={history && station === "lines"}
            onClick={openHistory}
          >
            Revision {at ?? install.revision}
          </button>
          <span className="max-md:hidden">
            {" · "}
            {saved} · {person.name}
          </span>
        </p>
        <span className="flex gap-x-5 max-md:hidden">
          <LookSwitch />
          <UnitsSwitch />
        </span>
      </header>
      <Stations install={id} stations={stations} current={current} />
      <Banners plan={plan} />
      {at !== null && (
        <Earlier
          id={id}
          at={at}
          newest={install.revision}
          mayBring={person.may.includes("plan")}
          onNow={() => setAt(null)}
        />
      )}
      <Suspense fallback={<main className="p-7 text-soft">Drawing …</main>}>
        <Arrived at={station}>
          {(station === "site" || station === "rules") && (
            <Site plan={plan} readOnly={readOnly}>
              <Rules plan={plan} readOnly={readOnly} />
            </Site>
          )}
          {station === "lines" && (
            <Lines plan={plan} readOnly={readOnly} history={history} onHistory={setHistory} at={at} onAt={setAt} />
          )}
          {station === "start-up" && <StartUp plan={plan} id={id} person={acting} />}
          {station === "load-out" && (
            <LoadOut plan={plan} id={id} readOnly={readOnly} canRecord={acting.may.includes("record")} />
          )}
          {station === "handover" && <Handover plan={plan} id={id} person={acting} />}
          {station === "visits" && <Visits plan={plan} id={id} person={acting} />}
          {station === "landings" && <Landings plan={plan} readOnly={readOnly} />}
          {station === "sheet" && <DeviceSheet plan={plan} id={id} canRecord={acting.may.includes("record")} />}
          {station === "bench" && <Bench plan={plan} readOnly={readOnly} canRecord={acting.may.includes("record")} />}
          {station === "supply" && <Supply plan={plan} readOnly={readOnly} canRecord={acting.may.includes("record")} />}
          {station === "open" && <Open plan={plan} readOnly={readOnly} />}
          {station === "panels" && <Panels plan={plan} readOnly={readOnly} />}
          {station === "suit" && <Suit plan={plan} readOnly={readOnly} />}
        </Arrived>
      </Suspense>
      {!known && (
        <Message title="There is no such station">
          <Link className="underline" to={`/installs/${id}/lines`}>
            To the lines
          </Link>
        </Message>
      )}
      <Shortcuts open={keys} onClose={() => setKeys(false)} />
    </div>
  );
}

/** Whoever goes to another station is brought to what it is about; on the first load nothing moves. */
function Arrived({ at, children }: { at: string; children: ReactNode }) {
  const last = useRef(at);
  useEffect(() => {
    if (last.current === at) return;
    last.current = at;
    if (at === "rules") document.getElementById("rules")?.scrollIntoView();
    document.getElementById("main")?.focus({ preventScroll: true });
  }, [at]);
  return (
    <div id="main" tabIndex={-1} className="flex min-h-0 grow flex-col outline-none">
      {children}
    </div>
  );
}

/** Every station in the order of the work: those of the plan, and those of what has been recorded. */
function stationsOf({ result, install }: PlanOut): StationAt[] {
  return [...result.stations, ...install.recorded];
}

function clock(at: string): string {
  return new Date(at).toLocaleTimeString("en-US", { hour: "2-digit", minute: "2-digit", hour12: false });
}

/** Keys of every station. In a field with an unfinished entry, Ctrl Z belongs to the entry. */
function useKeys(id: string, plan: PlanHandle, onSheet: () => void, onHistory: () => void) {
  const navigate = useNavigate();
  useEffect(() => {
    function key(event: KeyboardEvent) {
      const target = event.target as HTMLElement;
      const field = target.closest("input, select, textarea");
      const typing = field?.matches("[data-typed], textarea, input:not([data-path])") ?? false;
      if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === "z" && !typing) {
        event.preventDefault();
        if (event.shiftKey) plan.redo();
        else plan.undo();
        return;
      }
      if (field || event.ctrlKey || event.metaKey || event.altKey) return;
      if (event.key === "?") onSheet();
      if (!singleKeys()) return;
      const within = Object.keys(WITHIN).find((screen) => WITHIN[screen]?.key === event.key);
      const station = plan.plan && (stationsOf(plan.plan)[Number(event.key) - 1]?.id ?? within);
      if (event.key === "h") onHistory();
      else if (event.key === "i") void navigate("/");
      else if (station) void navigate(`/installs/${id}/${station}`);
    }
    window.addEventListener("keydown", key);
    return () => window.removeEventListener("keydown", key);
  });
}
