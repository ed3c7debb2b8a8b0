/** A load of a start in sentences: its leg, its call, how its unit comes up, what helps it. */
import { Link } from "react-router";

import type { SupplyAt } from "../../api/client";
import { say } from "../../drawing/parts";
import type { PlanHandle } from "../../plan/usePlan";
import { Choice } from "../../ui/Edit";
import { fields, Sentence } from "../../ui/fields";
import { Button } from "../../ui/parts";
import { callOf, keyOf, takenOut } from "./feeds";

interface Props {
  plan: PlanHandle;
  at: SupplyAt;
  load: SupplyAt["loads"][number];
  readOnly: boolean;
  onClose: () => void;
}

const LEGS = [
  { value: 1, label: "leg 1" },
  { value: 2, label: "leg 2" },
  { value: "both", label: "between the legs" },
];
const AIDS = [
  { value: "none", label: "no start aid" },
  { value: "hard_start", label: "a hard-start kit" },
  { value: "soft_starter", label: "a soft starter" },
];

// The figures of one kind of aid say nothing of another.
const NO_FIGURES = { start_s: null, peak_a: null, ramp_s: null, lockout_s: null, power_factor: null };

export function PlannedLoad({ plan, at, load, readOnly, onClose }: Props) {
  const document = plan.document;
  const call = document?.sources?.[at.source]?.calls?.[keyOf(at, load.id)];
  const f = fields(plan, load.about, readOnly);
  const c = fields(plan, `sources/${at.source}/calls/${keyOf(at, load.id)}`, readOnly);
  const mine = load.about.startsWith("circuits/");
  const circuit = document?.circuits?.[load.id];
  const entry = mine ? undefined : document?.sources?.[load.about.split("/")[1] ?? ""]?.existing?.[keyOf(at, load.id)];
  return (
    <section aria-label={`Load ${load.name}`}>
      <div className="flex items-center justify-between">
        <h2 className="text-xl font-bold">
          {load.id} {load.name !== load.id && <span className="font-normal text-soft">{load.name}</span>}
        </h2>
        <Button onClick={onClose}>Done</Button>
      </div>
      <Sentence>
        {at.legs.length > 1 && (
          <>
            On {f.choice("leg", "Leg", mine ? circuit?.leg : entry?.leg, LEGS, "a leg nobody has said: leg 1 taken")}
            .{" "}
          </>
        )}
        {load.called ? (
          <>Called {c.number("at_s", "Called at", call?.at_s ?? 0, "s in")}. </>
        ) : (
          "Left off in this start. "
        )}
        {!readOnly && (
          <button
            type="button"
            className="min-h-11 underline decoration-faint underline-offset-4 hover:decoration-copper"
            onClick={() => plan.change(callOf(at, load.id, load.called ? null : 0), `${load.name} in the start`)}
          >
            {load.called ? "Leave it off" : "Call it with the first"}
          </button>
        )}
        {!mine && !readOnly && (
          <>
            {" "}
            <button
              type="button"
              className="min-h-11 underline decoration-faint underline-offset-4 hover:decoration-copper"
              onClick={() => {
                onClose();
                plan.change(takenOut(load.about), `Take ${load.name} out`);
              }}
            >
              Take it out
            </button>
            .
          </>
        )}
        {!mine && <> It takes {f.number("existing_a", "Its current", entry?.existing_a, "A", "amps?")} all the time.</>}
      </Sentence>
      {mine && circuit?.equipment && (
        <HowItStarts plan={plan} unit={circuit.equipment} line={load.id} load={load} readOnly={readOnly} />
      )}
    </section>
  );
}

interface StartsProps {
  plan: PlanHandle;
  unit: string;
  line: string;
  load: SupplyAt["loads"][number];
  readOnly: boolean;
}

function HowItStarts({ plan, unit, line, load, readOnly }: StartsProps) {
  const found = plan.document?.equipment?.[unit];
  const plate = found?.nameplate;
  const base = `equipment/${unit}/start`;
  const f = fields(plan, base, readOnly);
  const a = fields(plan, `${base}/aid`, readOnly);
  const start = found?.start;
  const compressors = plate?.compressors ?? [];
  const fans = plate?.motors ?? [];
  if (!compressors.length && !fans.length)
    return <p className="text-soft">No motor stands on its plate: it is counted as a steady load.</p>;
  const locked = compressors.map(({ lra_a }) => lra_a);
  const drawn = load.aid === "drawn" || load.aid === "not_landed";
  return (
    <Sentence>
      {fans.length > 0 && (
        <>
          Its fan takes {f.figure("fan_inrush_a", "Inrush of the fan", start?.fan_inrush_a, "A", "amps?")} for{" "}
          {f.figure("fan_inrush_s", "How long the fan's inrush takes", start?.fan_inrush_s, "s", "how long?")} while it
          comes up.{" "}
        </>
      )}
      {compressors.length > 0 && (
        <>
          Its compressor comes{" "}
          {f.figure("compressor_after_s", "Compressor after", start?.compressor_after_s, "s", "at once,")} after the
          call, draws{" "}
          {locked.every((amps) => amps != null) ? (
            <Link
              className="underline decoration-faint underline-offset-4"
              to={`../lines?unit=${unit}`}
              relative="path"
            >
              {say(
                locked.reduce((sum, amps) => sum + amps, 0),
                "A",
              )}{" "}
              by its plate
            </Link>
          ) : (
            f.figure("locked_rotor_a", "Locked rotor", start?.locked_rotor_a, "A", "amps?")
          )}{" "}
          while locked
          {start?.aid?.kind !== "soft_starter" && (
            <>, comes up in {f.figure("start_s", "How long the start takes", start?.start_s, "s", "how long?")}</>
          )}
          ; power factor {f.figure("power_factor", "Power factor running", start?.power_factor, undefined, "?")}. It has{" "}
          {drawn ? (
            <b className="text-ink">
              {load.aid_device}
              {load.aid === "not_landed" && ", not landed on all of its leads: it does not count"}
            </b>
          ) : (
            <Choice
              label="Start aid"
              path={`${base}/aid/kind`}
              error={plan.errors[`${base}/aid/kind`]}
              readOnly={readOnly}
              value={start?.aid?.kind ?? "none"}
              options={AIDS}
              onCommit={(kind) =>
                plan.change({ equipment: { [unit]: { start: { aid: { ...NO_FIGURES, kind } } } } }, "Start aid")
              }
            />
          )}
          {start?.aid?.kind === "soft_starter" && (
            <>
              , at most {a.figure("peak_a", "Peak of the soft starter", start.aid.peak_a, "A", "amps?")} for{" "}
              {a.figure("ramp_s", "Ramp of the soft starter", start.aid.ramp_s, "s", "how long?")}, locked out for{" "}
              {a.figure("lockout_s", "Lock-out of the soft starter", start.aid.lockout_s, "s", "not known")}
            </>
          )}
          {start?.aid?.kind === "hard_start" && (
            <>, up in {a.figure("start_s", "Start with the kit", start.aid.start_s, "s", "how long?")}</>
          )}
          .{" "}
          <Link className="underline decoration-faint underline-offset-4" to={`../lines?line=${line}`} relative="path">
            Its line
          </Link>
        </>
      )}
    </Sentence>
  );
}
