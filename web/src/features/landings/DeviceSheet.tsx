/** The landing sheet at the device, one terminal at a time and large: for a phone in one gloved hand. */
import { useState } from "react";
import { Link, useSearchParams } from "react-router";

import type { DeviceView, Landed, TerminalView } from "../../api/client";
import { say } from "../../drawing/parts";
import { courseOf, firstSentence } from "../../plan/course";
import type { PlanHandle } from "../../plan/usePlan";
import { useRecord } from "../../plan/useRecord";
import { Button, Mark, severityColour } from "../../ui/parts";
import { devicesInOrder } from "./Landings";
import { Swatch } from "./StripRow";
import { findingsAt } from "../../api/findings";
import { QUALIFIED } from "../../ui/caution";
import { sentence } from "../../ui/text";

interface Page {
  strip: string;
  terminal: TerminalView;
}

interface Props {
  plan: PlanHandle;
  id: string;
  canRecord: boolean;
}

export function DeviceSheet({ plan, id, canRecord }: Props) {
  const [query, setQuery] = useSearchParams();
  const wiring = plan.plan?.result.wiring;
  const devices = wiring?.devices ?? {};
  const wired = (wiring ? devicesInOrder(wiring) : []).filter(
    (view) => view.state !== "removed" && view.cables.length > 0,
  );
  const view = devices[query.get("device") ?? ""] ?? wired[0];
  if (!view)
    return (
      <div className="px-5 py-10">
        <h2 className="text-2xl font-bold">No device is wired yet</h2>
        <p className="mt-2 text-soft">
          <Link className="underline" to={`/installs/${id}/landings`}>
            Draw a cable
          </Link>{" "}
          first.
        </p>
      </div>
    );
  return (
    <main className="mx-auto w-full max-w-xl px-5 pb-8">
      <label className="flex items-center gap-2 py-2">
        <span className="sr-only">Device</span>
        <select
          className="min-h-11 w-full border-2 border-ink/50 bg-sheet px-2 text-lg font-bold"
          value={view.id}
          onChange={(event) => setQuery({ device: event.target.value })}
        >
          {wired.map((entry) => (
            <option key={entry.id} value={entry.id}>
              {entry.id} {entry.title}
            </option>
          ))}
        </select>
      </label>
      <OneDevice key={view.id} view={view} plan={plan} id={id} canRecord={canRecord} />
    </main>
  );
}

/** The ticks as the record has them, with those that are still on their way. */
function withWaiting(kept: readonly string[], plan: PlanHandle): Set<string> {
  const ticks = new Set(kept);
  for (const write of plan.outbox.waiting) {
    if (!write.path.endsWith("/landing-ticks")) continue;
    const { key, done } = write.body as { key: string; done: boolean };
    if (done) ticks.add(key);
    else ticks.delete(key);
  }
  return ticks;
}

