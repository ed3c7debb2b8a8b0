/** Level 4: a hidden mistake; call, look, read; name it once nothing else explains it; make it safe; mend it. */
import { useState } from "react";

import { Button, Mark } from "../../ui/parts";
import { sentence } from "../../ui/text";
import { judge, NOTHING, type Reading, running, type TaskOf } from "./judge";
import type { AnswerProps } from "./Played";
import { Switches } from "./Switches";

type Fault = TaskOf<"fault">;
const select = "mt-1 block min-h-12 w-full border-b-2 border-ink/60 bg-sheet px-2 focus:border-copper";

export function FindFault({ task, onDone }: AnswerProps<Fault>) {
  const [state, setState] = useState(0);
  const [lead, setLead] = useState(0);
  const [taken, setTaken] = useState<readonly Reading[]>([]);
  const [named, setNamed] = useState<number | null>(null);
  const [proved, setProved] = useState(false);
  if (proved && named !== null)
    return (
      <Mending
        task={task}
        onDone={(opened) => onDone({ ...NOTHING, readings: taken, named, opened })}
        says={sentence(task.suspects[named]?.says ?? "")}
      />
    );
  const take = (reading: Reading) => setTaken((rows) => [reading, ...rows]);
  function name(suspect: number) {
    const [told] = judge(task, { ...NOTHING, readings: taken, named: suspect }).told;
    if (told?.right === false) onDone({ ...NOTHING, readings: taken, named: suspect });
    setNamed(suspect);
    if (told?.right === true) setProved(true);
    return told?.right === null ? told.says : null;
  }
  const last = taken[0];
  return (
    <div className="mt-3">
      <p className="text-soft">
        {sentence(task.title)}. One mistake is in it, and it can be anything. Every reading and every look counts.
      </p>
      <div className="mt-3 grid gap-x-8 gap-y-4 sm:grid-cols-2">
        <div>
          <label className="block">
            <b>What is called</b>
            <select
              aria-label="What is called"
              className={select}
              value={state}
              onChange={(event) => setState(Number(event.target.value))}
            >
              {task.states.map(({ id, says }) => (
                <option key={id} value={id}>
                  {says}
                </option>
              ))}
            </select>
          </label>
          <Button className="mt-3 w-full" onClick={() => take([state, -1])}>
            Look what runs
          </Button>
          <label className="mt-4 block">
            <b>The meter’s leads</b>
            <select
              aria-label="The meter’s leads"
              className={select}
              value={lead}
              onChange={(event) => setLead(Number(event.target.value))}
            >
              {byDevice(task).map(([device, rows]) => (
                <optgroup key={device} label={device}>
                  {rows.map(({ at, says }) => (
                    <option key={at} value={at}>
                      {says}
                    </option>
                  ))}
                </optgroup>
              ))}
            </select>
          </label>
          <Button kind="main" className="mt-3 w-full" onClick={() => take([state, lead])}>
            Read volts
          </Button>
        </div>
        <div>
          <Window task={task} reading={last} />
          <ol aria-label="What was found" className="mt-2 max-h-60 overflow-y-auto" reversed>
            {taken.slice(1).map((reading, at) => (
              <li key={taken.length - at} className="border-t border-rule py-1 text-sm first:border-0">
                <Found task={task} reading={reading} />
              </li>
            ))}
          </ol>
        </div>
      </div>
      <Naming task={task} count={taken.length} onName={name} />
    </div>
  );
}

/** What the last look or reading showed, large. */
function Window({ task, reading }: { task: Fault; reading: Reading | undefined }) {
  return (
    <div role="status" className="min-h-32 border-2 border-ink/70 bg-sheet px-4 py-3">
      {reading ? <Found task={task} reading={reading} large /> : <p className="text-soft">Nothing read yet.</p>}
    </div>
  );
}

