/** One device: its strips as they are seen with what lands on them, its settings, and the exchange for another. */
import { useState } from "react";
import { Link } from "react-router";

import type { DeviceChoice } from "../../api/client";
import vocabulary from "../../api/vocabulary.json";
import type { PlanHandle } from "../../plan/usePlan";
import { Findings } from "../../ui/Findings";
import { Button } from "../../ui/parts";
import { PhotoStrip } from "../../ui/PhotoStrip";
import { fields, options, Sentence } from "../../ui/fields";
import { nextDeviceId, removeDevice } from "./edits";
import { Jumper } from "./Jumper";
import { Moves } from "./Moves";
import { StripRow } from "./StripRow";
import { useChoices } from "./useChoices";
import { findingsAt } from "../../api/findings";

const SPOTS = options(...vocabulary.spots);

interface Props {
  id: string;
  plan: PlanHandle;
  readOnly: boolean;
  onOpen: (key: "cable" | "device", id: string) => void;
}

export function DeviceFacts({ id, plan, readOnly, onOpen }: Props) {
  const choices = useChoices();
  const wiring = plan.plan?.result.wiring;
  const view = wiring?.devices[id];
  const device = plan.document?.devices?.[id];
  if (!wiring || !view || !device || !plan.document) return null;
  const base = `devices/${id}`;
  const own = fields(plan, base, readOnly);
  const kind = choices.devices.find((entry) => entry.id === device.type);
  const units = Object.entries(plan.document.equipment ?? {}).map(([key, unit]) => ({
    value: key,
    label: `${key} ${unit.name ?? ""}`.trim(),
  }));
  return (
    <section aria-label={`Device ${id}`}>
      <h2 className="text-xl">
        <b>{id}</b> <span className="text-soft">{view.title}</span>
      </h2>
      <p className="text-soft">{[view.kind, view.maker, view.place].filter(Boolean).join(" · ")}</p>
      <Findings rows={findingsAt(plan.plan?.result, `devices/${id}`)} plan={plan} readOnly={readOnly} />
      {view.strips.map((strip) => (
        <section key={strip.id} aria-label={strip.name} className="mt-4">
          <h3 className="flex items-center gap-3">
            <b>{strip.name}</b>
            <span className="text-sm text-soft">as you see it, left to right</span>
            {!readOnly && (
              <button
                type="button"
                aria-pressed={strip.reversed}
                className="min-h-11 text-sm underline"
                onClick={() =>
                  plan.change(
                    { devices: { [id]: { strips: { [strip.id]: { reversed: strip.reversed ? null : true } } } } },
                    "Turn the strip round",
                  )
                }
              >
                it reads the other way
              </button>
            )}
          </h3>
          <StripRow strip={strip} onOpen={(cable) => onOpen("cable", cable)} />
          {strip.notes.map((note) => (
            <p key={note} className="mt-1 max-w-3xl text-sm text-soft">
              {note}
            </p>
          ))}
        </section>
      ))}
      <Moves moves={wiring.moves.filter((move) => move.device === id)} />
      <div className="mt-5 max-w-3xl border-t-2 border-ink pt-2">
        <Sentence>
          {own.text("name", "Name of the device", device.name, undefined, "no name")} in{" "}
          {own.text("place", "Place of the device", device.place, undefined, "place not known")},{" "}
          {own.choice("spot", "Sort of place", device.spot, SPOTS, "sort of place not known")}. Part of{" "}
          {own.choice("equipment", "Unit", device.equipment, units, "no unit")}.
        </Sentence>
        {Object.entries(kind?.settings ?? {}).map(([key, setting]) => (
          <Sentence key={key}>
            {setting.says[0]?.toUpperCase()}
            {setting.says.slice(1)}:{" "}
            <SettingField plan={plan} base={base} readOnly={readOnly} name={key} setting={setting} />
          </Sentence>
        ))}
      </div>
      <PhotoStrip install={plan.plan?.install.id ?? ""} about={base} name={id} readOnly={readOnly} />
      <div className="mt-3 flex flex-wrap items-start gap-2">
        <Link
          className="inline-flex min-h-11 items-center border border-ink/60 px-4 font-semibold hover:border-copper"
          to={`/installs/${plan.plan?.install.id ?? ""}/sheet?device=${id}`}
        >
          Open the sheet
        </Link>
        {!readOnly && (
          <>
            <Jumper
              device={id}
              plan={plan}
              terminals={view.strips.flatMap((strip) =>
                strip.terminals.map(({ ref, label }) => ({ ref, label: `${strip.name} ${label}` })),
              )}
            />
            <Exchange id={id} plan={plan} kinds={choices.devices} group={view.group ?? null} onOpen={onOpen} />
            <Button
              onClick={() => {
                if (plan.document) plan.change(removeDevice(plan.document, id), `Remove ${id}`);
                onOpen("device", "");
              }}
            >
              Remove this device
            </Button>
          </>
        )}
      </div>
    </section>
  );
}

interface ExchangeProps {
  id: string;
  plan: PlanHandle;
  kinds: readonly DeviceChoice[];
  group: string | null;
  onOpen: (key: "cable" | "device", id: string) => void;
}

/** Another device in its place: what hangs on it is kept as found, and goes where it means the same. */
function Exchange({ id, plan, kinds, group, onOpen }: ExchangeProps) {
  const [open, setOpen] = useState(false);
  const first = kinds.filter((kind) => kind.group === group);
  if (!open) return <Button onClick={() => setOpen(true)}>Exchange it</Button>;
  return (
    <label className="flex items-center gap-2">
      for
      <select
        className="min-h-11 border-2 border-ink/50 bg-sheet px-2"
        aria-label="Exchange it for"
        defaultValue=""
        autoFocus
        onChange={(event) => {
          if (!plan.document || !event.target.value) return;
          const fresh = nextDeviceId(plan.document, group ?? "");
          const body = { device: id, new: fresh, type: event.target.value };
          plan.record("exchanges", body, `Exchange ${id}`);
          setOpen(false);
          onOpen("cable", "");
        }}
      >
        <option value="">choose a device</option>
        {first.map((kind) => (
          <option key={kind.id} value={kind.id}>
            {kind.name} {kind.model ?? ""}
          </option>
        ))}
      </select>
      <Button onClick={() => setOpen(false)}>Leave it</Button>
    </label>
  );
}

interface SettingProps {
  plan: PlanHandle;
  base: string;
  readOnly: boolean;
  name: string;
  setting: DeviceChoice["settings"][string];
}

/** What a device is set to: one of its values, or a figure on its knob. */
function SettingField({ plan, base, readOnly, name, setting }: SettingProps) {
  const own = fields(plan, `${base}/settings`, readOnly);
  const now = plan.document?.devices?.[base.split("/")[1] ?? ""]?.settings?.[name];
  const { says, span, factory } = setting;
  const words = (value: string) => (span ? `${value} ${span.unit}` : (setting.values[value] ?? value));
  const empty = factory ? `${words(factory)}, as it leaves the factory` : "not set";
  if (span) return own.text(name, says, now, `${span.unit}, from ${span.least} to ${span.most}`, empty);
  return own.choice(
    name,
    says,
    now,
    Object.entries(setting.values).map(([value, label]) => ({ value, label })),
    empty,
  );
}
