/** Causes against effects: what a rule asks, what the plan asks, what the simulation shows. */
import { useState } from "react";
import { Link } from "react-router";

import type { BenchOverview, BenchSystem, CellShown, Patch, TestOut } from "../../api/client";
import type { PlanHandle } from "../../plan/usePlan";
import { useRecord } from "../../plan/useRecord";
import { waitingFor } from "../../plan/waiting";
import { Findings } from "../../ui/Findings";
import { Button, Mark } from "../../ui/parts";
import { when } from "../../ui/when";

interface Props {
  overview: BenchOverview;
  system: BenchSystem;
  plan: PlanHandle;
  readOnly: boolean;
}

export function Matrix({ overview, system, plan, readOnly }: Props) {
  const [chosen, setChosen] = useState<string | null>(null);
  const { cells } = overview;
  const causes = [...new Set(cells.map((cell) => cell.cause))];
  const effects = [...new Set(cells.map((cell) => cell.effect))];
  const cell = cells.find((entry) => keyOf(entry) === chosen);
  const record = useRecord(plan.plan?.install.id ?? "");
  const mine = record.data?.tests.filter((test) => test.system === system.key) ?? [];
  const tests = new Map(mine.map((test) => [`${test.cause} ${test.effect}`, test]));
  const rows = system.findings.filter((row) => row.code.startsWith("interlock"));
  if (!cells.length)
    return (
      <p className="mt-5 max-w-xl text-soft">
        No safety contact in this system: nothing that can happen is wired to stop anything.
      </p>
    );
  return (
    <div className="mt-3">
      <div className="overflow-x-auto">
        <table className="border-separate border-spacing-0">
          <thead>
            <tr>
              <th className="pr-4 text-left font-normal text-soft">when</th>
              {effects.map((effect) => (
                <th key={effect} scope="col" className="min-w-28 px-2 pb-2 text-left">
                  {effect}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {causes.map((cause) => (
              <tr key={cause}>
                <th scope="row" className="border-t border-rule pr-4 text-left">
                  {cells.find((entry) => entry.cause === cause)?.cause_short}
                </th>
                {effects.map((effect) => {
                  const here = cells.find((entry) => entry.cause === cause && entry.effect === effect);
                  return (
                    <td key={effect} className="border-t border-rule p-1">
                      {here && (
                        <Cell
                          cell={here}
                          outcome={tests.get(keyOf(here))?.outcome}
                          here={keyOf(here) === chosen}
                          onOpen={() => setChosen(keyOf(here))}
                        />
                      )}
                    </td>
                  );
                })}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <p className="mt-3 text-sm text-soft">
        A filled bar: the simulation shows that it stops. A cut: it must stop, and goes on. A dashed frame: nothing here
        brings it on, so nothing is shown. Pale words: not asked for.
      </p>
      {cell && (
        <One
          key={keyOf(cell)}
          cell={cell}
          test={tests.get(keyOf(cell))}
          system={system}
          plan={plan}
          readOnly={readOnly}
        />
      )}
      <div className="mt-5">
        <Findings rows={rows} plan={plan} readOnly={readOnly} />
      </div>
    </div>
  );
}

function keyOf(cell: CellShown): string {
  return `${cell.cause} ${cell.effect}`;
}

interface CellProps {
  cell: CellShown;
  outcome: TestOut["outcome"];
  here: boolean;
  onOpen: () => void;
}

function Cell({ cell, outcome, here, onOpen }: CellProps) {
  const bad = cell.wanted && cell.outcome === "goes on";
  const words = cell.outcome === "never on" ? "not shown" : cell.outcome;
  const look = !cell.wanted
    ? "border-transparent text-soft"
    : bad
      ? "border-stop text-stop font-bold"
      : cell.outcome === "stops"
        ? "border-ink bg-ink text-sheet font-bold"
        : "border-dashed border-ink";
  return (
    <button
      type="button"
      aria-pressed={here}
      aria-label={`${cell.cause_short} and ${cell.effect}: ${words}${cell.wanted ? ", asked for" : ""}`}
      className={`min-h-11 w-full rounded-sm border-2 px-2 text-left ${look} ${here ? "outline-3 outline-copper" : ""}`}
      onClick={onOpen}
    >
      <span className="flex items-center gap-1.5">
        {bad && <Mark severity="stop" />}
        {words}
        {outcome === "passed" && <span className="font-normal">, tried</span>}
        {outcome === "failed" && <span>, failed</span>}
      </span>
    </button>
  );
}

const SAID = {
  passed: "Tried on the unit: it stopped,",
  failed: "Tried on the unit: it did not stop,",
  taken_back: "Taken back",
};

interface OneProps {
  cell: CellShown;
  test: TestOut | undefined;
  system: BenchSystem;
  plan: PlanHandle;
  readOnly: boolean;
}

function One({ cell, test, system, plan, readOnly }: OneProps) {
  const last = test?.entries.at(-1);
  const waiting = test !== undefined && waitingFor(plan, test.key);
  const ask = (stops: boolean) => {
    const patch: Patch = {
      interlocks: { [cell.interlock]: { system: system.key, cause: cell.cause, effect: cell.effect, stops } },
    };
    plan.change(
      patch,
      stops ? `Ask that ${cell.cause_short} stops the ${cell.effect}` : `Ask for no stop of the ${cell.effect}`,
    );
  };
  return (
    <section aria-label="The cell" className="mt-4 max-w-2xl border-l-4 border-copper bg-sheet px-4 py-3">
      <h2 className="text-lg font-bold">
        {cell.cause_short}: {cell.effect} {cell.wanted ? "must stop" : "may go on"}
      </h2>
      <p>
        {cell.required ? `${cell.says ?? ""} ` : "No rule asks for it. "}
        {cell.rule && <span className="text-soft">{cell.rule}.</span>}
      </p>
      <p className="mt-1">
        {cell.outcome === "stops" && <b>On the bench it stops, with {cell.when}.</b>}
        {cell.outcome === "goes on" && (
          <b className={cell.wanted ? "text-stop" : ""}>On the bench it goes on, with {cell.when}.</b>
        )}
        {cell.outcome === "never on" && <b>On the bench nothing brings it on, so nothing is shown.</b>}
      </p>
      {cell.provoke && cell.wanted && (
        <p className="mt-1 text-soft">
          To try it: {cell.provoke} It must stop within {cell.within_s} s. {cell.reset}
        </p>
      )}
      {last && (
        <p className={`mt-1 ${last.outcome === "failed" ? "font-bold text-stop" : ""}`}>
          {SAID[last.outcome]} by {last.author}, {when(last.at)}, at revision {last.revision}
          {last.reason && `: ${last.reason}`}.
        </p>
      )}
      {waiting && <p className="mt-1 text-sm text-soft">kept here, not sent yet</p>}
      {cell.wanted && test && (
        <p className="mt-2">
          {cell.outcome === "stops" ? (
            <Link
              className="font-semibold underline"
              to={`/installs/${plan.plan?.install.id ?? ""}/start-up?part=devices%2F${system.key}`}
            >
              Try it on the unit at Start-up
            </Link>
          ) : (
            <span className="text-soft">Mend the plan first: what goes on here proves nothing on the unit.</span>
          )}
        </p>
      )}
      {!readOnly && (
        <div className="mt-3 flex gap-2">
          {cell.wanted ? (
            <Button onClick={() => ask(false)}>It need not stop here</Button>
          ) : (
            <Button onClick={() => ask(true)}>Ask that it stops</Button>
          )}
        </div>
      )}
    </section>
  );
}
