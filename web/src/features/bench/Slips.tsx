/** What if someone slips: every single mistake by its harm, and the fewest tests that expose them all. */
import { useState } from "react";

import type { BeforeShown, MistakeShown, Report, TestShown } from "../../api/client";
import { Button } from "../../ui/parts";
import { sentence } from "../../ui/text";
import { Diagnose } from "./Diagnose";
import type { AnalysisHandle } from "./useAnalysis";
import { Waiting } from "./Waiting";

interface Props {
  install: string;
  handle: AnalysisHandle;
  onShow: (mistake: MistakeShown, report: Report) => void;
}

export function Slips({ install, handle, onShow }: Props) {
  const [read, setRead] = useState(false);
  return (
    <Waiting handle={handle}>
      {(report) => (
        <>
          <div className="mt-3">
            <Button aria-expanded={read} onClick={() => setRead(!read)}>
              {read ? "Back to the ways to slip" : "A reading looked wrong"}
            </Button>
          </div>
          {read && handle.analysis ? (
            <Diagnose install={install} analysis={handle.analysis} report={report} onShow={onShow} />
          ) : (
            <Shown report={report} onShow={onShow} />
          )}
        </>
      )}
    </Waiting>
  );
}

function Shown({ report, onShow }: { report: Report; onShow: Props["onShow"] }) {
  const [open, setOpen] = useState<string | null>(report.harms[0]?.harm ?? null);
  const most = Math.max(...report.harms.map((entry) => entry.count), 1);
  const hidden = new Set(report.hidden);
  const harmful = report.mistakes.filter((row) => hidden.has(row.id) && row.harm !== "none");
  const onlyLive = report.mistakes.filter((row) => report.only_live.includes(row.id));
  return (
    <div className="mt-4 grid gap-x-12 gap-y-8 xl:grid-cols-[minmax(0,1fr)_26rem]">
      <section aria-label="Mistakes by harm">
        <h2 className="text-lg font-bold">{report.mistakes.length} ways to slip, one at a time</h2>
        <ul className="mt-2">
          {report.harms.map((entry) => {
            const here = open === entry.harm;
            return (
              <li key={entry.harm} className="border-t border-rule">
                <button
                  type="button"
                  aria-expanded={here}
                  className="flex min-h-12 w-full items-center gap-3 text-left hover:text-copper-deep"
                  onClick={() => setOpen(here ? null : entry.harm)}
                >
                  <b className="w-10 text-right text-xl">{entry.count}</b>
                  <span className="w-32 shrink-0 max-sm:hidden" aria-hidden>
                    <span
                      className={`block h-3 ${entry.harm === "none" ? "bg-faint" : entry.harm === "wrong" ? "bg-warning" : "bg-stop"}`}
                      style={{ width: `${(100 * entry.count) / most}%` }}
                    />
                  </span>
                  <span className={here ? "font-bold" : ""}>{entry.says}</span>
                </button>
                {here && (
                  <ul className="pb-3">
                    {report.mistakes
                      .filter((row) => row.harm === entry.harm)
                      .map((row) => (
                        <Mistake key={row.id} row={row} report={report} hidden={hidden.has(row.id)} onShow={onShow} />
                      ))}
                  </ul>
                )}
              </li>
            );
          })}
        </ul>
      </section>
      <div>
        {report.before.length > 0 && <Before report={report} onlyLive={onlyLive} />}
        <section aria-label="Tests that expose them">
          <h2 className="text-lg font-bold">
            Under power, {report.tests.length} tests expose every one that can be seen
            {report.exact ? "; fewer will not do" : ""}
          </h2>
          <ol className="mt-2">
            {report.tests.map((test, number) => (
              <Test key={test.says} test={test} number={number + 1} />
            ))}
          </ol>
          {harmful.length > 0 && (
            <div className="mt-4 border-l-4 border-warning bg-sheet px-4 py-3">
              <p className="font-bold text-warning">
                No test exposes {harmful.length === 1 ? "this one" : `these ${harmful.length}`}, before power or under
                it:
              </p>
              <ul className="mt-1">
                {harmful.map((row) => (
                  <li key={row.id}>
                    {sentence(row.says)} <span className="text-soft">{row.what}</span>
                  </li>
                ))}
              </ul>
              <p className="mt-1 text-soft">Look and tug before the cover goes on.</p>
            </div>
          )}
          <p className="mt-3 text-sm text-soft">
            A meter is taken as right to {report.meter}. Further {report.hidden.length - harmful.length} slips change
            nothing here.
          </p>
        </section>
      </div>
    </div>
  );
}

