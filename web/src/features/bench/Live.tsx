/** One system under the hand: calls and causes to press, time, the drawing, the meter, and what is wrong. */
import { type ReactNode, useEffect, useMemo, useState } from "react";

import type { BenchSystem, Frame, Lane, Rail, Rung, SignalShown } from "../../api/client";
import { isWhole, layoutRail } from "../../drawing/bench";
import { BenchDrawing, type BenchHandlers } from "../../drawing/BenchDrawing";
import type { PlanHandle } from "../../plan/usePlan";
import { Findings } from "../../ui/Findings";
import { singleKeys } from "../../ui/keys";
import { Button, Mark, severityColour } from "../../ui/parts";
import { useWidth } from "../../ui/useWidth";
import { SideScroll } from "../../ui/SideScroll";
import { Frame as BenchFrame } from "./Frame";
import { Hung } from "./Hung";
import { named, reading } from "./meter";
import { type Presses, usePresses } from "./usePresses";

interface Props {
  plan: PlanHandle;
  readOnly: boolean;
  install: string;
  revision: number;
  system: BenchSystem;
  slip: string | null;
  /** The mistake in words. */
  says: string | null;
  /** What is on when it opens: before, and then. */
  begin: readonly (string | null)[];
  onSound: () => void;
  onBudgets: () => void;
  /** What stands at the side and above on every sheet. */
  nav: ReactNode;
  tabs: ReactNode;
}

export function Live(props: Props) {
  const { plan, readOnly, install, revision, system, slip, says, begin, onSound, onBudgets, nav, tabs } = props;
  const presses = usePresses(install, revision, system.key, slip, begin);
  const [selected, setSelected] = useState<string | null>(null);
  const [leads, setLeads] = useState<(string | null)[]>([null, null]);
  const [hung, setHung] = useState(false);
  const [box, width] = useWidth();
  useKeys(presses, () => setHung((now) => !now));
  const { frame } = presses;
  const at: BenchHandlers = {
    selected,
    onLoad: (load) => setSelected((now) => (now === load ? null : load)),
    onPress: presses.press,
    onTerminal: (node) => setLeads((now) => nextLeads(now, node)),
    leads,
    on: presses.on,
  };
  const quiet = presses.on.length === 0 && !slip;
  const side = (
    <>
      {nav}
      <div className="px-5 pb-2 max-lg:order-3 md:px-7 lg:pr-3">
        <Press system={system} presses={presses} />
        {quiet && <Found system={system} />}
        {presses.failed && <p className="mt-3 text-stop">That could not be solved. Clear the presses and try again.</p>}
      </div>
    </>
  );
  return (
    <BenchFrame side={side} tabs={tabs}>
      <section aria-label={`Bench of ${system.key}`}>
        {slip && (
          <p className="mt-2 flex flex-wrap items-center gap-3 border-y border-rule bg-sheet px-3 py-2">
            <span className="text-stop">
              <Mark severity="stop" />
            </span>
            <b className="grow text-stop">With a mistake in it: {says ?? slip.split("/").join(" ")}</b>
            <Button onClick={onSound}>Back to the plan as it is</Button>
          </p>
        )}
        <div ref={box} className="relative">
          <DrawnAs hung={hung} onTurn={setHung} />
          {width > 0 &&
            (hung ? (
              <Hung plan={plan} system={system} frame={frame} width={width} />
            ) : (
              system.ladder.rails.map((rail) => (
                <OneRail
                  key={rail.key}
                  rail={rail}
                  frame={frame}
                  width={width}
                  at={at}
                  system={system}
                  onBudgets={onBudgets}
                />
              ))
            ))}
          <Loose rungs={system.ladder.loose} frame={frame} />
        </div>
        {quiet && <Tried system={system} plan={plan} readOnly={readOnly} />}
        <Taken system={system} />
        <div className="sticky bottom-0 mt-5 border-t-2 border-ink bg-paper">
          <Now presses={presses} system={system} />
          <Meter frame={frame} leads={leads} onClear={() => setLeads([null, null])} />
        </div>
      </section>
    </BenchFrame>
  );
}

/** As lines from supply to common, or as strips and cables hang. */
function DrawnAs({ hung, onTurn }: { hung: boolean; onTurn: (hung: boolean) => void }) {
  return (
    <div role="group" aria-label="Drawn as" className="flex justify-end gap-5 lg:absolute lg:top-0 lg:right-0 lg:z-10">
      {[false, true].map((entry) => (
        <button
          key={String(entry)}
          type="button"
          aria-pressed={hung === entry}
          className={`min-h-11 ${hung === entry ? "font-bold" : "text-soft hover:text-ink"}`}
          onClick={() => onTurn(entry)}
        >
          {entry ? "As it hangs" : "As lines"} <span className="text-sm font-normal text-soft">{entry ? "X" : ""}</span>
        </button>
      ))}
    </div>
  );
}

