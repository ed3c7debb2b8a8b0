/** The work list of an install: tasks from plan and start-up, by whom and how long; changed where they stand. */
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { type HTMLAttributes, useEffect, useState } from "react";

import { api, data, type WorkList as List } from "../../api/client";
import type { PlanHandle } from "../../plan/usePlan";
import { SKILLS } from "../../plan/skills";
import { QUALIFIED } from "../../ui/caution";
import { fields } from "../../ui/fields";
import { Button, Mark, NotShown } from "../../ui/parts";
import { AsText } from "./AsText";

type Task = List["tasks"][number];
type State = Task["state"];

interface Props {
  plan: PlanHandle;
  id: string;
  readOnly: boolean;
  canRecord: boolean;
}

export function WorkList({ plan, id, readOnly, canRecord }: Props) {
  const client = useQueryClient();
  const [text, setText] = useState(false);
  const [drag, setDrag] = useState<{ key: string; over: string | null } | null>(null);
  const revision = plan.plan?.install.revision;
  const query = useQuery({
    queryKey: ["work", id],
    queryFn: async () =>
      data(await api.GET("/api/installs/{install_id}/work", { params: { path: { install_id: id } } })),
  });
  useEffect(() => {
    void client.invalidateQueries({ queryKey: ["work", id] });
  }, [client, id, revision]);
  const list = query.data;
  if (query.isError && !list) return <NotShown what="The work list" />;
  if (!list) return <p className="p-7 text-soft">Gathering the steps …</p>;
  const here = new Map<string, State>();
  for (const write of plan.outbox.waiting) {
    if (!write.path.endsWith("/work")) continue;
    const { key, state } = write.body as { key: string; state: State | "taken_back" };
    here.set(key, state === "taken_back" ? "open" : state);
  }
  const tasks = list.tasks.map((task) => ({ ...task, state: here.get(task.key) ?? task.state }));
  const done = tasks.filter((task) => task.state === "done").length;
  const names = new Map(list.tasks.map((task) => [task.key, task.text]));
  const gripOf = (task: Task): Grip => ({
    onPointerDown(event) {
      event.currentTarget.setPointerCapture(event.pointerId);
      setDrag({ key: task.key, over: null });
    },
    onPointerMove(event) {
      if (drag) setDrag({ ...drag, over: taskAt(event.clientX, event.clientY) });
    },
    onPointerUp() {
      const first = drag?.over;
      setDrag(null);
      if (!first || first === task.key) return;
      const before = plan.document?.work?.[task.key]?.after ?? [];
      if (before.includes(first)) return;
      plan.change(
        { work: { [task.key]: { after: [...before, first] } } },
        `${task.text} after ${names.get(first) ?? first}`,
      );
    },
    onPointerCancel: () => setDrag(null),
  });
  return (
    <>
      <p className="mt-4 text-xl font-bold">
        {done} of {tasks.length} done, {span(list.hours_left)} hours of hands left
      </p>
      <p className="flex flex-wrap gap-x-5 text-soft">
        All of it {span(list.hours)} hours of hands, by {list.rests_on}.
        <a className="underline" href={`/api/installs/${id}/estimate.pdf`} target="_blank" rel="noreferrer">
          Estimate for the customer
        </a>
        {!readOnly && (
          <button type="button" className="underline" aria-expanded={text} onClick={() => setText(!text)}>
            {text ? "Not as a text" : "Change it as a text"}
          </button>
        )}
      </p>
      {text && <AsText id={id} plan={plan} onDone={() => setText(false)} />}
      {tasks.length === 0 && <p className="mt-6 text-soft">Nothing is drawn yet that could be worked on.</p>}
      <ol className="mt-3">
        {tasks.map((task, index) => (
          <OneTask
            key={task.key}
            heading={task.kind === tasks[index - 1]?.kind ? undefined : KINDS[task.kind]}
            task={task}
            names={names}
            plan={plan}
            readOnly={readOnly}
            canRecord={canRecord}
            waits={here.has(task.key)}
            over={drag?.over === task.key && drag.key !== task.key}
            grip={gripOf(task)}
            onState={(state, minutes) =>
              plan.record("work", { key: task.key, state, ...(minutes ? { minutes } : {}) }, task.text)
            }
          />
        ))}
      </ol>
      {list.left_out.length > 0 && (
        <section aria-label="Left out">
          <h2 className="mt-5 text-lg font-bold">Left out here</h2>
          <ul>
            {list.left_out.map((task) => (
              <li key={task.key} className="flex flex-wrap items-center gap-3 border-t border-rule py-1 first:border-0">
                <span className="grow text-soft">{task.text}</span>
                {!readOnly && (
                  <Button onClick={() => plan.change({ work: { [task.key]: { left_out: null } } }, "Task back")}>
                    Put it back
                  </Button>
                )}
              </li>
            ))}
          </ul>
        </section>
      )}
      {!readOnly && <Own plan={plan} taken={[...names.keys()]} />}
      <p className="mt-6 border-t border-rule pt-3 text-sm text-soft">{QUALIFIED}</p>
    </>
  );
}

