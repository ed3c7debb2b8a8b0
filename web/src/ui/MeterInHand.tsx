/** With which meter is read: chosen once, its class and its calibration beside it. */
import { type SubmitEvent, useState } from "react";

import { Button, Mark } from "./parts";
import { type MeteredUnit, type Meters, useMeters } from "../plan/useMeters";

const ADD = "add";
const field = "min-h-11 border-b-2 border-ink/50 bg-sheet px-2 focus:border-copper";

export function MeterInHand({ unit, canRecord }: { unit: MeteredUnit; canRecord: boolean }) {
  const meters = useMeters();
  const [adding, setAdding] = useState(false);
  const { inHand } = meters;
  const own = inHand?.classes[unit];
  return (
    <div className="mb-1">
      <label className="flex flex-wrap items-center gap-x-2 text-soft">
        Read with
        <select
          aria-label="Meter in hand"
          className={`${field} text-ink`}
          value={inHand?.id ?? ""}
          onChange={(event) => {
            setAdding(event.target.value === ADD);
            if (event.target.value !== ADD) meters.choose(event.target.value);
          }}
        >
          <option value="">a meter nobody named</option>
          {meters.every.map((meter) => (
            <option key={meter.id} value={meter.id}>
              {meter.name}
              {meter.serial && ` ${meter.serial}`}
            </option>
          ))}
          {canRecord && <option value={ADD}>another meter …</option>}
        </select>
        {own && (
          <span>
            ± {own.share * 100} % and {own.digits} {unit}
          </span>
        )}
      </label>
      {inHand && !own && (
        <p className="flex gap-2 text-warning">
          <Mark severity="warning" />
          It does not read {unit}: choose the one that does.
        </p>
      )}
      {inHand?.doubt && own && (
        <p className="flex gap-2 text-warning">
          <Mark severity="warning" />
          {inHand.doubt.charAt(0).toUpperCase() + inHand.doubt.slice(1)}.
        </p>
      )}
      {adding && <Add unit={unit} onDone={() => setAdding(false)} add={meters.add} />}
    </div>
  );
}

interface AddProps {
  unit: MeteredUnit;
  onDone: () => void;
  add: Meters["add"];
}

function Add({ unit, onDone, add }: AddProps) {
  const [wrong, setWrong] = useState<string | null>(null);
  async function submit(event: SubmitEvent<HTMLFormElement>) {
    event.preventDefault();
    const form = new FormData(event.currentTarget);
    const said = (name: string) => (form.get(name) as string).trim();
    const found = await add(said("name"), said("serial"), said("calibrated"), unit);
    setWrong(found);
    if (!found) onDone();
  }
  return (
    <form className="mt-2 flex flex-wrap items-center gap-2" onSubmit={(event) => void submit(event)}>
      <input
        name="name"
        required
        maxLength={80}
        autoFocus
        aria-label="What it is called"
        placeholder="What it is called"
        className={`${field} grow`}
      />
      <input
        name="serial"
        maxLength={80}
        aria-label="Serial number"
        placeholder="Serial number"
        className={`${field} w-36`}
      />
      <label className="inline-flex items-center gap-2 text-soft">
        calibrated
        <input name="calibrated" type="date" aria-label="Calibrated on" className={`${field} text-ink`} />
      </label>
      <Button type="submit" kind="main">
        Add it
      </Button>
      <Button onClick={onDone}>Leave it</Button>
      {wrong && (
        <p role="alert" className="w-full text-stop">
          {wrong}
        </p>
      )}
    </form>
  );
}
