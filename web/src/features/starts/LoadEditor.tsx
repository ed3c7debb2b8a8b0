/** One load of a trial in sentences: its leg, its call, what its parts take, what helps it up. */
import { Button } from "../../ui/parts";
import { FigureField, Pick } from "./Figures";
import { type Aid, type Figure, moved, type Trial, type TrialLoad } from "../../plan/trial";

interface Props {
  trial: Trial;
  load: TrialLoad;
  onChange: (trial: Trial) => void;
  onClose: () => void;
}

const AIDS = [
  { value: "none", label: "no start aid" },
  { value: "hard_start", label: "a hard-start kit" },
  { value: "soft_starter", label: "a soft starter" },
] as const;
const ONE = [{ value: 1, label: "leg 1" }] as const;
const BOTH = [...ONE, { value: 2, label: "leg 2" }, { value: "both", label: "between the legs" }] as const;
const CALLED = [
  { value: "called", label: "called" },
  { value: "off", label: "left off" },
] as const;

export function LoadEditor({ trial, load, onChange, onClose }: Props) {
  const call = trial.calls.find((entry) => entry.load === load.id);
  const set = (change: Partial<TrialLoad>) =>
    onChange({ ...trial, loads: trial.loads.map((entry) => (entry.id === load.id ? { ...entry, ...change } : entry)) });
  const { fan, compressor } = load;
  const aid: Aid = load.aid ?? { kind: "none" };
  const known = (figure: Figure) => (typeof figure === "number" ? figure : 0);
  return (
    <section aria-label={`Load ${load.id}`}>
      <div className="flex items-center justify-between">
        <h2 className="text-xl font-bold">{load.id}</h2>
        <Button onClick={onClose}>Done</Button>
      </div>
      <p className="flex flex-wrap items-baseline gap-x-2">
        On{" "}
        <Pick
          label="Leg"
          value={load.leg}
          options={trial.supply.legs === 2 ? BOTH : ONE}
          onCommit={(leg) => set({ leg })}
        />
        ,
        <Pick
          label="Called"
          value={call ? "called" : "off"}
          options={CALLED}
          onCommit={(value) =>
            onChange({
              ...trial,
              calls:
                value === "called"
                  ? [...trial.calls, { at_s: 0, load: load.id }]
                  : trial.calls.filter((entry) => entry.load !== load.id),
            })
          }
        />
        {call && (
          <FigureField
            label="Called at"
            value={call.at_s}
            unit="s in"
            onCommit={(at) => onChange(moved(trial, load.id, known(at)))}
          />
        )}
      </p>
      {(load.steady_a !== undefined || (!fan && !compressor)) && (
        <p>
          <FigureField
            label="Steady current"
            value={load.steady_a}
            unit="A all the time"
            onCommit={(steady_a) => set({ steady_a })}
          />
        </p>
      )}
      {fan && (
        <p className="flex flex-wrap items-baseline gap-x-2">
          Fan
          <FigureField
            label="Fan running"
            value={fan.running_a}
            unit="A,"
            onCommit={(value) => set({ fan: { ...fan, running_a: value } })}
          />
          <FigureField
            label="Fan inrush"
            value={fan.inrush_a}
            unit="A for"
            onCommit={(value) => set({ fan: { ...fan, inrush_a: value } })}
          />
          <FigureField
            label="Fan inrush lasts"
            value={fan.inrush_s}
            unit="s"
            onCommit={(value) => set({ fan: { ...fan, inrush_s: value } })}
          />
        </p>
      )}
      {compressor && (
        <>
          <p className="flex flex-wrap items-baseline gap-x-2">
            Compressor
            <FigureField
              label="Compressor running"
              value={compressor.running_a}
              unit="A,"
              onCommit={(value) => set({ compressor: { ...compressor, running_a: value } })}
            />
            <FigureField
              label="Locked rotor"
              value={compressor.locked_rotor_a}
              unit="A locked for"
              onCommit={(value) => set({ compressor: { ...compressor, locked_rotor_a: value } })}
            />
            <FigureField
              label="Start lasts"
              value={compressor.start_s}
              unit="s,"
              onCommit={(value) => set({ compressor: { ...compressor, start_s: value } })}
            />
            <FigureField
              label="Compressor after"
              value={load.compressor_after_s}
              unit="s after the call"
              onCommit={(compressor_after_s) => set({ compressor_after_s })}
            />
          </p>
          <p className="flex flex-wrap items-baseline gap-x-2">
            With <Pick label="Start aid" value={aid.kind} options={AIDS} onCommit={(kind) => set({ aid: { kind } })} />
            {aid.kind === "hard_start" && (
              <FigureField
                label="Start lasts with it"
                value={aid.start_s}
                unit="s to start"
                onCommit={(start_s) => set({ aid: { ...aid, start_s } })}
              />
            )}
            {aid.kind === "soft_starter" && (
              <>
                <FigureField
                  label="Peak of the soft starter"
                  value={aid.peak_a}
                  unit="A for"
                  onCommit={(peak_a) => set({ aid: { ...aid, peak_a } })}
                />
                <FigureField
                  label="Ramp of the soft starter"
                  value={aid.ramp_s}
                  unit="s"
                  onCommit={(ramp_s) => set({ aid: { ...aid, ramp_s } })}
                />
              </>
            )}
          </p>
        </>
      )}
      <Button
        className="mt-2"
        onClick={() => {
          onClose();
          onChange({
            ...trial,
            loads: trial.loads.filter((entry) => entry.id !== load.id),
            calls: trial.calls.filter((entry) => entry.load !== load.id),
          });
        }}
      >
        Take {load.id} out
      </Button>
    </section>
  );
}