type Grip = Required<
  Pick<HTMLAttributes<HTMLSpanElement>, "onPointerDown" | "onPointerMove" | "onPointerUp" | "onPointerCancel">
>;

/** The task that is drawn at a place of the window. */
function taskAt(x: number, y: number): string | null {
  return document.elementFromPoint(x, y)?.closest("[data-task]")?.getAttribute("data-task") ?? null;
}

/** `12 to 19`, `12` where both are alike. */
function span([low, high]: readonly number[]): string {
  const [a, b] = [Math.round(low ?? 0), Math.round(high ?? 0)];
  return a === b ? String(a) : `${String(a)} to ${String(b)}`;
}

function minutes(task: Task): string {
  const { low, high } = task.minutes;
  if (high < 100) return low === high ? `${String(low)} min` : `${String(low)} to ${String(high)} min`;
  const [a, b] = [low, high].map((value) => String(Math.round(value / 6) / 10));
  return a === b ? `${String(a)} h` : `${String(a)} to ${String(b)} h`;
}

const KINDS: Partial<Record<Task["kind"], string>> = {
  rough: "Set and run",
  control: "Control",
  land: "Land",
  panel: "With the power off",
  start: "Start up",
  run: "Run and prove",
};

interface TaskProps {
  task: Task;
  /** What the tasks from here on are, where another kind of them begins. */
  heading: string | undefined;
  names: ReadonlyMap<string, string>;
  plan: PlanHandle;
  readOnly: boolean;
  canRecord: boolean;
  waits: boolean;
  /** Another task is held over it, which would come after it. */
  over: boolean;
  grip: Grip;
  onState: (state: "begun" | "done" | "taken_back", minutes?: number) => void;
}

function OneTask({ task, heading, names, plan, readOnly, canRecord, waits, over, grip, onState }: TaskProps) {
  const [open, setOpen] = useState(false);
  const after = task.after.map(({ task: key, wait_min }) => {
    const name = names.get(key) ?? key;
    return wait_min > 5 ? `${name} and ${String(wait_min)} min of waiting` : name;
  });
  const beside = [...task.access, ...(task.outdoors ? ["outdoors"] : [])].join(", ").replaceAll("_", " ");
  return (
    <li data-task={task.key} className={`border-t border-rule py-2 first:border-0 ${over ? "bg-sheet" : ""}`}>
      {heading && <h2 className="pt-3 pb-1 text-lg font-bold">{heading}</h2>}
      <div className="flex flex-wrap items-center gap-x-4 gap-y-1">
        {!readOnly && (
          <span
            title="Draw it onto the task that comes first"
            className="-mr-2 -ml-3 flex min-h-11 cursor-grab touch-none items-center px-1 text-faint select-none"
            data-grip={task.key}
            {...grip}
          >
            <svg width="10" height="18" aria-hidden>
              <path d="M2 3v12M8 3v12" stroke="currentColor" strokeWidth="2" />
            </svg>
          </span>
        )}
        <input
          type="checkbox"
          className="size-7 shrink-0 accent-ink"
          aria-label={task.text}
          disabled={!canRecord}
          checked={task.state === "done"}
          onChange={(event) => onState(event.target.checked ? "done" : "taken_back")}
        />
        <button
          type="button"
          aria-expanded={open}
          className="min-h-11 min-w-0 grow basis-72 text-left"
          onClick={() => setOpen(!open)}
        >
          <span className={task.state === "done" ? "text-soft" : "font-semibold"}>{task.text}</span>
          <span className="block text-sm text-soft">
            {task.people.join(" + ")}
            {beside && `; ${beside}`}
            {task.state === "begun" && `; begun by ${task.by ?? "here"}`}
            {task.state !== "done" && task.share > 0 && `; ${String(Math.round(task.share * 100))} % of its steps done`}
            {waits && "; kept here, not sent yet"}
          </span>
        </button>
        <span className="w-32 text-right">
          {task.took_min != null ? (
            <b>took {Math.round(task.took_min)} min</b>
          ) : (
            <span className={task.state === "done" ? "text-soft" : "font-semibold"}>{minutes(task)}</span>
          )}
        </span>
        {canRecord && task.state === "open" && (
          <Button className="max-md:ml-11" onClick={() => onState("begun")}>
            Begin
          </Button>
        )}
      </div>
      {task.lacks.length > 0 && (
        <p className="ml-11 flex gap-2 text-warning">
          <Mark severity="warning" />
          Not known: {task.lacks.join("; ")}. It may take longer.
        </p>
      )}
      {open && (
        <div className="ml-11 pb-2">
          <p className="text-soft">{task.sure.charAt(0).toUpperCase() + task.sure.slice(1)}.</p>
          {after.length > 0 && (
            <p>
              After {after.slice(0, 4).join("; ")}
              {after.length > 4 && ` and ${String(after.length - 4)} more`}.
            </p>
          )}
          {task.windows && (
            <p>
              Only {task.windows.map((one) => `${one.day} ${one.from} to ${one.to}`).join(", ") || "in no known hour"}.
            </p>
          )}
          {!readOnly && <Changed task={task} plan={plan} />}
          {canRecord && task.state === "done" && <Took onTook={(taken) => onState("done", taken)} />}
        </div>
      )}
    </li>
  );
}

