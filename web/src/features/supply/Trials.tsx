/** Trials in fact: grid first, then generator, then inverter; what each gave, against what was expected. */
import { type SubmitEvent, useState } from "react";

import type { SupplyAt, TrialOut } from "../../api/client";
import type { PlanHandle } from "../../plan/usePlan";
import { useRecord } from "../../plan/useRecord";
import { waitingFor } from "../../plan/waiting";
import { parse } from "../../ui/Edit";
import { Button, Mark } from "../../ui/parts";
import { when } from "../../ui/when";

interface Props {
  plan: PlanHandle;
  id: string;
  group: readonly SupplyAt[];
  canRecord: boolean;
}

const OUTCOMES = [
  { value: "started", label: "It started" },
  { value: "tripped", label: "It tripped" },
  { value: "stalled", label: "It did not come up" },
  { value: "shut_off", label: "The source shut off" },
] as const;
const FIGURES = [
  { name: "peak_a", label: "Peak", unit: "A" },
  { name: "settled_a", label: "Settled", unit: "A" },
  { name: "least_v", label: "Least volts", unit: "V" },
  { name: "settled_v", label: "Settled volts", unit: "V" },
  { name: "ac_w", label: "AC", unit: "W" },
  { name: "cooling_w", label: "Cooling", unit: "W" },
] as const;
const OF_BATTERY = [
  { name: "dc_v", label: "DC volts", unit: "V" },
  { name: "dc_a", label: "DC", unit: "A" },
  { name: "idle_w", label: "Idle", unit: "W" },
] as const;

export function Trials({ plan, id, group, canRecord }: Props) {
  const record = useRecord(id).data;
  const [open, setOpen] = useState<string | null>(null);
  const mine = (record?.trials ?? []).filter((trial) => group.some(({ source }) => source === trial.key));
  if (!mine.length) return null;
  return (
    <section aria-label="Trials" className="mt-6 border-t-2 border-ink pt-3">
      <h2 className="flex items-baseline justify-between text-lg font-bold">
        Trials in fact
        <a className="min-h-11 py-2 text-base font-normal underline" href={`/api/installs/${id}/trials.pdf`}>
          Print the trial sheet
        </a>
      </h2>
      <ol>
        {mine.map((trial) => (
          <Tried
            key={trial.key}
            trial={trial}
            plan={plan}
            canRecord={canRecord}
            open={open === formOf(trial)}
            onOpen={(shown) => setOpen(shown ? formOf(trial) : null)}
          />
        ))}
      </ol>
    </section>
  );
}

/** Its form is gone once another entry is there; a refused one keeps what was typed. */
function formOf(trial: TrialOut): string {
  return `${trial.key} ${String(trial.entries.length)}`;
}

interface TriedProps {
  trial: TrialOut;
  plan: PlanHandle;
  canRecord: boolean;
  open: boolean;
  onOpen: (open: boolean) => void;
}

function Tried({ trial, plan, canRecord, open, onOpen }: TriedProps) {
  const waiting = waitingFor(plan, trial.key);
  const last = trial.entries.at(-1);
  const stands = last !== undefined && last.outcome !== "taken_back";
  const error = plan.errors[`trial ${trial.key}`];
  return (
    <li className="border-t border-rule py-2 first:border-0">
      <p className="flex flex-wrap items-center gap-x-3">
        <span className={stands ? "" : "text-soft"}>
          <Mark severity={stands && last.outcome !== "started" ? "stop" : "note"} />
        </span>
        <b>{trial.name}</b>
        <span className={stands && last.outcome !== "started" ? "font-semibold text-stop" : "text-soft"}>
          {stands ? last.said : (trial.not_yet ?? `expected: ${trial.expected.toLowerCase()}`)}
        </span>
        {waiting && <span className="text-copper-deep">waiting for the server</span>}
        {canRecord && !trial.not_yet && !open && (
          <Button className="ml-auto" onClick={() => onOpen(true)}>
            Record a trial
          </Button>
        )}
      </p>
      {trial.entries.map((entry) => (
        <p key={entry.at} className="pl-9 text-sm text-soft">
          {entry.said}
          {entry.passed.length > 0 && ", made before what comes first"}
          {entry.note && `: ${entry.note}`}. {entry.against.join("; ")} · {entry.author}, {when(entry.at)}
        </p>
      ))}
      {error && (
        <p role="alert" className="pl-9 text-stop">
          {error.message} {error.remedy}
        </p>
      )}
      {open && <TrialForm trial={trial} plan={plan} stands={stands} onClose={() => onOpen(false)} />}
    </li>
  );
}

interface FormProps {
  trial: TrialOut;
  plan: PlanHandle;
  stands: boolean;
  onClose: () => void;
}

function TrialForm({ trial, plan, stands, onClose }: FormProps) {
  const [outcome, setOutcome] = useState<string>("started");
  const passes = trial.first !== "" && outcome !== "taken_back";
  const fields = trial.kind === "inverter" ? [...FIGURES, ...OF_BATTERY] : FIGURES;
  function save(event: SubmitEvent<HTMLFormElement>) {
    event.preventDefault();
    const form = new FormData(event.currentTarget);
    const text = (name: string) => {
      const found = form.get(name);
      return typeof found === "string" ? found.trim() : "";
    };
    const typed = fields.map(({ name }) => [name, parse(text(name), "number")] as const);
    const measured = Object.fromEntries(typed.filter(([, value]) => value !== undefined));
    const said = text("note");
    const body = { key: trial.key, outcome, measured, ...(said ? { note: said } : {}) };
    plan.forget(`trial ${trial.key}`);
    plan.record("start-trials", body, `Trial on ${trial.name}`, `trial ${trial.key}`);
  }
  return (
    <form className="mt-2 pl-9" onSubmit={save}>
      <p className="text-soft">On: {trial.on.join(", ")}.</p>
      {passes && (
        <p className="flex gap-2 font-semibold text-warning">
          <Mark severity="warning" />
          {trial.first}
        </p>
      )}
      <p className="flex flex-wrap gap-x-4 gap-y-1">
        {fields.map(({ name, label, unit }) => (
          <label key={name} className="inline-flex items-baseline gap-1">
            <span className="text-soft">{label}</span>
            <input
              name={name}
              aria-label={`${label}, ${unit}`}
              inputMode="decimal"
              size={6}
              className="min-h-11 border-b-2 border-ink/50 bg-transparent px-1 font-semibold"
            />
            <span className="text-soft">{unit}</span>
          </label>
        ))}
      </p>
      <p className="mt-2 flex flex-wrap items-center gap-x-4">
        <select
          aria-label="What came of it"
          className="min-h-11 border-b-2 border-ink/50 bg-transparent font-semibold"
          value={outcome}
          onChange={(event) => setOutcome(event.target.value)}
        >
          {OUTCOMES.map(({ value, label }) => (
            <option key={value} value={value}>
              {label}
            </option>
          ))}
          {stands && <option value="taken_back">Take the last one back</option>}
        </select>
        <label className="inline-flex grow items-baseline gap-1">
          <span className="text-soft">
            {outcome === "taken_back" ? "because" : passes ? "why it is made before that" : "note"}
          </span>
          <input
            name="note"
            maxLength={200}
            required={passes || outcome === "taken_back"}
            className="min-h-11 grow border-b-2 border-ink/50 bg-transparent px-1"
          />
        </label>
        <Button kind="main" type="submit" disabled={waitingFor(plan, trial.key)}>
          Record it
        </Button>
        <Button onClick={onClose}>Not now</Button>
      </p>
    </form>
  );
}
