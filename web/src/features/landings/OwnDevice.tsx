/** A device that no catalogue has: its strips as they are printed, what is inside, and the proof by solving it. */
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { type ReactNode, useDeferredValue, useState } from "react";

import { api, data, type Proof } from "../../api/client";
import vocabulary from "../../api/vocabulary.json";
import type { PlanHandle } from "../../plan/usePlan";
import { Button, Mark } from "../../ui/parts";
import {
  deviceOf,
  type Draft,
  EMPTY,
  inWords,
  ENDS_SAY,
  FIGURES_OF,
  INNER,
  labelsOf,
  newPart,
  newStrip,
  type PartDraft,
  partIds,
  PARTS,
  type TerminalDraft,
  terminalsOf,
  unfinished,
} from "./ownDevice";

interface Props {
  plan: PlanHandle;
  onPlaced: (id: string) => void;
  onClose: () => void;
}

const GAUGES = vocabulary.gauges.map((value) => ({ value, label: value }));
const field = "min-h-11 border-b-2 border-ink/50 bg-sheet px-2";
export function OwnDevice({ plan, onPlaced, onClose }: Props) {
  const [draft, setDraft] = useState<Draft>(EMPTY);
  const terminals = terminalsOf(draft);
  const device = useDeferredValue(JSON.stringify(deviceOf(draft)));
  const proof = useQuery({
    queryKey: ["own-device", device],
    enabled: terminals.length > 0,
    queryFn: async () =>
      data(await api.POST("/api/devices/proofs", { body: JSON.parse(device) as Record<string, unknown> })),
    placeholderData: keepPreviousData,
    staleTime: Infinity,
    retry: false,
  });
  const change = (part: Partial<Draft>) => setDraft((before) => ({ ...before, ...part }));
  const strip = (index: number, part: Partial<Draft["strips"][number]>) =>
    change({ strips: draft.strips.map((entry, at) => (at === index ? { ...entry, ...part } : entry)) });
  const open = unfinished(draft.parts);
  const ready = open.length === 0 && proof.isSuccess && !proof.isPlaceholderData && draft.name.trim() !== "";
  const put = () => {
    const kind = deviceOf(draft);
    const devices = plan.document?.devices;
    const id = free(String(kind["id"]), { ...devices, ...plan.document?.device_types });
    const key = free(id.slice(0, 20).toUpperCase(), devices);
    const own = { ...kind, id };
    plan.change(
      { device_types: { [id]: own }, devices: { [key]: { type: id, name: draft.name.trim() } } },
      `Describe ${draft.name.trim()}`,
    );
    onPlaced(key);
  };
  return (
    <section aria-label="A device of your own" className="w-full">
      <div className="flex items-center justify-between">
        <h2 className="text-2xl font-bold">A device of your own</h2>
        <Button onClick={onClose}>Close</Button>
      </div>
      <p className="mt-1 max-w-2xl text-soft">
        Write its strips as they are printed, and what is inside as far as you know it. Leitung solves it at once: fed,
        each call made, and says what it does.
      </p>
      <div className="mt-4 flex flex-wrap items-baseline gap-x-2 gap-y-2 text-lg">
        It is a{" "}
        <Words label="Name of the new device" value={draft.name} width="w-64" onChange={(name) => change({ name })} />
        by <Words label="Maker" value={draft.maker} width="w-40" onChange={(maker) => change({ maker })} />
        <Words label="Model" value={draft.model} width="w-32" onChange={(model) => change({ model })} />, of the group{" "}
        <Choice
          label="Group"
          value={draft.group}
          options={vocabulary.device_groups.map((value) => ({ value, label: value }))}
          onChange={(group) => change({ group })}
        />
      </div>
      {draft.strips.map((entry, index) => (
        <div key={index} className="mt-5">
          <div className="flex flex-wrap items-baseline gap-2">
            <Words
              label={`Name of strip ${index + 1}`}
              value={entry.name}
              width="w-36"
              onChange={(name) => strip(index, { name })}
            />
            reads, left to right:
            <Words
              label={`Terminals of strip ${index + 1}`}
              value={entry.labels}
              width="w-72"
              placeholder="R C W1 Y1 G"
              onChange={(labels) => strip(index, { labels })}
            />
            {labelsOf(entry).length > 0 && (
              <>
                takes
                <Choice
                  label={`Thinnest conductor of strip ${index + 1}`}
                  value={entry.thinnest}
                  none="any"
                  options={GAUGES}
                  onChange={(thinnest) => strip(index, { thinnest })}
                />
                to
                <Choice
                  label={`Thickest conductor of strip ${index + 1}`}
                  value={entry.thickest}
                  none="any"
                  options={GAUGES}
                  onChange={(thickest) => strip(index, { thickest })}
                />
                AWG, turned to
                <Words
                  label={`Torque of strip ${index + 1}, in-lb`}
                  value={entry.torque}
                  width="w-16"
                  placeholder="?"
                  onChange={(torque) => strip(index, { torque })}
                />
                in-lb
              </>
            )}
            {draft.strips.length > 1 && (
              <Button onClick={() => change({ strips: draft.strips.filter((_, at) => at !== index) })}>
                Take it out
              </Button>
            )}
          </div>
          <Strip
            terminals={terminals.filter(({ ref }) => ref.startsWith(`s${index + 1}.`))}
            onMeaning={(ref, meaning) => change({ functions: { ...draft.functions, [ref]: meaning } })}
          />
        </div>
      ))}
      <Button
        className="mt-3"
        onClick={() => change({ strips: [...draft.strips, newStrip(`strip ${draft.strips.length + 1}`)] })}
      >
        Another strip
      </Button>
      <Inside draft={draft} terminals={terminals} onChange={(parts) => change({ parts })} />
      {terminals.length > 0 && (
        <Proved proof={proof.data} problem={proof.error && inWords(proof.error.message, draft.parts)} />
      )}
      <div className="mt-5 flex flex-wrap items-center gap-3 border-t border-rule pt-4">
        <Button kind="main" disabled={!ready} onClick={put}>
          Put it in
        </Button>
        {!ready && (
          <span className="text-soft">
            {terminals.length === 0
              ? "Its terminals first."
              : draft.name.trim() === ""
                ? "It needs a name."
                : open.length > 0
                  ? `Choose where ${open.join(", ")} lies.`
                  : "What does not fit stands above."}
          </span>
        )}
      </div>
    </section>
  );
}