function OneDevice({ view, plan, id, canRecord }: Props & { view: DeviceView }) {
  const pages: Page[] = view.strips.flatMap((strip) =>
    strip.terminals
      .filter((terminal) => terminal.landed.length > 0 || terminal.empty)
      .map((terminal) => ({ strip: strip.name, terminal })),
  );
  const [at, setAt] = useState(0);
  const [why, setWhy] = useState("");
  const page = pages[Math.min(at, pages.length - 1)];
  const record = useRecord(id);
  const kept = record.data?.landings.find((entry) => entry.device === view.id)?.ticked ?? [];
  const ticks = withWaiting(kept, plan);
  const things = [`devices/${view.id}`, ...view.cables.map((cable) => `cables/${cable}`)];
  const mine = [...new Set(things.flatMap((thing) => findingsAt(plan.plan?.result, thing)))];
  const grave = mine.filter((row) => row.severity === "stop");
  const done = pages.filter((entry) => ticks.has(entry.terminal.ref)).length;
  // What comes before a hand goes in: undone, a terminal is ticked with the reason why.
  const step = record.data?.steps.find((entry) => entry.landings.includes(page?.terminal.ref ?? ""));
  const first = record.data && step ? courseOf(record.data, plan).missing(step) : [];
  const held = first.length > 0 && why.trim() === "";
  if (!page) return <p className="text-soft">Nothing lands on {view.id} yet.</p>;
  const strip = view.strips.find((entry) => entry.name === page.strip);
  return (
    <>
      <p className="text-soft">{[view.place, view.maker].filter(Boolean).join(" · ")}</p>
      {grave.map((row) => (
        <p key={row.message} className={`mt-2 flex gap-2 font-semibold ${severityColour.stop}`}>
          <Mark severity="stop" /> {row.message}
        </p>
      ))}
      <p className="mt-2 border-l-4 border-stop pl-3 font-semibold">Lock out and prove dead before a hand goes in.</p>
      <p className="mt-3 text-sm text-soft">{page.strip}, as you see it</p>
      <ol className="flex flex-wrap" aria-label={`Terminals of ${page.strip}`}>
        {strip?.terminals.map((terminal) => {
          const here = terminal.ref === page.terminal.ref;
          const index = pages.findIndex((entry) => entry.terminal.ref === terminal.ref);
          return (
            <li key={terminal.ref} className="not-first:-ml-0.5">
              <button
                type="button"
                disabled={index < 0}
                aria-current={here ? "true" : undefined}
                className={`min-h-11 min-w-11 border-2 border-ink px-1.5 font-bold ${here ? "bg-copper text-sheet" : "bg-sheet disabled:text-faint"}`}
                onClick={() => setAt(index)}
              >
                {terminal.label}
              </button>
            </li>
          );
        })}
      </ol>
      <section aria-label={`Terminal ${page.terminal.label}`} className="mt-3 border-2 border-ink bg-sheet p-4">
        <p className="flex items-baseline gap-4">
          <b className="text-6xl leading-none">{page.terminal.label}</b>
          <span className="text-lg text-soft">{page.terminal.says || page.terminal.kind_words}</span>
        </p>
        {page.terminal.caution && <p className="mt-2 font-bold text-stop">{page.terminal.caution}</p>}
        {page.terminal.landed.map((row) => (
          <OneConductor key={`${row.cable} ${row.conductor}`} row={row} terminal={page.terminal} />
        ))}
        {page.terminal.landed.length === 0 && (
          <p className={`mt-3 text-lg font-semibold ${page.terminal.required ? "text-stop" : ""}`}>
            {sentence(page.terminal.empty ?? "")}
          </p>
        )}
        {first.length > 0 && canRecord && !ticks.has(page.terminal.ref) && (
          <div className="mt-4 border-t border-rule pt-3">
            <p className="flex gap-2 font-semibold text-warning">
              <Mark severity="warning" />
              <span>
                First: {firstSentence(first[0]?.text ?? "")}
                {first.length > 1 && ` And ${String(first.length - 1)} more.`}
              </span>
            </p>
            <input
              aria-label="Why is it landed before that"
              placeholder="Why is it landed before that"
              maxLength={200}
              className="mt-2 min-h-12 w-full border-b-2 border-ink/50 bg-paper px-2 focus:border-copper"
              value={why}
              onChange={(event) => setWhy(event.target.value)}
            />
          </div>
        )}
        <label className="mt-4 flex min-h-14 items-center gap-3 border-t border-rule pt-3 text-lg">
          <input
            type="checkbox"
            className="size-7 accent-ink"
            disabled={!canRecord || page.terminal.landed.length === 0 || (held && !ticks.has(page.terminal.ref))}
            checked={ticks.has(page.terminal.ref)}
            onChange={(event) =>
              plan.record(
                "landing-ticks",
                {
                  key: page.terminal.ref,
                  done: event.target.checked,
                  ...(event.target.checked && first.length > 0 ? { reason: why.trim() } : {}),
                },
                `${view.id} ${page.terminal.label}`,
              )
            }
          />
          Landed and tugged{page.terminal.torque_in_lb ? `, ${String(page.terminal.torque_in_lb)} in-lb` : ""}
        </label>
      </section>
      <div className="mt-3 flex gap-3">
        <Button className="min-h-14 flex-1 text-lg" disabled={at === 0} onClick={() => setAt(at - 1)}>
          Back
        </Button>
        <Button
          kind="main"
          className="min-h-14 flex-1 text-lg"
          disabled={at >= pages.length - 1}
          onClick={() => setAt(at + 1)}
        >
          Next
        </Button>
      </div>
      <p className="mt-2 text-sm text-soft">
        {done} of {pages.length} ticked; kept in the record with who and when.
      </p>
      {view.spare.length > 0 && (
        <p className="mt-3">
          <b>Capped here:</b> {view.spare.map((row) => `${row.colour} of ${row.cable}`).join(", ")}.
        </p>
      )}
      {view.loose.length > 0 && (
        <p className="mt-2 font-semibold text-warning">
          Neither landed nor capped: {view.loose.map((row) => `${row.colour} of ${row.cable}`).join(", ")}.
        </p>
      )}
      <p className="mt-4 text-sm text-soft">{QUALIFIED}</p>
    </>
  );
}

function OneConductor({ row, terminal }: { row: Landed; terminal: TerminalView }) {
  const facts = [
    row.awg,
    terminal.strip_in ? `strip ${say(terminal.strip_in, "in", 3)}` : "",
    row.connector,
    row.pigtail ? "on a pigtail" : "",
  ];
  return (
    <div className="mt-4 border-t border-rule pt-3">
      <p className="flex flex-wrap items-center gap-3 text-2xl font-bold">
        <Swatch row={row} large />
        {row.colour}
        {row.marked && <span className="text-lg">marked {row.marked}</span>}
      </p>
      <p className="mt-1 text-lg">
        {row.says || "no function of its own"} <span className="text-soft">· {row.cable}</span>
      </p>
      <p className="text-lg">
        other end: <b>{row.far}</b>
      </p>
      <p className="text-soft">{facts.filter(Boolean).join(", ")}</p>
      {row.note && <p className="text-soft">{row.note}</p>}
    </div>
  );
}
