/** One install: its header, its stations, and the screen of the station at hand. */
import { useEffect, useState } from "react";
import { Link, useNavigate, useParams } from "react-router";

import { type Person, Refusal } from "../api/client";
import { Bench } from "../features/bench/Bench";
import { Handover } from "../features/handover/Handover";
import { DeviceSheet } from "../features/landings/DeviceSheet";
import { Landings } from "../features/landings/Landings";
import { Lines } from "../features/lines/Lines";
import { Panels } from "../features/panels/Panels";
import { Rules } from "../features/rules/Rules";
import { StartUp } from "../features/startup/StartUp";
import { Suit } from "../features/suit/Suit";
import { type PlanHandle, usePlan } from "../plan/usePlan";
import { Message } from "../ui/parts";
import { useMetric } from "../ui/units";
import { Banners } from "../ui/Banners";
import { Shortcuts } from "./Shortcuts";
import { STATIONS, Stations } from "../ui/Stations";
import { UnitsSwitch } from "../ui/UnitsSwitch";
import { VIEWS, Views } from "./Views";
import { Wordmark } from "../ui/Wordmark";

export function Install({ person }: { person: Person }) {
  const { id = "", station = "lines" } = useParams();
  return <Opened key={id} id={id} station={station} person={person} />;
}

function Opened({ id, station, person }: { id: string; station: string; person: Person }) {
  const plan = usePlan(id, person.username);
  useMetric();
  const [sheet, setSheet] = useState(false);
  const [history, setHistory] = useState(false);
  useKeys(
    id,
    plan,
    () => setSheet(true),
    () => setHistory((shown) => !shown),
  );
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
  const readOnly = !person.may.includes("plan");
  const view = VIEWS.find((entry) => entry.id === (station === "sheet" ? "landings" : station));
  const known = view !== undefined || STATIONS.some((entry) => entry.id === station);
  return (
    <div className={`flex min-h-screen flex-col ${station === "lines" ? "lg:h-screen" : ""}`}>
      <header className="flex flex-wrap items-center gap-x-4 gap-y-1 px-5 pt-3 pb-3 md:px-7">
        <Link to="/" aria-label="Leitung: all installs" className="flex min-h-11 items-center">
          <Wordmark />
        </Link>
        <h1 className="text-xl font-bold">{install.name}</h1>
        <p className="text-soft max-md:hidden">
          {[install.site, plan.plan.result.edition].filter(Boolean).join(" · ")}
        </p>
        <p className="ml-auto text-soft">
          <button
            type="button"
            className="min-h-11 underline decoration-faint underline-offset-4 hover:decoration-copper"
            aria-expanded={history}
            onClick={() => setHistory((shown) => !shown)}
          >
            Revision {install.revision}
          </button>
          <span className="max-md:hidden">
            {" · "}
            {saved} · {person.name}
          </span>
        </p>
        <span className="max-md:hidden">
          <UnitsSwitch />
        </span>
      </header>
      <Stations install={install} current={view ? "lines" : station} />
      {view && <Views install={id} current={view.id} />}
      <Banners plan={plan} />
      {station === "lines" && <Lines plan={plan} readOnly={readOnly} history={history} onHistory={setHistory} />}
      {station === "start-up" && <StartUp plan={plan} id={id} canRecord={person.may.includes("record")} />}
      {station === "handover" && <Handover plan={plan} id={id} person={person} />}
      {station === "landings" && <Landings plan={plan} readOnly={readOnly} />}
      {station === "sheet" && <DeviceSheet plan={plan} id={id} canRecord={person.may.includes("record")} />}
      {station === "bench" && <Bench plan={plan} readOnly={readOnly} canRecord={person.may.includes("record")} />}
      {station === "panels" && <Panels plan={plan} readOnly={readOnly} />}
      {station === "suit" && <Suit plan={plan} readOnly={readOnly} />}
      {station === "rules" && <Rules plan={plan} readOnly={readOnly} />}
      {!known && (
        <Message title="There is no such station">
          <Link className="underline" to={`/installs/${id}/lines`}>
            To the lines
          </Link>
        </Message>
      )}
      <Shortcuts open={sheet} onClose={() => setSheet(false)} />
    </div>
  );
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
      const station = STATIONS[Number(event.key) - 1] ?? VIEWS.find((view) => view.key === event.key);
      if (event.key === "?") onSheet();
      else if (event.key === "h") onHistory();
      else if (event.key === "b") void navigate("/");
      else if (station) void navigate(`/installs/${id}/${station.id}`);
    }
    window.addEventListener("keydown", key);
    return () => window.removeEventListener("keydown", key);
  });
}
