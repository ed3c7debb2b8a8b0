/** Every cable with both its ends as they are seen: who lands what on which terminal. */
import { useQuery } from "@tanstack/react-query";
import { useCallback, useMemo, useState } from "react";
import { Link, useSearchParams } from "react-router";

import { api, data } from "../../api/client";
import type { CableView, Finding, Patch, PlanResult, Unit, WiringResult } from "../../api/client";
import { LandingDrawing } from "../../drawing/LandingDrawing";
import { layoutLandings } from "../../drawing/landings";
import { gravest } from "../../drawing/parts";
import type { PlanHandle } from "../../plan/usePlan";
import { Findings } from "../../ui/Findings";
import { NavRow } from "../../ui/NavRow";
import { Button } from "../../ui/parts";
import { useWidth } from "../../ui/useWidth";
import { CableFacts } from "./CableFacts";
import { ConductorFacts } from "./ConductorFacts";
import { DeviceFacts } from "./DeviceFacts";
import { landEnd } from "./edits";
import { Lists } from "./Lists";
import { Moves } from "./Moves";
import { NewCable, NewDevice } from "./NewParts";
import { OwnDevice } from "./OwnDevice";
import { useHeld } from "./useHeld";
import { findingsAt } from "../../api/findings";
import { WHO } from "../../ui/caution";

interface Props {
  plan: PlanHandle;
  readOnly: boolean;
}

export function Landings({ plan, readOnly }: Props) {
  const [query, setQuery] = useSearchParams();
  const wiring = plan.plan?.result.wiring;
  if (!plan.document || !plan.plan || !wiring) return null;
  const views = inOrder(wiring);
  const wanted = query.get("cable");
  const device = query.get("device");
  const own = query.has("own") && !readOnly;
  const current = views.find((view) => view.id === wanted) ?? firstToSee(views, plan.plan.result) ?? null;
  const open = (key: "cable" | "device" | "own", id: string) => {
    setQuery(id ? { [key]: id } : {});
    window.scrollTo({ top: 0 });
  };

  return (
    <main className="mt-2 grid grow border-t border-rule lg:grid-cols-[16.5rem_minmax(0,1fr)]">
      <CableList
        units={plan.document.equipment ?? {}}
        wiring={wiring}
        result={plan.plan.result}
        current={device || own ? null : (current?.id ?? null)}
        device={device}
        onOpen={open}
      />
      <div className="min-w-0 px-5 py-5 md:px-7">
        {own ? (
          <OwnDevice plan={plan} onPlaced={(id) => open("device", id)} onClose={() => setQuery({})} />
        ) : device && wiring.devices[device] ? (
          <DeviceFacts key={device} id={device} plan={plan} readOnly={readOnly} onOpen={open} />
        ) : current && plan.document.cables?.[current.id] ? (
          <OneCable key={current.id} view={current} plan={plan} readOnly={readOnly} onOpen={open} />
        ) : (
          <div className="py-10">
            <h2 className="text-2xl font-bold">No cable yet</h2>
            <p className="mt-2 max-w-lg text-soft">
              A cable runs between two devices. Put the devices in, draw the cable, and the landings are proposed by its
              colours and proved by its terminals.
            </p>
          </div>
        )}
        {!readOnly && !own && (
          <div className="mt-8 flex flex-wrap items-start gap-3 border-t border-rule pt-4">
            <NewCable plan={plan} onDrawn={(id) => open("cable", id)} />
            <NewDevice plan={plan} onDrawn={(id) => open("device", id)} />
            <Button onClick={() => open("own", "1")}>Describe a device of your own</Button>
          </div>
        )}
        {!own && (
          <Lists plan={plan} readOnly={readOnly} current={device ? null : (current?.id ?? null)} device={device} />
        )}
      </div>
    </main>
  );
}

/** The cables as they are read; an answer that leaves some out does not change their order. */
function inOrder(wiring: WiringResult): CableView[] {
  return wiring.order.flatMap((id) => wiring.cables[id] ?? []);
}

export function devicesInOrder(wiring: WiringResult) {
  return Object.values(wiring.devices).sort((one, two) => (one.id < two.id ? -1 : 1));
}

function firstToSee(views: readonly CableView[], result: PlanResult): CableView | undefined {
  const bad = (severity: string) =>
    views.find((view) => findingsAt(result, `cables/${view.id}`).some((finding) => finding.severity === severity));
  return bad("stop") ?? bad("warning") ?? views[0];
}

interface ListProps {
  units: Record<string, Unit>;
  wiring: WiringResult;
  result: PlanResult;
  current: string | null;
  device: string | null;
  onOpen: (key: "cable" | "device", id: string) => void;
}

