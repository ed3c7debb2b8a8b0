/** Will it start: a trial on paper, drawn, with its ways out; nothing of it is kept but in this browser. */
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";

import { api, data, Refusal, type StartPicture } from "../../api/client";
import { moment } from "../../drawing/start";
import { StartDrawing } from "../../drawing/StartDrawing";
import { merge } from "../../plan/merge";
import { Page } from "../../ui/Page";
import { Button, Mark } from "../../ui/parts";
import { SideScroll } from "../../ui/SideScroll";
import { inWords } from "../../ui/inWords";
import { sentence } from "../../ui/text";
import { FigureField, Pick } from "./Figures";
import { failing, LookedAt, severityOf, Ways } from "../../ui/StartAnswer";
import { LoadEditor } from "./LoadEditor";
import { LoggedCurrent } from "../../ui/LoggedCurrent";
import { EXAMPLE, type Figure, moved, type Trial } from "../../plan/trial";

const KEPT = "leitung:starts";
const KINDS = [
  { value: "panel", label: "panel" },
  { value: "pedestal", label: "pedestal" },
  { value: "generator", label: "generator" },
  { value: "inverter", label: "inverter with battery" },
] as const;
const LEGS = [
  { value: 1, label: "one hot leg" },
  { value: 2, label: "two hot legs" },
] as const;

function kept(): Trial {
  try {
    const found = localStorage.getItem(KEPT);
    return found ? (JSON.parse(found) as Trial) : EXAMPLE;
  } catch {
    return EXAMPLE;
  }
}

export function Starts() {
  const [trial, setTrial] = useState<Trial>(kept);
  const [before, setBefore] = useState<StartPicture | null>(null);
  const [selected, setSelected] = useState<string | null>(null);
  useEffect(() => {
    localStorage.setItem(KEPT, JSON.stringify(trial));
  }, [trial]);
  const found = useQuery({
    queryKey: ["starting", trial],
    queryFn: async () => data(await api.POST("/api/starting", { body: trial as unknown as Record<string, never> })),
    placeholderData: keepPreviousData,
    retry: false,
    staleTime: Infinity,
  });
  const answer = found.data;
  const supply = (change: Partial<Trial["supply"]>) => setTrial({ ...trial, supply: { ...trial.supply, ...change } });
  const load = trial.loads.find(({ id }) => id === selected);
  const decides = answer?.why[0];
  const fails = answer !== undefined && failing(answer.verdict);
  const rows = trial.loads.map(({ id }) => ({ id, at: trial.calls.find((call) => call.load === id)?.at_s ?? null }));
  return (
    <Page title="Will it start" wide>
      <div className="grid grow lg:grid-cols-[minmax(0,1fr)_25rem]">
        <section aria-label="The start" className="min-w-0 px-5 pt-3 pb-6 md:px-7">
          <h1 className={`flex items-center gap-3 text-2xl font-bold ${fails ? "text-stop" : ""}`}>
            {answer && <Mark severity={severityOf(answer.verdict)} />}
            {answer ? answer.headline : "Will it start"}
          </h1>
          {decides && (
            <p className="mt-1 text-soft">
              {sentence(decides.about)}, {moment(decides.at_s)}: {decides.says}.
            </p>
          )}
          {found.error && (
            <p role="alert" className="mt-1 font-semibold text-stop">
              {inWords(
                found.error instanceof Refusal
                  ? { kind: "refused", problem: found.error.problem }
                  : { kind: "unreachable" },
              )}
            </p>
          )}
          <p className="mt-1 flex flex-wrap items-baseline gap-x-4">
            <Pick
              label="Kind of supply"
              value={trial.supply.kind}
              options={KINDS}
              onCommit={(kind) => supply({ kind })}
            />
            <FigureField label="Volts" value={trial.supply.volts} unit="V" onCommit={(volts) => supply({ volts })} />
            <Pick
              label="Legs"
              value={trial.supply.legs}
              options={LEGS}
              onCommit={(legs) => setTrial(onLegs(trial, legs))}
            />
            <span className="text-soft">breaker</span>
            <FigureField
              label="Breaker"
              value={trial.supply.breaker_a}
              unit="A"
              onCommit={(breaker_a) => supply({ breaker_a })}
            />
            <span className="text-soft">source and conductors</span>
            <FigureField
              label="Ohms of source and conductors"
              value={trial.supply.source_ohms}
              unit="Ω"
              onCommit={(source_ohms) => supply({ source_ohms })}
            />
          </p>
          <Source trial={trial} onSupply={supply} />
          {answer && (
            <div className={`mt-3 ${found.isPlaceholderData ? "opacity-60" : ""}`}>
              <SideScroll more="the rest of the start">
                <div className="min-w-[44rem]">
                  <StartDrawing
                    picture={answer.picture}
                    before={before}
                    loads={rows}
                    failsAt={fails ? (decides?.at_s ?? null) : null}
                    title={`Current against time: ${answer.headline}`}
                    at={{
                      selected,
                      onSelect: setSelected,
                      onMove: (id, at) => setTrial(moved(trial, id, at)),
                    }}
                  />
                </div>
              </SideScroll>
              <p className="text-sm text-soft">
                Drag a call along its line, or move it by ← and →. ○ the compressor joins.
                {before && " Dashed: the run before."}
              </p>
            </div>
          )}
          <LoggedCurrent rating={typeof trial.supply.breaker_a === "number" ? trial.supply.breaker_a : null} />
        </section>
        <aside
          aria-label="Reasons and ways out"
          className="border-rule bg-sheet px-6 py-4 max-lg:border-t-4 lg:border-l-2 lg:border-l-ink"
        >
          {load ? (
            <LoadEditor trial={trial} load={load} onChange={setTrial} onClose={() => setSelected(null)} />
          ) : (
            <p className="text-soft">Select a load to change it.</p>
          )}
          {answer && (
            <>
              <Ways
                answer={answer}
                onTry={(way) => {
                  setBefore(answer.picture);
                  setTrial(merge(trial, way.change));
                }}
              />
              <LookedAt answer={answer} />
              {answer.findings.map((row) => (
                <p
                  key={row.message}
                  className={`flex gap-3 border-t border-rule py-2 ${row.severity === "stop" ? "text-stop" : ""}`}
                >
                  <Mark severity={row.severity} />
                  {row.message}
                </p>
              ))}
            </>
          )}
          <div className="mt-5 flex flex-wrap gap-3">
            <Button onClick={() => setTrial(withLoad(trial))}>Add a load</Button>
            {before && <Button onClick={() => setBefore(null)}>Without the run before</Button>}
            <Button
              onClick={() => {
                setBefore(null);
                setSelected(null);
                setTrial(EXAMPLE);
              }}
            >
              The trailer again
            </Button>
          </div>
          <p className="mt-5 text-sm text-soft">
            Qualified and licensed persons only. The adopted code, its local amendments and the local authority decide.
            A breaker is no way to find out.
          </p>
        </aside>
      </div>
    </Page>
  );
}