/** How much the bench has found, where the eye is while pressing; all of it stands under the drawing. */
function Found({ system }: { system: BenchSystem }) {
  const stops = system.findings.filter((row) => row.severity === "stop").length;
  const warnings = system.findings.filter((row) => row.severity === "warning").length;
  if (!stops && !warnings) return null;
  const severity = stops ? "stop" : "warning";
  const told = stops
    ? `${stops} ${stops === 1 ? "stop" : "stops"}`
    : `${warnings} ${warnings === 1 ? "warning" : "warnings"}`;
  return (
    <a href="#found" className={`mt-2 flex min-h-11 items-center gap-2 font-semibold ${severityColour[severity]}`}>
      <Mark severity={severity} />
      <span className="underline underline-offset-4">{told} found by trying every call</span>
    </a>
  );
}

/** What every state together has shown, before anything is pressed. */
function Tried({ system, plan, readOnly }: { system: BenchSystem; plan: PlanHandle; readOnly: boolean }) {
  const rows = system.findings.filter((row) => row.severity !== "note");
  if (!rows.length)
    return (
      <p className="mt-6 text-soft">
        Every call alone, in pairs, let go again, and everything that can happen has been tried: nothing stands against
        it.
      </p>
    );
  return (
    <div id="found" className="mt-6 border-t-2 border-ink pt-3">
      <p className="text-soft">Every call and everything that can happen has been tried. It shows:</p>
      <Findings rows={rows} plan={plan} readOnly={readOnly} />
    </div>
  );
}

/** What was taken for granted: figures that are not known, units fed by their line. */
function Taken({ system }: { system: BenchSystem }) {
  if (!system.assumed.length && !system.notes.length) return null;
  return (
    <div className="mt-5 max-w-3xl text-sm text-soft">
      {system.notes.map((note) => (
        <p key={note}>{note}</p>
      ))}
      {system.assumed.length > 0 && (
        <p>Not known, and solved over a range: {system.assumed.map((name) => name.split(".").join(" ")).join(", ")}.</p>
      )}
    </div>
  );
}

function nextLeads(now: readonly (string | null)[], node: string): (string | null)[] {
  if (now[0] === node) return [now[1] ?? null, null];
  if (now[1] === node) return [now[0] ?? null, null];
  if (now[0] === null) return [node, null];
  return [now[0] ?? null, node];
}

/** What can be pressed: calls first, then what can happen, then switches. */
function Press({ system, presses }: { system: BenchSystem; presses: Presses }) {
  const [switches, setSwitches] = useState(presses.on.some((name) => name.startsWith("hand:")));
  return (
    <div className="mt-2 flex flex-wrap items-end gap-x-7 gap-y-2 border-rule lg:border-t lg:pt-2">
      <Keys title="Call" signals={system.calls} presses={presses} />
      <Keys title="Let happen" signals={system.causes} presses={presses} />
      {switches ? (
        <Keys title="Switch off" signals={system.hands} presses={presses} />
      ) : (
        system.hands.length > 0 && (
          <button
            type="button"
            className="min-h-11 text-soft underline decoration-faint underline-offset-4 hover:decoration-copper"
            onClick={() => setSwitches(true)}
          >
            Breakers and switches
          </button>
        )
      )}
      {presses.on.length > 0 && (
        <button
          type="button"
          className="min-h-11 text-soft underline decoration-faint underline-offset-4 hover:decoration-copper"
          onClick={presses.clear}
        >
          Let all go, from cold
        </button>
      )}
    </div>
  );
}

function Keys({ title, signals, presses }: { title: string; signals: readonly SignalShown[]; presses: Presses }) {
  if (!signals.length) return null;
  return (
    <div role="group" aria-label={title}>
      <p className="mb-1 text-sm text-soft">{title}</p>
      <div className="flex flex-wrap gap-1.5">
        {signals.map((signal) => {
          const on = presses.on.includes(signal.name);
          return (
            <button
              key={signal.name}
              type="button"
              aria-pressed={on}
              title={signal.says}
              className={`min-h-11 rounded-sm border-2 px-3 font-semibold ${on ? "border-copper bg-copper text-sheet" : "border-ink/50 bg-sheet hover:border-copper"}`}
              onClick={() => presses.press(signal.name)}
            >
              {signal.short}
            </button>
          );
        })}
      </div>
    </div>
  );
}