/** Minutes as they were entered: as the server has them, or as they were typed and it has not answered yet. */
function inMinutes(entered: unknown): string | undefined {
  if (Array.isArray(entered)) return `${entered.join(" to ")} min`;
  return typeof entered === "string" ? entered : undefined;
}

/** What the install has otherwise: people, minutes, words. */
function Changed({ task, plan }: { task: Task; plan: PlanHandle }) {
  const entered = plan.document?.work?.[task.key];
  const work = fields(plan, `work/${task.key}`, false);
  const list = task.people.join(" + ");
  return (
    <p className="leading-9">
      {task.kind === "own" && (
        <>Here it is {work.text("text", "What is done", entered?.text, undefined, task.text)}, </>
      )}
      {task.kind === "own" ? "takes" : "It takes"}{" "}
      {work.text("minutes", "How long", inMinutes(entered?.minutes), undefined, minutes(task))} by{" "}
      <People key={list} plan={plan} task={task} />.{" "}
      {task.kind === "own" ? (
        <Button onClick={() => plan.change({ work: { [task.key]: null } }, "Task taken out")}>Take it out</Button>
      ) : (
        <Button onClick={() => plan.change({ work: { [task.key]: { left_out: true } } }, "Task left out")}>
          Leave it out here
        </Button>
      )}
    </p>
  );
}

function People({ plan, task }: { plan: PlanHandle; task: Task }) {
  const put = (people: readonly string[]) =>
    plan.change({ work: { [task.key]: { people: [...people] } } }, `People of ${task.text}`);
  return (
    <>
      {task.people.map((skill, index) => (
        <select
          key={index}
          aria-label={`Hand ${String(index + 1)}`}
          className="mr-2 min-h-11 border-b-2 border-ink/50 bg-sheet px-1 font-semibold"
          value={skill}
          onChange={(event) =>
            put(
              event.target.value === ""
                ? task.people.filter((_, other) => other !== index)
                : task.people.map((one, other) => (other === index ? event.target.value : one)),
            )
          }
        >
          {SKILLS.map((one) => (
            <option key={one}>{one}</option>
          ))}
          {task.people.length > 1 && <option value="">nobody</option>}
        </select>
      ))}
      {task.people.length < 6 && <Button onClick={() => put([...task.people, "apprentice"])}>One hand more</Button>}
    </>
  );
}

function Took({ onTook }: { onTook: (minutes: number) => void }) {
  const [typed, setTyped] = useState("");
  const taken = Number(typed.replace(",", "."));
  return (
    <form
      className="mt-1 flex flex-wrap items-center gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        if (taken > 0) onTook(taken);
        setTyped("");
      }}
    >
      It took
      <input
        inputMode="decimal"
        aria-label="Minutes that it took"
        className="min-h-11 w-20 border-b-2 border-ink/50 bg-sheet px-2 text-right"
        value={typed}
        onChange={(event) => setTyped(event.target.value)}
      />
      min
      <Button type="submit" disabled={!(taken > 0 && taken <= 6000)}>
        Correct it
      </Button>
    </form>
  );
}

/** A task that no step asks for, as a crane's hour. */
function Own({ plan, taken }: { plan: PlanHandle; taken: readonly string[] }) {
  const [typed, setTyped] = useState("");
  return (
    <form
      className="mt-4 flex flex-wrap items-center gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        const text = typed.trim();
        if (!text) return;
        let number = 1;
        while (taken.includes(`own-${String(number)}`)) number += 1;
        plan.change({ work: { [`own-${String(number)}`]: { text } } }, `Task ${text}`);
        setTyped("");
      }}
    >
      <input
        aria-label="A task of its own"
        placeholder="Something else to do, as the hour of a crane"
        maxLength={200}
        className="min-h-11 grow border-b-2 border-ink/50 bg-sheet px-2"
        value={typed}
        onChange={(event) => setTyped(event.target.value)}
      />
      <Button type="submit">Add it</Button>
    </form>
  );
}
