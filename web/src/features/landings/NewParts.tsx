/** A new cable between two devices, and a new device of the catalogue. */
import { type ReactNode, useState } from "react";

import type { PlanHandle } from "../../plan/usePlan";
import { Button } from "../../ui/parts";
import { drawCable, nextDeviceId } from "./edits";
import { useChoices } from "./useChoices";

interface Props {
  plan: PlanHandle;
  onDrawn: (id: string) => void;
}

const select = "min-h-11 max-w-56 border-2 border-ink/50 bg-sheet px-2";

export function NewCable({ plan, onDrawn }: Props) {
  const { cables } = useChoices();
  const [open, setOpen] = useState(false);
  const [a, setA] = useState("");
  const [b, setB] = useState("");
  const [familyId, setFamily] = useState("thermostat");
  const [awg, setAwg] = useState("18");
  const [count, setCount] = useState(5);
  const devices = Object.entries(plan.document?.devices ?? {});
  const family = cables.find((entry) => entry.id === familyId);
  if (!open)
    return (
      <Button kind="main" onClick={() => setOpen(true)}>
        Draw a cable
      </Button>
    );
  const pick = (value: string, set: (id: string) => void, other: string, label: string) => (
    <select className={select} aria-label={label} value={value} onChange={(event) => set(event.target.value)}>
      <option value="">choose a device</option>
      {devices
        .filter(([id, device]) => id !== other && device.state !== "removed")
        .map(([id, device]) => (
          <option key={id} value={id}>
            {id} {device.name ?? ""}
          </option>
        ))}
    </select>
  );
  return (
    <Panel title="A new cable" onClose={() => setOpen(false)}>
      {devices.length < 2 && <p className="text-soft">It needs two devices: put them in first.</p>}
      <div className="flex flex-wrap items-center gap-2">
        from {pick(a, setA, b, "From device")} to {pick(b, setB, a, "To device")}
      </div>
      <div className="mt-2 flex flex-wrap items-center gap-2">
        <select
          className={select}
          aria-label="Construction of the new cable"
          value={familyId}
          onChange={(event) => {
            const next = cables.find((entry) => entry.id === event.target.value);
            setFamily(event.target.value);
            if (next && !next.awg.includes(awg)) setAwg(next.awg[0] ?? "");
            if (next && !next.counts.includes(count))
              setCount(next.counts.find((n) => n >= count) ?? next.counts[0] ?? 2);
          }}
        >
          {cables.map((entry) => (
            <option key={entry.id} value={entry.id}>
              {entry.name}
            </option>
          ))}
        </select>
        <select
          className={select}
          aria-label="Gauge of the new cable"
          value={awg}
          onChange={(event) => setAwg(event.target.value)}
        >
          {(family?.awg ?? []).map((size) => (
            <option key={size} value={size}>
              {size} AWG
            </option>
          ))}
        </select>
        <select
          className={select}
          aria-label="Conductors of the new cable"
          value={count}
          onChange={(event) => setCount(Number(event.target.value))}
        >
          {(family?.counts ?? []).map((number) => (
            <option key={number} value={number}>
              {number} conductors
            </option>
          ))}
        </select>
      </div>
      <Button
        kind="main"
        className="mt-3"
        disabled={!a || !b || !plan.document}
        onClick={() => {
          if (!plan.document) return;
          const drawn = drawCable(plan.document, { a, b, family: familyId, awg, count }, family?.class_2 ?? true);
          plan.change(drawn.patch, `Draw ${drawn.id}`);
          setOpen(false);
          onDrawn(drawn.id);
        }}
      >
        Draw it
      </Button>
    </Panel>
  );
}

export function NewDevice({ plan, onDrawn }: Props) {
  const { devices } = useChoices();
  const [open, setOpen] = useState(false);
  const [words, setWords] = useState("");
  if (!open) return <Button onClick={() => setOpen(true)}>Put a device in</Button>;
  const wanted = words.toLowerCase().split(/\s+/).filter(Boolean);
  const found = devices.filter((kind) => {
    const text = [kind.name, kind.maker, kind.model, kind.group].join(" ").toLowerCase();
    return wanted.every((word) => text.includes(word));
  });
  const undrawn = plan.plan?.result.wiring.undrawn ?? [];
  return (
    <Panel title="A device of the catalogue" onClose={() => setOpen(false)}>
      <input
        className="min-h-11 w-full border-2 border-ink/50 bg-sheet px-2"
        aria-label="Search devices"
        placeholder="thermostat, relay, detector …"
        autoFocus
        value={words}
        onChange={(event) => setWords(event.target.value)}
      />
      {undrawn.length > 0 && <p className="mt-2 text-sm text-soft">Units not drawn yet: {undrawn.join(", ")}.</p>}
      <ul className="mt-2 max-h-80 overflow-y-auto" aria-label="Devices found">
        {found.map((kind) => (
          <li key={kind.id} className="border-t border-rule">
            <button
              type="button"
              className="block min-h-11 w-full py-1 text-left hover:text-copper-deep"
              onClick={() => {
                if (!plan.document) return;
                const unit = undrawn.find((id) =>
                  kind.kinds.includes(plan.document?.equipment?.[id]?.kind ?? "feeder"),
                );
                const id = unit && !plan.document.devices?.[unit] ? unit : nextDeviceId(plan.document, kind.group);
                const device = { type: kind.id, name: kind.name, ...(unit ? { equipment: unit } : {}) };
                plan.change({ devices: { [id]: device } }, `Put ${id} in`);
                setOpen(false);
                onDrawn(id);
              }}
            >
              <b>{kind.name}</b>{" "}
              <span className="text-soft">
                {kind.maker} {kind.model}
              </span>
              <span className="block text-sm text-soft">
                {kind.strips.map((strip) => strip.terminals.join(" ")).join(" · ")}
              </span>
            </button>
          </li>
        ))}
        {found.length === 0 && (
          <li className="py-2 text-soft">No device has these words. Try its group: relay, safety, board.</li>
        )}
      </ul>
    </Panel>
  );
}

function Panel({ title, onClose, children }: { title: string; onClose: () => void; children: ReactNode }) {
  return (
    <section aria-label={title} className="w-full max-w-2xl border-l-4 border-copper bg-sheet p-4">
      <h3 className="mb-2 flex items-center font-bold">
        {title}
        <Button className="ml-auto" onClick={onClose}>
          Close
        </Button>
      </h3>
      {children}
    </section>
  );
}