function Found({ task, reading: [state, lead], large }: { task: Fault; reading: Reading; large?: boolean }) {
  const on = running(task, state);
  const shown =
    lead < 0
      ? on.length
        ? on.join(", ")
        : "Nothing runs"
      : `${volts(task, state, lead)} V${task.direct[lead] ? " DC" : ""}`;
  return (
    <>
      <span className="block text-soft">
        {task.states[state]?.says}
        {lead < 0 ? ", looked:" : `, ${task.leads[lead]?.says ?? ""}:`}
      </span>
      <b className={`block ${large ? (lead < 0 ? "mt-1 text-lg" : "mt-1 text-4xl") : ""}`}>{shown}</b>
    </>
  );
}

const volts = (task: Fault, state: number, lead: number) => (task.volts[state]?.[lead] ?? 0).toFixed(1);

function byDevice(task: Fault): [string, { at: number; says: string }[]][] {
  const found = new Map<string, { at: number; says: string }[]>();
  task.leads.forEach(({ id, says }, at) => {
    const device = id.split(".")[0] ?? "";
    found.set(device, [...(found.get(device) ?? []), { at, says }]);
  });
  return [...found];
}

interface NamingProps {
  task: Fault;
  count: number;
  onName: (suspect: number) => string | null;
}

/** At which thing it is, then which of the mistakes that can be made there. */
function Naming({ task, count, onName }: NamingProps) {
  const [about, setAbout] = useState("");
  const [which, setWhich] = useState<number | null>(null);
  const [open, setOpen] = useState<{ says: string; count: number } | null>(null);
  const places = [...new Set(task.suspects.map((one) => one.about))];
  const here = task.suspects.map((one, at) => ({ ...one, at })).filter((one) => one.about === about);
  return (
    <section aria-label="What it is" className="mt-6 border-t border-rule pt-3">
      <h3 className="font-bold">What it is</h3>
      <div className="grid gap-x-8 gap-y-2 sm:grid-cols-[14rem_minmax(0,1fr)]">
        <label className="block">
          At
          <select
            aria-label="At which thing"
            className={select}
            value={about}
            onChange={(event) => {
              setAbout(event.target.value);
              setWhich(null);
            }}
          >
            {places.map((place) => (
              <option key={place} value={place}>
                {place ? place.split("/")[1] : "nowhere: nothing is wrong"}
              </option>
            ))}
          </select>
        </label>
        <label className="block">
          The mistake
          <select
            aria-label="Which mistake"
            className={select}
            value={which ?? ""}
            onChange={(event) => setWhich(event.target.value === "" ? null : Number(event.target.value))}
          >
            <option value="">choose …</option>
            {here.map(({ at, says }) => (
              <option key={at} value={at}>
                {says}
              </option>
            ))}
          </select>
        </label>
      </div>
      {open?.count === count && (
        <p role="status" className="mt-2 flex gap-2 text-warning">
          <Mark severity="warning" />
          {open.says}
        </p>
      )}
      <Button
        kind="main"
        className="mt-3"
        disabled={which === null}
        onClick={() => {
          const says = which === null ? null : onName(which);
          setOpen(says ? { says, count } : null);
        }}
      >
        That is it
      </Button>
    </section>
  );
}

interface MendingProps {
  task: Fault;
  says: string;
  onDone: (opened: string[]) => void;
}

/** Found. Before a hand goes in, what has to be open is opened. */
function Mending({ task, says, onDone }: MendingProps) {
  const { device, options } = task.mend;
  const [closed, setClosed] = useState<readonly string[]>(options.map(({ id }) => id));
  return (
    <div className="mt-4">
      <p className="border-l-4 border-copper bg-sheet px-4 py-3">
        <b>Found.</b> {says}
      </p>
      <h3 className="mt-5 text-lg font-bold">To mend it a hand goes in at {device}. What is open and locked?</h3>
      <Switches label="Open and locked" rows={options} on={closed} onChange={setClosed} words={["open", "closed"]} />
      <Button
        kind="main"
        className="mt-5"
        onClick={() => onDone(options.map(({ id }) => id).filter((id) => !closed.includes(id)))}
      >
        Hand in
      </Button>
    </div>
  );
}