/** The cables by the unit that they serve, and the devices; what is wrong stands beside its name. */
function CableList({ units, wiring, result, current, device, onOpen }: ListProps) {
  const [what, setWhat] = useState<"cables" | "devices">(device ? "devices" : "cables");
  const groups = new Map<string, CableView[]>();
  for (const view of inOrder(wiring)) {
    const unit = view.unit ?? "";
    groups.set(unit, [...(groups.get(unit) ?? []), view]);
  }
  return (
    <nav
      aria-label="Cables and devices"
      className="overflow-y-auto border-rule max-lg:max-h-72 max-lg:border-b lg:sticky lg:top-0 lg:max-h-screen lg:border-r lg:pb-8"
    >
      <div className="flex gap-5 px-5 pt-2 md:pl-7">
        {(["cables", "devices"] as const).map((name) => (
          <button
            key={name}
            type="button"
            aria-pressed={what === name}
            className={`min-h-11 ${what === name ? "font-bold" : "text-soft hover:text-ink"}`}
            onClick={() => setWhat(name)}
          >
            <span className={`border-b-3 pb-0.5 ${what === name ? "border-copper" : "border-transparent"}`}>
              {name === "cables"
                ? `Cables ${Object.keys(wiring.cables).length}`
                : `Devices ${Object.keys(wiring.devices).length}`}
            </span>
          </button>
        ))}
      </div>
      {what === "cables" ? (
        [...groups].map(([unit, views]) => (
          <section key={unit} className="pt-3">
            <h2 className="px-5 text-sm font-bold text-copper-deep md:pl-7">
              {unit ? `${unit} ${units[unit]?.name ?? ""}` : "Not of one unit"}
            </h2>
            <ul>
              {views.map((view) => (
                <Row
                  key={view.id}
                  name={view.id}
                  title={view.title}
                  here={view.id === current}
                  rows={findingsAt(result, `cables/${view.id}`)}
                  onOpen={() => onOpen("cable", view.id)}
                />
              ))}
            </ul>
          </section>
        ))
      ) : (
        <ul>
          {devicesInOrder(wiring).map((view) => (
            <Row
              key={view.id}
              name={view.id}
              title={view.state === "removed" ? `${view.title}, taken off` : view.title}
              here={view.id === device}
              rows={findingsAt(result, `devices/${view.id}`)}
              onOpen={() => onOpen("device", view.id)}
            />
          ))}
        </ul>
      )}
    </nav>
  );
}

interface RowProps {
  name: string;
  title: string;
  here: boolean;
  rows: readonly Finding[];
  onOpen: () => void;
}

function Row({ name, title, here, rows, onOpen }: RowProps) {
  return (
    <li className="list-none">
      <NavRow name={name} title={title} here={here} grave={gravest(rows)} onOpen={onOpen} />
    </li>
  );
}

interface OneProps {
  view: CableView;
  plan: PlanHandle;
  readOnly: boolean;
  onOpen: (key: "cable" | "device", id: string) => void;
}

