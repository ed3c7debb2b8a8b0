/** Service visits: what is read as found and as left where start-up read it, against all that was read before. */
import { type SubmitEvent, useState } from "react";

import type { Person, RecordOut } from "../../api/client";
import type { PlanHandle } from "../../plan/usePlan";
import { useRecord } from "../../plan/useRecord";
import { idOf } from "../../plan/workPart";
import { MeterInHand } from "../../ui/MeterInHand";
import { Button, Mark, NotShown } from "../../ui/parts";
import { when } from "../../ui/when";
import { Earlier } from "./Earlier";
import { Place } from "./Place";
import { type OpenVisit, openVisit, placeOf } from "./visit";

interface Props {
  plan: PlanHandle;
  id: string;
  person: Person;
}

const field = "min-h-12 border-b-2 border-ink/50 bg-sheet px-2 focus:border-copper";

export function Visits({ plan, id, person }: Props) {
  const query = useRecord(id);
  const record = query.data;
  if (query.isError && !record) return <NotShown what="The record" />;
  if (!record) return <p className="p-7 text-soft">Reading the record …</p>;
  const open = openVisit(record, plan.outbox.waiting);
  const canRecord = person.may.includes("record");
  const earlier = record.service.visits.filter((visit) => visit.ended_at != null);
  return (
    <main className="mt-2 grow border-t border-rule">
      <div className="mx-auto grid max-w-6xl gap-x-14 px-5 pb-16 md:px-7 lg:grid-cols-[minmax(0,1.15fr)_minmax(0,1fr)]">
        <section aria-label="This visit">
          {open ? (
            <Open record={record} open={open} plan={plan} canRecord={canRecord} />
          ) : (
            <Begin plan={plan} canRecord={canRecord} />
          )}
        </section>
        <section aria-label="Earlier visits">
          <h2 className="mt-6 text-xl font-bold">Earlier visits</h2>
          {earlier.length === 0 && (
            <p className="mt-2 text-soft">
              None yet. What was read at start-up stands beside whatever is read on the first one.
            </p>
          )}
          {earlier.map((visit) => (
            <Earlier key={visit.at} visit={visit} />
          ))}
        </section>
      </div>
    </main>
  );
}

/** A few words and what they are said for. */
function Say({
  label,
  action,
  onSay,
}: {
  label: string;
  action: string;
  onSay: (words: FormDataEntryValue | null) => void;
}) {
  function submit(event: SubmitEvent<HTMLFormElement>) {
    event.preventDefault();
    onSay(new FormData(event.currentTarget).get("words"));
  }
  return (
    <form onSubmit={submit} className="mt-4 flex flex-wrap gap-2">
      <input
        name="words"
        required
        maxLength={200}
        aria-label={label}
        placeholder={label}
        className={`${field} min-w-56 grow`}
      />
      <Button type="submit" kind="main" className="min-h-12 px-5">
        {action}
      </Button>
    </form>
  );
}

function Begin({ plan, canRecord }: { plan: PlanHandle; canRecord: boolean }) {
  return (
    <>
      <h2 className="mt-6 text-xl font-bold">Service visit</h2>
      <p className="mt-2 max-w-prose text-soft">
        Read where start-up read, before you touch anything and again when you leave. Each value stands against what it
        should be, against start-up and against the last visit.
      </p>
      {canRecord ? (
        <Say
          label="Why you are here"
          action="Begin a visit"
          onSay={(why) => plan.record("visits", { why }, "Begin a visit")}
        />
      ) : (
        <p className="mt-3 text-soft">The crew records visits.</p>
      )}
    </>
  );
}

interface OpenProps {
  record: RecordOut;
  open: OpenVisit;
  plan: PlanHandle;
  canRecord: boolean;
}

function Open({ record, open, plan, canRecord }: OpenProps) {
  const parts = record.parts.filter((part) => record.readings.some((point) => point.about === part.about));
  const [chosen, setChosen] = useState(parts[0]?.about ?? "");
  const part = parts.find((one) => one.about === chosen);
  const mine = record.readings.filter((point) => point.about === chosen);
  const running = mine.filter((point) => point.unit !== "Ω" && point.unit !== "MΩ");
  const dead = mine.filter((point) => !running.includes(point));
  const trends = new Map(record.service.trends.map((trend) => [trend.key, trend]));
  const first = running[0]?.unit;
  const place = (point: RecordOut["readings"][number]) => (
    <Place
      key={point.key}
      point={point}
      open={open}
      trend={trends.get(point.key)}
      errors={plan.errors}
      disabled={!canRecord}
      onRead={(body) =>
        plan.record("visits/readings", { key: point.key, ...body }, point.text, placeOf(point.key, body.state))
      }
    />
  );
  return (
    <>
      <h2 className="mt-6 text-xl font-bold">{open.why}</h2>
      <p className="text-soft">
        {open.author && open.at ? `${open.author}, since ${when(open.at)}` : "begun here, not sent yet"}
      </p>
      <p className="mt-2 font-semibold text-stop">
        What runs is live: one hand, insulated leads, a proved meter. For ohms and insulation lock out and prove dead.
      </p>
      <label className="mt-3 flex flex-wrap items-center gap-x-2 text-soft">
        At
        <select
          aria-label="Part of the install"
          className={`${field} text-ink`}
          value={chosen}
          onChange={(event) => setChosen(event.target.value)}
        >
          {parts.map((one) => (
            <option key={one.about} value={one.about}>
              {idOf(one)} {one.name}
            </option>
          ))}
        </select>
      </label>
      {part?.stop && (
        <p className="mt-2 flex items-start gap-2 font-semibold text-stop">
          <Mark severity="stop" />
          The plan says stop here: {part.stop}
        </p>
      )}
      {first && first !== "°F" && (
        <div className="mt-2">
          <MeterInHand unit={first} canRecord={canRecord} />
        </div>
      )}
      <ol>{running.map(place)}</ol>
      {dead.length > 0 && (
        <details>
          <summary className="min-h-11 cursor-pointer py-2 text-soft">
            With the power off, ohms and insulation: {dead.length}
          </summary>
          <ol>{dead.map(place)}</ol>
        </details>
      )}
      {canRecord && (
        <div className="mt-2 border-t border-ink">
          <Say
            label="What was done"
            action="End the visit"
            onSay={(note) => plan.record("visits/end", { note }, "End the visit")}
          />
        </div>
      )}
      <p className="mt-6 border-t border-rule pt-3 text-sm text-soft">{record.caution}</p>
    </>
  );
}