/** An id as it is, or the first with a number behind it that is free. */
function free(id: string, taken: object = {}): string {
  if (!(id in taken)) return id;
  let number = 2;
  while (`${id}-${number}` in taken) number += 1;
  return `${id}-${number}`;
}

/** The strip as it will be drawn; under each label what it is for. */
function Strip({
  terminals,
  onMeaning,
}: {
  terminals: readonly TerminalDraft[];
  onMeaning: (ref: string, meaning: string) => void;
}) {
  if (!terminals.length) return null;
  return (
    <ul className="mt-2 flex flex-wrap gap-y-2" aria-label="Terminals as they are seen">
      {terminals.map((terminal, index) => (
        <li key={`${terminal.ref} ${index}`} className="w-32 border-2 border-ink bg-sheet px-1 pb-1 not-first:-ml-0.5">
          <b className="block text-center text-lg leading-tight">{terminal.label}</b>
          <select
            aria-label={`${terminal.label} is for`}
            className="min-h-9 w-full bg-sheet text-center text-sm text-soft"
            value={terminal.function}
            onChange={(event) => onMeaning(terminal.ref, event.target.value)}
          >
            <option value="">a bare end</option>
            {vocabulary.functions.map(({ value, label }) => (
              <option key={value} value={value}>
                {label}
              </option>
            ))}
          </select>
        </li>
      ))}
    </ul>
  );
}