function OneCable({ view, plan, readOnly, onOpen }: OneProps) {
  const [selected, setSelected] = useState<string | null>(null);
  const [found, setFound] = useState(false);
  const [box, width] = useWidth();
  const cable = plan.document?.cables?.[view.id];
  const wiring = plan.plan?.result.wiring;
  const result = plan.plan?.result;
  const at = useCallback((address: string) => findingsAt(result, address), [result]);
  const findings = useMemo(() => at(`cables/${view.id}`), [at, view.id]);
  const layout = useMemo(
    () => (cable && wiring && width > 0 ? layoutLandings(view, cable, wiring, at, width, { found }) : null),
    [view, cable, wiring, at, width, found],
  );
  const held = useHeld(layout, readOnly, setSelected, (wire, end, ref) => {
    const label = ref ? `Land ${wire} on ${ref.split(".").slice(1).join(" ")}` : `Cap ${wire}`;
    plan.change(landEnd(view.id, wire, end, ref, found), label);
  });
  if (!cable || !wiring) return null;
  // A cable of which nothing is landed yet has one thing to do before all others.
  const landing = findings.find((row) => row.code === "cable-not-landed" && row.fix);
  const conductor = view.conductors.find((wire) => wire.id === selected);
  const about = [cable.a.device, cable.b.device].flatMap((id) =>
    at(`devices/${id}`).filter((row) => row.severity !== "note"),
  );
  return (
    <section aria-label={`Cable ${view.id}`}>
      <h2 className="text-xl">
        <b>{view.id}</b> <span className="text-soft">{view.title}</span>
      </h2>
      <p className="text-soft">
        {view.says}, {view.length}
        {view.way ? `. ${view.way[0]?.toUpperCase() ?? ""}${view.way.slice(1)}` : ""}
      </p>
      {view.captured && (
        <div className="mt-2 flex gap-2" role="group" aria-label="Which state">
          <Button aria-pressed={!found} kind={found ? "quiet" : "main"} onClick={() => setFound(false)}>
            As planned
          </Button>
          <Button aria-pressed={found} kind={found ? "main" : "quiet"} onClick={() => setFound(true)}>
            As found
          </Button>
        </div>
      )}
      <div ref={box} className="mt-3 flex flex-wrap items-start gap-x-9 gap-y-4">
        {layout && (
          <div className="max-w-full overflow-x-auto" data-drawing>
            {layout.wires.length > 0 ? (
              <LandingDrawing
                layout={layout}
                title={`${view.id}: ${view.title}`}
                on={{
                  selected,
                  held: held.held,
                  pointer: held.pointer,
                  onEndKey: held.onEndKey,
                  onEndDown: held.onEndDown,
                  onSlot: held.onSlot,
                  onShelf: held.onShelf,
                  onDevice: (id) => onOpen("device", id),
                }}
              />
            ) : (
              <p className="max-w-md py-8 text-soft">
                Its conductors are drawn as soon as it is said what it is built of and how many it has.
              </p>
            )}
          </div>
        )}
        <div className="max-w-3xl min-w-72 flex-1 basis-80">
          {held.held ? (
            <div role="status" className="mb-3 border-l-4 border-copper pl-3">
              <p>
                <b>{held.held.wire}</b> is in your hand. Choose a terminal {held.held.end === "a" ? "above" : "below"},
                or:
              </p>
              <div className="mt-2 flex gap-2">
                <Button onClick={() => held.cap()}>Cap it</Button>
                <Button onClick={held.drop}>Leave it</Button>
              </div>
            </div>
          ) : null}
          {landing && !readOnly && !conductor && (
            <p className="mb-2 flex flex-wrap items-center gap-4 border-l-4 border-copper py-1 pl-3">
              <span className="flex-1">{landing.message}</span>
              <Button kind="main" onClick={() => plan.change(landing.fix as Patch, "Land by the convention")}>
                Land by the convention
              </Button>
              <AsBefore view={view} plan={plan} />
            </p>
          )}
          {conductor && !found ? (
            <ConductorFacts
              view={view}
              wire={conductor}
              plan={plan}
              readOnly={readOnly}
              onClose={() => setSelected(null)}
            />
          ) : (
            <Findings
              rows={[...findings.filter((row) => row !== landing || readOnly), ...about]}
              plan={plan}
              readOnly={readOnly}
            />
          )}
          {!conductor && !found && (
            <>
              {findings.length + about.length === 0 && (
                <p className="border-l-4 border-ink pl-3">
                  {plan.outbox.waiting.length ? "Not checked yet: a change is still on its way." : proof(view)}
                </p>
              )}
              {view.proposal && !readOnly && !findings.some((row) => row.fix) && (
                <p className="mt-3">
                  <Button onClick={() => plan.change(view.proposal ?? {}, "Land by the convention")}>
                    Land by the convention
                  </Button>{" "}
                  <AsBefore view={view} plan={plan} />
                </p>
              )}
            </>
          )}
          {found && (
            <p className="text-soft">
              How it hung before anything was taken off. Conductors moved here change what is recorded as found.
            </p>
          )}
        </div>
      </div>
      <Hints />
      <Moves moves={wiring.moves.filter((move) => move.cable === view.id)} />
      <CableFacts view={view} cable={cable} plan={plan} readOnly={readOnly} onOpen={onOpen} />
      <p className="mt-4 text-sm text-soft">
        {WHO} Lock out and prove dead before a hand goes in.{" "}
        <Link className="underline" to={`/installs/${plan.plan?.install.id ?? ""}/sheet?device=${cable.a.device}`}>
          Sheet at {cable.a.device}
        </Link>
        {" · "}
        <Link className="underline" to={`/installs/${plan.plan?.install.id ?? ""}/sheet?device=${cable.b.device}`}>
          Sheet at {cable.b.device}
        </Link>
      </p>
    </section>
  );
}

/** How the company landed such a cable before, taken over whole. */
function AsBefore({ view, plan }: { view: CableView; plan: PlanHandle }) {
  const install = plan.plan?.install;
  const { data: found } = useQuery({
    queryKey: ["as-before", install?.id, view.id, install?.revision],
    enabled: install !== undefined && install.id !== "",
    staleTime: Infinity,
    queryFn: async () => {
      const path = { install_id: install?.id ?? "", cable: view.id };
      return data(await api.GET("/api/installs/{install_id}/cables/{cable}/as-before", { params: { path } }));
    },
  });
  if (!found?.patch || !found.name) return null;
  const { name, patch } = found;
  return <Button onClick={() => plan.change(patch, `Land as at ${name}`)}>Land as at {name}</Button>;
}

/** What the terminals prove of a cable without findings: no more than they do. */
function proof(view: CableView): string {
  const landed = view.conductors.filter((wire) => wire.a.state === "landed" || wire.b.state === "landed");
  const proved = landed.filter((wire) => wire.proved).length;
  if (landed.length === 0) return "Nothing of it is landed.";
  if (proved === landed.length) return "Each conductor means the same at both ends.";
  return `Nothing stands against it. ${String(proved)} of ${String(landed.length)} conductors are proved by their terminals; the rest end on contacts, coils or joints, which mean nothing of their own.`;
}

function Hints() {
  const keys = [
    ["Tab", "to a conductor's end"],
    ["← → ↑ ↓", "from end to end"],
    ["Enter", "take up, put down"],
    ["C", "cap"],
    ["Esc", "leave it"],
    ["Ctrl Z", "take back"],
  ];
  return (
    <p className="mt-3 hidden flex-wrap gap-x-6 text-sm text-soft md:flex">
      {keys.map(([key, what]) => (
        <span key={key}>
          <b className="text-ink">{key}</b> {what}
        </span>
      ))}
    </p>
  );
}
