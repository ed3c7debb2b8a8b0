/** A source in sentences: what its plate says, how the lines come over to it, what hangs on it already. */
import type { Patch, SupplyAt } from "../../api/client";
import type { PlanHandle } from "../../plan/usePlan";
import { fields, Sentence, yesNo } from "../../ui/fields";
import { Button } from "../../ui/parts";
import { Choice } from "../../ui/Edit";
import { keyOf, thereAlready } from "./feeds";

interface Props {
  plan: PlanHandle;
  at: SupplyAt;
  readOnly: boolean;
  onSelect: (load: string) => void;
}

const OVER_BY = [
  { value: "cord", label: "its cord moved" },
  { value: "transfer_switch", label: "a transfer switch" },
];
const LEGS = [
  { value: 1, label: "one hot leg" },
  { value: 2, label: "two hot legs" },
];

export function PlannedSource({ plan, at, readOnly, onSelect }: Props) {
  const source = plan.document?.sources?.[at.source];
  if (!source) return null;
  const f = fields(plan, `sources/${at.source}`, readOnly);
  const base = plan.document?.sources?.[at.base];
  const rating = source.main_a == null && source.kind === "pedestal" ? "bus_a" : "main_a";
  const there = at.loads.filter(({ about }) => about.startsWith("sources/"));
  const toGround = source.volts_to_ground;
  const legs = source.volts && toGround ? (source.volts > toGround ? 2 : 1) : null;
  return (
    <section aria-label={at.name}>
      <h2 className="text-xl font-bold">{at.name}</h2>
      <Sentence>
        {f.text("name", "Name of the source", source.name)}
        {source.in_place_of && (
          <>
            , in place of {base?.name ?? at.base} by{" "}
            {f.choice("over_by", "Brought over by", source.over_by, OVER_BY, "what?")}
          </>
        )}
        . {f.number("volts_to_ground", "Volts of a leg", toGround, "V", "volts?")} a leg,{" "}
        <select
          aria-label="Legs of the source"
          className="min-h-7 border-b-2 border-ink/50 bg-transparent font-semibold text-ink max-md:min-h-11"
          disabled={readOnly || !toGround}
          value={legs ?? ""}
          onChange={(event) =>
            plan.change(
              { sources: { [at.source]: { volts: (toGround ?? 0) * Number(event.target.value), phase: 1 } } },
              "Legs of the source",
            )
          }
        >
          {legs === null && <option value="">legs?</option>}
          {LEGS.map(({ value, label }) => (
            <option key={value} value={value}>
              {label}
            </option>
          ))}
        </select>
        . Breaker {f.number(rating, "Breaker of the source", source[rating], "A", "none")} a leg
        {source.instant_x != null && (
          <>, its magnetic trip at {f.figure("instant_x", "Magnetic trip", source.instant_x, "times")}</>
        )}
        . {f.figure("ohms", "Ohms up to its lines", source.ohms, "Ω", "ohms?")} there and back up to its lines.
        {(source.kind === "generator" || source.kind === "inverter") && (
          <>
            {" "}
            {f.choice(
              "starts_itself",
              "Whether it starts by itself",
              source.starts_itself,
              yesNo("It can start by itself", "It does not start by itself"),
              "does it start by itself?",
            )}
            .
          </>
        )}
      </Sentence>
      {source.kind === "generator" && <Generator plan={plan} at={at} readOnly={readOnly} />}
      {source.kind === "inverter" && <Inverter plan={plan} at={at} readOnly={readOnly} />}
      <Managed plan={plan} at={at} readOnly={readOnly} />
      <h3 className="mt-3 font-bold">There already</h3>
      {there.length === 0 && <p className="text-soft">Nothing that anybody has counted: a microwave, a converter?</p>}
      <ul>
        {there.map(({ id, about }) => {
          const path = about.split("/");
          const entry = plan.document?.sources?.[path[1] ?? ""]?.existing?.[path[3] ?? ""];
          const g = fields(plan, about, readOnly);
          return (
            <li key={id} className="border-t border-rule first:border-0">
              <Sentence>
                {g.text("name", `Name of ${id}`, entry?.name)},{" "}
                {g.number("existing_a", `Current of ${id}`, entry?.existing_a, "A", "amps?")}, on{" "}
                {g.choice("often", `How often ${id} is on`, entry?.often, OFTEN, "how often?")};{" "}
                <button type="button" className="min-h-11 underline" onClick={() => onSelect(id)}>
                  its call
                </button>
                .
              </Sentence>
            </li>
          );
        })}
      </ul>
      {!readOnly && plan.document && (
        <Button
          className="mt-1"
          onClick={() => {
            if (plan.document) plan.change(thereAlready(plan.document, at.base).patch, "Add what is there already");
          }}
        >
          Add what is there already
        </Button>
      )}
      {!readOnly && source.in_place_of && (
        <Button
          className="mt-1 ml-3"
          onClick={() => plan.change({ sources: { [at.source]: null } }, `Take ${at.name} out`)}
        >
          Take {at.name} out
        </Button>
      )}
    </section>
  );
}