/** A supply of another number of legs: with one, everything lies on it. */
function onLegs(trial: Trial, legs: 1 | 2): Trial {
  const loads = legs === 1 ? trial.loads.map((load) => ({ ...load, leg: 1 as const })) : trial.loads;
  return { ...trial, supply: { ...trial.supply, legs }, loads };
}

function withLoad(trial: Trial): Trial {
  let number = 1;
  while (trial.loads.some(({ id }) => id === `load-${String(number)}`)) number += 1;
  const id = `load-${String(number)}`;
  const loads = [...trial.loads, { id, leg: 1 as const, steady_a: 5 }];
  return { ...trial, loads, calls: [...trial.calls, { at_s: 0, load: id }] };
}

const GIVES = [
  ["running_w", "Watts running", "W running"],
  ["surge_w", "Watts for a start", "W for a start of"],
  ["surge_s", "Seconds of the surge", "s"],
] as const;
const BATTERY = [
  ["full_v", "Volts of the full battery", "V full"],
  ["cutoff_v", "Cut-off volts", "V cut-off"],
  ["ohms", "Ohms of the battery", "Ω"],
  ["energy_wh", "Energy of the battery", "Wh"],
  ["usable", "Usable share", "usable"],
] as const;

/** What a generator or an inverter gives. */
function Source({ trial, onSupply }: { trial: Trial; onSupply: (change: Partial<Trial["supply"]>) => void }) {
  const { kind } = trial.supply;
  if (kind !== "generator" && kind !== "inverter") return null;
  const source = (trial.supply[kind] ?? {}) as Record<string, Figure>;
  const battery = (trial.supply.inverter?.battery ?? {}) as Record<string, Figure>;
  const set = (name: string, value: unknown) => onSupply({ [kind]: { ...source, [name]: value } });
  const rest =
    kind === "generator"
      ? [["power_factor", "Power factor", "power factor"]]
      : [
          ["efficiency", "Efficiency", "efficiency"],
          ["idle_w", "Idle watts", "W idle"],
        ];
  return (
    <p className="flex flex-wrap items-baseline gap-x-3">
      {[...GIVES, ...rest].map(([name = "", label = "", unit = ""]) => (
        <FigureField key={name} label={label} value={source[name]} unit={unit} onCommit={(value) => set(name, value)} />
      ))}
      {kind === "inverter" &&
        BATTERY.map(([name, label, unit]) => (
          <FigureField
            key={name}
            label={label}
            value={battery[name]}
            unit={unit}
            onCommit={(value) => set("battery", { ...battery, [name]: value })}
          />
        ))}
    </p>
  );
}