function Inside({
  draft,
  terminals,
  onChange,
}: {
  draft: Draft;
  terminals: readonly TerminalDraft[];
  onChange: (parts: PartDraft[]) => void;
}) {
  const ids = partIds(draft.parts);
  const ends = [
    ...terminals.map(({ ref, label }) => ({ value: ref, label })),
    ...INNER.map((value) => ({ value, label: `inside ${value.slice(1)}` })),
  ];
  const movers = draft.parts.flatMap((part, index) =>
    part.type === "coil" ? [{ value: `coil:${ids[index]}`, label: part.name || `coil ${ids[index]}` }] : [],
  );
  const set = (index: number, part: Partial<PartDraft>) =>
    onChange(draft.parts.map((entry, at) => (at === index ? { ...entry, ...part } : entry)));
  return (
    <div className="mt-6">
      <h3 className="border-t-2 border-ink pt-3 font-bold">Inside</h3>
      <ul>
        {draft.parts.map((part, index) => {
          const id = ids[index] ?? "";
          return (
            <li key={id} className="flex flex-wrap items-baseline gap-2 border-b border-rule py-2">
              <b className="w-10">{id}</b>
              {part.type}
              {(part.type === "coil" || part.type === "load") && (
                <Words
                  label={`Name of ${id}`}
                  placeholder="name"
                  value={part.name}
                  width="w-40"
                  onChange={(name) => set(index, { name })}
                />
              )}
              {ENDS_SAY[part.type].map((says, at) => (
                <span key={at} className="flex items-baseline gap-2">
                  {says}
                  <Choice
                    label={`${id} ${says} ${at + 1}`}
                    value={part.ends[at] ?? ""}
                    none="which?"
                    options={ends}
                    onChange={(ref) => set(index, { ends: part.ends.map((old, place) => (place === at ? ref : old)) })}
                  />
                </span>
              ))}
              {FIGURES_OF[part.type].map(([key, unit]) => (
                <span key={key} className="flex items-baseline gap-1">
                  <Words
                    label={`${id} ${unit}`}
                    value={part.figures[key] ?? ""}
                    width="w-20"
                    onChange={(value) => set(index, { figures: { ...part.figures, [key]: value } })}
                  />
                  {unit}
                </span>
              ))}
              {part.type === "contact" && (
                <Choice
                  label={`${id} is moved by`}
                  value={part.by}
                  none="moved by nothing"
                  options={[...movers, ...vocabulary.signals].flatMap(({ value, label }) => [
                    { value, label: `closes: ${label}` },
                    { value: `!${value}`, label: `opens: ${label}` },
                  ])}
                  onChange={(by) => set(index, { by })}
                />
              )}
              {part.type === "load" && (
                <Choice
                  label={`${id} does`}
                  value={part.by}
                  none="no effect of its own"
                  options={vocabulary.effects.map((value) => ({ value, label: value }))}
                  onChange={(by) => set(index, { by })}
                />
              )}
              <Button className="ml-auto" onClick={() => onChange(draft.parts.filter((_, at) => at !== index))}>
                Take it out
              </Button>
            </li>
          );
        })}
      </ul>
      <p className="mt-3 flex flex-wrap items-center gap-2">
        {PARTS.map((type) => (
          <Button key={type} onClick={() => onChange([...draft.parts, newPart(type)])}>
            {`+ ${type}`}
          </Button>
        ))}
        {draft.strips.every((strip) => labelsOf(strip).length === 0) && (
          <span className="text-soft">Its terminals first: parts lie between them.</span>
        )}
      </p>
    </div>
  );
}

/** What it does, trial by trial; or what does not fit yet. */
function Proved({ proof, problem }: { proof: Proof | undefined; problem: string | null }) {
  return (
    <section aria-label="Solved alone" className="mt-6" aria-live="polite">
      <h3 className="border-t-2 border-ink pt-3 font-bold">What it does, solved alone</h3>
      {problem ? (
        <p className="mt-2 flex max-w-3xl gap-2 font-semibold text-stop">
          <Mark severity="stop" /> {problem}
        </p>
      ) : proof ? (
        <>
          <p className="text-soft">{proof.fed}</p>
          <ul>
            {proof.trials.map((trial) => (
              <li key={trial.says} className="grid gap-x-4 border-b border-rule py-2 md:grid-cols-[18rem_1fr]">
                <b>{trial.says}</b>
                <div>
                  {trial.does}
                  {trial.against.map((words) => (
                    <p key={words} className="flex gap-2 font-semibold text-warning">
                      <Mark severity="warning" /> {words}
                    </p>
                  ))}
                </div>
              </li>
            ))}
          </ul>
          {proof.never.length > 0 && (
            <p className="mt-2 text-soft">Moved by none of these: {proof.never.join(", ")}.</p>
          )}
        </>
      ) : (
        <p className="text-soft">Solving …</p>
      )}
    </section>
  );
}

function Words({
  label,
  value,
  width,
  placeholder,
  onChange,
}: {
  label: string;
  value: string;
  width: string;
  placeholder?: string;
  onChange: (value: string) => void;
}) {
  return (
    <input
      aria-label={label}
      className={`${field} ${width}`}
      value={value}
      placeholder={placeholder ?? label.toLowerCase()}
      onChange={(event) => onChange(event.target.value)}
    />
  );
}

function Choice({
  label,
  value,
  options,
  none,
  onChange,
}: {
  label: string;
  value: string;
  options: readonly { value: string; label: string }[];
  none?: string;
  onChange: (value: string) => void;
}): ReactNode {
  return (
    <select
      aria-label={label}
      className={`${field} max-w-64`}
      value={value}
      onChange={(event) => onChange(event.target.value)}
    >
      {none !== undefined && <option value="">{none}</option>}
      {options.map((option) => (
        <option key={option.value} value={option.value}>
          {option.label}
        </option>
      ))}
    </select>
  );
}