/** Where time stands, what comes next, and what is wrong at this moment. */
function Now({ presses, system }: { presses: Presses; system: BenchSystem }) {
  const { frame, frames, number, clock, next, playing, speed } = presses;
  const wait = next !== null && next > clock;
  const runs = frame ? running(system, frame) : [];
  return (
    <div className="border-b border-rule py-2" aria-live="polite">
      <div className="flex flex-wrap items-center gap-x-4 gap-y-1">
        <p className="min-w-48 grow">
          {runs.length ? (
            <>
              Running: <b>{runs.join(", ")}</b>
            </>
          ) : (
            <span className="text-soft">Nothing runs.</span>
          )}
        </p>
        {frames.length > 1 && (
          <div role="group" aria-label="Time" className="flex flex-wrap items-center gap-2">
            <span className="text-soft">
              {clock.toFixed(0)} s, step {number + 1} of {frames.length}
              {wait ? `, next at ${next} s` : ""}
            </span>
            <Button aria-label="One step back" disabled={number === 0} onClick={() => presses.step(-1)}>
              ◂
            </Button>
            <Button onClick={() => presses.play(!playing)} disabled={next === null}>
              {playing && next !== null ? "Pause" : "Run"}
            </Button>
            <Button aria-label="One step on" disabled={next === null} onClick={() => presses.step(1)}>
              ▸
            </Button>
            {wait &&
              [1, 10, 60].map((times) => (
                <button
                  key={times}
                  type="button"
                  aria-pressed={speed === times}
                  className={`min-h-11 px-1 ${speed === times ? "font-bold" : "text-soft"}`}
                  onClick={() => presses.setSpeed(times)}
                >
                  ×{times}
                </button>
              ))}
          </div>
        )}
      </div>
      {frame && frame.opened.length > 0 && (
        <p className="mt-1 flex items-center gap-2 font-bold text-stop">
          <Mark severity="stop" /> {frame.opened.map(fuseInWords).join(", ")} opened; this is what is left.
        </p>
      )}
      {frame?.findings.map((row) => (
        <p
          key={`${row.hazard} ${row.message}`}
          className={`mt-1 flex items-center gap-2 font-bold ${severityColour[row.severity]}`}
        >
          <Mark severity={row.severity} /> {row.message}
        </p>
      ))}
    </div>
  );
}

function fuseInWords(name: string): string {
  const at = name.lastIndexOf(".");
  return `the ${name.slice(at + 1).startsWith("TRIP") ? "breaker" : "fuse"} of ${name.slice(0, at)}`;
}

/** What a person would hear or see running, each kind of thing once. */
function running(system: BenchSystem, frame: Frame): string[] {
  const rungs = [...system.ladder.rails.flatMap((rail) => rail.rungs), ...system.ladder.loose];
  const words = rungs.flatMap((rung) =>
    rung.effect && frame.loads[rung.load]?.on ? [rung.words.replace(/, \d to \d/, "")] : [],
  );
  return [...new Set(words)];
}

interface RailProps {
  rail: Rail;
  frame: Frame | null;
  width: number;
  at: BenchHandlers;
  system: BenchSystem;
  onBudgets: () => void;
}

function OneRail({ rail, frame, width, at, onBudgets }: RailProps) {
  // Ways over a terminal of another call are drawn only while they are the one that feeds the load.
  const shown = (rung: Rung, lane: Lane) =>
    !lane.sneaks || (isWhole(frame, lane) && !rung.lanes.some((other) => !other.sneaks && isWhole(frame, other)));
  // The way back of line voltage is drawn when something on it is open.
  const folded = (rung: Rung) => rail.line && rung.back != null && isWhole(frame, { steps: rung.back, sneaks: false });
  const key = rail.rungs
    .map((rung) => rung.lanes.map((lane) => Number(shown(rung, lane))).join("") + String(folded(rung)))
    .join();
  // eslint-disable-next-line react-hooks/exhaustive-deps
  const layout = useMemo(() => layoutRail(rail, width, shown, folded), [rail, width, key]);
  const supply = frame?.transformers.find((entry) => `${entry.device}.${entry.element}` === rail.key);
  const chosen = rail.rungs.find((rung) => rung.load === at.selected);
  if (!rail.rungs.length && !supply) return null;
  return (
    <section aria-label={rail.title} className="mt-1">
      <h2 className="flex min-h-11 flex-wrap items-center gap-x-3">
        <b>{rail.title}</b>
        {supply && (
          <button
            type="button"
            title="What hangs on this transformer"
            className="min-h-11 text-soft underline decoration-faint underline-offset-4 hover:decoration-copper"
            onClick={onBudgets}
          >
            {supply.secondary_terminal_volts.toFixed(1)} V, {supply.va_out.toFixed(1)} VA
            {supply.percent_of_rating != null ? ` (${supply.percent_of_rating.toFixed(0)} %)` : ""}, primary{" "}
            {supply.primary_volts.toFixed(0)} V
          </button>
        )}
        <span className="text-sm text-soft max-md:hidden">
          {rail.live_label} left, {rail.back_label} right
        </span>
      </h2>
      {rail.rungs.length ? (
        <SideScroll className="mt-1" more={`Further along ${rail.title}`}>
          <BenchDrawing layout={layout} rail={rail} frame={frame} title={rail.title} at={at} />
        </SideScroll>
      ) : (
        <p className="text-soft">Nothing hangs on it.</p>
      )}
      {chosen && frame && <Reason rung={chosen} frame={frame} rail={rail} />}
    </section>
  );
}