/** Ohms first: what shocks or destroys shows while everything is dead. */
function Before({ report, onlyLive }: { report: Report; onlyLive: MistakeShown[] }) {
  return (
    <section aria-label="Tests before power" className="mb-8">
      <h2 className="text-lg font-bold">
        Before power, {report.before.length} {report.before.length === 1 ? "reading shows" : "readings show"} what
        shocks or destroys
      </h2>
      <p className="mt-1 text-soft">{report.dead} Meter on ohms:</p>
      <ol className="mt-2">
        {report.before.map((test, number) => (
          <Ohms key={test.says} test={test} number={number + 1} />
        ))}
      </ol>
      {onlyLive.length > 0 && (
        <div className="mt-3 border-l-4 border-warning bg-sheet px-4 py-3">
          <p className="font-bold text-warning">Only power shows {onlyLive.length === 1 ? "this one" : "these"}:</p>
          <ul className="mt-1">
            {onlyLive.map((row) => (
              <li key={row.id}>
                {sentence(row.says)} <span className="text-soft">{row.what}</span>
              </li>
            ))}
          </ul>
          <p className="mt-1 text-soft">Look and tug; stand clear and keep a hand on the breaker at the first call.</p>
        </div>
      )}
    </section>
  );
}

function Ohms({ test, number }: { test: BeforeShown; number: number }) {
  return (
    <li className="flex gap-3 border-t border-rule py-2">
      <b className="w-9 shrink-0 text-right text-copper-deep">Ω{number}</b>
      <span className="flex-1">
        {test.says}
        <b className="block">{sentence(test.finds)}</b>
      </span>
      <span className="text-sm text-soft">exposes {test.exposes}</span>
    </li>
  );
}

interface MistakeProps {
  row: MistakeShown;
  report: Report;
  hidden: boolean;
  onShow: Props["onShow"];
}

function Mistake({ row, report, hidden, onShow }: MistakeProps) {
  const when = row.trial == null ? null : report.trials[row.trial]?.says;
  const tests = [
    ...row.exposed_before.map((number) => `Ω${number + 1}`),
    ...row.exposed_by.map((number) => `${number + 1}`),
  ];
  return (
    <li className="flex flex-wrap items-center gap-x-4 gap-y-1 border-t border-rule/60 py-1.5 pl-[3.25rem] first:border-0">
      <span className="min-w-56 flex-1">
        {sentence(row.says)}
        <span className="block text-sm text-soft">
          {row.what ? `With ${when ?? ""}: ${row.what}. ` : ""}
          {hidden
            ? row.what
              ? "No test shows it."
              : "Changes nothing that can be seen or read."
            : `Shown by test ${tests.slice(0, 4).join(", ")}${tests.length > 4 ? " and others" : ""}.`}
        </span>
      </span>
      <button
        type="button"
        className="min-h-11 underline decoration-faint underline-offset-4 hover:decoration-copper"
        onClick={() => onShow(row, report)}
      >
        <span className="sr-only">{row.says} </span>on the bench
      </button>
    </li>
  );
}

function Test({ test, number }: { test: TestShown; number: number }) {
  return (
    <li className="flex gap-3 border-t border-rule py-2">
      <b className="w-7 shrink-0 text-right text-copper-deep">{number}</b>
      <span className="flex-1">
        {test.says}
        <span className="block">
          {test.a ? (
            <b>
              {(test.volts ?? 0).toFixed(1)} V{test.direct ? " DC" : ""} ± {(test.tolerance_v ?? 0).toFixed(1)}
            </b>
          ) : (
            <>
              <b>{test.runs.length ? test.runs.join(", ") : "nothing runs"}</b>
              {test.still.length > 0 && <span className="text-soft">; not {test.still.join(", ")}</span>}
            </>
          )}
        </span>
      </span>
      <span className="text-sm text-soft">exposes {test.exposes}</span>
    </li>
  );
}