const OFTEN = [
  { value: "always", label: "always" },
  { value: "often", label: "often" },
  { value: "seldom", label: "seldom" },
];

interface PartProps {
  plan: PlanHandle;
  at: SupplyAt;
  readOnly: boolean;
}

const MANAGERS = [
  { value: "none", label: "nothing" },
  { value: "sheds", label: "a device that sheds" },
  { value: "alternates", label: "a device that lets one on at a time" },
];

/** The device between a source and its loads: what it does, with which of them, by what it measures. */
function Managed({ plan, at, readOnly }: PartProps) {
  const path = `sources/${at.source}/manager`;
  const manager = plan.document?.sources?.[at.source]?.manager;
  const f = fields(plan, path, readOnly);
  const keys = at.loads.map((load) => ({
    key: keyOf(at, load.id),
    name: load.name,
    mine: load.about.startsWith("sources/"),
  }));
  const set = (change: Patch | null, label: string) =>
    plan.change({ sources: { [at.source]: { manager: change } } }, label);
  if (!keys.length) return null;
  function choose(kind: unknown) {
    const usual = keys.filter(({ mine }) => mine === (kind === "sheds")).map(({ key }) => key);
    const loads = manager?.loads ?? (usual.length ? usual : keys.map(({ key }) => key));
    set(kind === "none" ? null : { kind: kind as string, loads }, "Device between it and its loads");
  }
  function toggle(key: string) {
    if (!manager) return;
    const loads = manager.loads.includes(key) ? manager.loads.filter((one) => one !== key) : [...manager.loads, key];
    if (loads.length) set({ loads }, "Loads of the device");
  }
  return (
    <Sentence>
      Between it and its loads:{" "}
      <Choice
        label="Device between it and its loads"
        path={`${path}/kind`}
        error={plan.errors[`${path}/kind`]}
        readOnly={readOnly}
        value={manager?.kind ?? "none"}
        options={MANAGERS}
        onCommit={choose}
      />
      {manager && (
        <>
          {" "}
          {keys.map(({ key, name }) => (
            <label key={key} className="mr-3 inline-flex min-h-11 items-center gap-2">
              <input
                type="checkbox"
                className="size-5 accent-copper"
                disabled={readOnly}
                checked={manager.loads.includes(key)}
                onChange={() => toggle(key)}
              />
              {name}
            </label>
          ))}
          {manager.kind === "sheds" && (
            <>
              above {f.figure("above_a", "Sheds above", manager.above_a, "A", "amps?")} on a leg for{" "}
              {f.figure("after_s", "Sheds after", manager.after_s, "s", "how long?")}
            </>
          )}
        </>
      )}
      .
    </Sentence>
  );
}

function Generator({ plan, at, readOnly }: PartProps) {
  const found = plan.document?.sources?.[at.source]?.generator;
  const f = fields(plan, `sources/${at.source}/generator`, readOnly);
  return (
    <Sentence>
      Gives {f.figure("running_w", "Watts running", found?.running_w, "W", "watts?")} for ever,{" "}
      {f.figure("surge_w", "Watts for a start", found?.surge_w, "W", "watts?")} for{" "}
      {f.figure("surge_s", "Seconds of the surge", found?.surge_s, "s", "how long?")}, power factor{" "}
      {f.figure("power_factor", "Power factor", found?.power_factor, undefined, "?")}
      {found?.max_a != null && <>, at most {f.figure("max_a", "Amperes of the alternator", found.max_a, "A")}</>}.
      Economy {f.choice("economy", "Economy", found?.economy, yesNo("on: it idles down", "off"), "on or off?")}.
    </Sentence>
  );
}

function Inverter({ plan, at, readOnly }: PartProps) {
  const found = plan.document?.sources?.[at.source]?.inverter;
  const f = fields(plan, `sources/${at.source}/inverter`, readOnly);
  const b = fields(plan, `sources/${at.source}/inverter/battery`, readOnly);
  const battery = found?.battery;
  return (
    <Sentence>
      Gives {f.figure("running_w", "Watts running", found?.running_w, "W", "watts?")} for ever,{" "}
      {f.figure("surge_w", "Watts for a start", found?.surge_w, "W", "watts?")} for{" "}
      {f.figure("surge_s", "Seconds of the surge", found?.surge_s, "s", "how long?")}; efficiency{" "}
      {f.figure("efficiency", "Efficiency", found?.efficiency, undefined, "?")}, idle{" "}
      {f.figure("idle_w", "Idle watts", found?.idle_w, "W", "watts?")}. Its battery stands at{" "}
      {b.figure("full_v", "Volts of the full battery", battery?.full_v, "V", "volts?")} when full, has{" "}
      {b.figure("ohms", "Ohms of the battery", battery?.ohms, "Ω", "ohms?")} and{" "}
      {b.figure("energy_wh", "Energy of the battery", battery?.energy_wh, "Wh", "how much?")}, of which{" "}
      {b.figure("usable", "Usable share", battery?.usable, undefined, "how much?")} can be used; the inverter shuts off
      at {b.figure("cutoff_v", "Cut-off volts", battery?.cutoff_v, "V", "volts?")}.
    </Sentence>
  );
}