/** Why a load is on or off: the way that feeds it, with the volts at each terminal against the return. */
function Reason({ rung, frame, rail }: { rung: Rung; frame: Frame; rail: Rail }) {
  const state = frame.loads[rung.load];
  if (!state) return null;
  const whole = rung.lanes.find((lane) => isWhole(frame, lane)) ?? rung.lanes[0];
  const steps = (whole?.steps ?? []).filter((step) => !step.to.includes("._"));
  return (
    <div className="mt-1 border-l-4 border-copper bg-sheet px-4 py-3">
      <p>
        <b>
          {rung.words[0]?.toUpperCase()}
          {rung.words.slice(1)} is {state.says}.
        </b>{" "}
        {state.why}
      </p>
      <p className="mt-1 text-soft">
        {state.volts.toFixed(1)} V of {rung.rated_volts} V, {state.amps.toFixed(2)} A
        {rung.rated_va == null ? "; what it draws is not known" : `; ${rung.rated_va} VA`}
      </p>
      {steps.length > 0 && (
        <ol className="mt-2 flex flex-wrap gap-x-5 gap-y-1 text-sm">
          {steps.map((step) => {
            const volts = reading(frame, step.to, rail.back);
            return (
              <li key={`${step.name} ${step.to}`}>
                <span className="text-soft">{step.says} to</span> <b>{named(step.to)}</b> {volts?.words ?? ""}
              </li>
            );
          })}
        </ol>
      )}
    </div>
  );
}

/** Loads that no supply reaches. */
function Loose({ rungs, frame }: { rungs: readonly Rung[]; frame: Frame | null }) {
  if (!rungs.length) return null;
  return (
    <section aria-label="Without a supply" className="mt-5">
      <h2 className="font-bold">No supply reaches</h2>
      <ul>
        {rungs.map((rung) => (
          <li key={rung.load} className="text-soft">
            {rung.words}: {frame?.loads[rung.load]?.on ? "on, by a way of its own" : "off"}
          </li>
        ))}
      </ul>
    </section>
  );
}

/** The meter: two leads, put on terminals by touching them. */
function Meter({
  frame,
  leads,
  onClear,
}: {
  frame: Frame | null;
  leads: readonly (string | null)[];
  onClear: () => void;
}) {
  const [one = null, two = null] = leads;
  const found = reading(frame, one, two);
  return (
    <div role="status" aria-label="Meter" className="flex flex-wrap items-center gap-x-4 gap-y-1 py-2">
      <span className="font-bold">Meter</span>
      {found ? (
        <>
          <span className="text-2xl font-bold">{found.words}</span>
          <span className="text-soft">{found.detail}</span>
        </>
      ) : (
        <span className="text-soft">
          {one ? `First lead on ${named(one)}. Touch a second terminal.` : "Touch two terminals to read between them."}
        </span>
      )}
      {one && (
        <button
          type="button"
          className="ml-auto min-h-11 text-soft underline decoration-faint underline-offset-4 hover:decoration-copper"
          onClick={onClear}
        >
          Take the leads off
        </button>
      )}
    </div>
  );
}

/** Comma and full stop step, nought lets all go, X turns lines into strips and cables. */
function useKeys(presses: Presses, turn: () => void) {
  useEffect(() => {
    function key(event: KeyboardEvent) {
      const target = event.target as HTMLElement;
      if (target.closest("input, select, textarea") || event.ctrlKey || event.metaKey || event.altKey) return;
      if (!singleKeys()) return;
      if (event.key === ",") presses.step(-1);
      else if (event.key === ".") presses.step(1);
      else if (event.key === "0") presses.clear();
      else if (event.key === "x") turn();
    }
    window.addEventListener("keydown", key);
    return () => window.removeEventListener("keydown", key);
  });
}
