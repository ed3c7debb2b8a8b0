/** A task of the week: who, when, why there; put elsewhere without dragging. */
import { type SubmitEvent } from "react";
import { Link } from "react-router";

import type { WeekOut, WeekPart } from "../../api/client";
import { Button } from "../../ui/parts";
import { sayDay } from "../../ui/when";

const field = "min-h-11 border-b-2 border-ink/50 bg-sheet px-2 focus:border-copper";

interface Props {
  part: WeekPart;
  week: WeekOut;
  disabled: boolean;
  onHold: (day: string, from: string, people: string[] | undefined) => void;
  onLetGo: () => void;
}

export function OnePart({ part, week, disabled, onHold, onLetGo }: Props) {
  const site = week.sites.find((one) => one.id === part.site);
  const names = part.people.map((id) => week.wishes.people.find((one) => one.id === id)?.name ?? id);
  const beside = [...part.access, ...(part.outdoors ? ["outdoors"] : [])].join(", ").replaceAll("_", " ");
  return (
    <section aria-label={part.text}>
      <h2 className="text-lg font-bold">{part.text}</h2>
      <p className="text-soft">
        <Link className="underline" to={`/installs/${part.install}/load-out?work`}>
          {site?.name}
        </Link>
        {beside && `: ${beside}`}
      </p>
      <p className="mt-2 text-xl font-bold">
        {sayDay(part.day, { weekday: "long" })}, {part.from} to {part.to}
      </p>
      <p>{names.join(" and ")}</p>
      {part.wait_min > 0 && <p className="text-soft">Then {part.wait_min} min run by themselves.</p>}
      <h3 className="mt-3 font-bold">Why here</h3>
      <ul>
        {part.why.map((says) => (
          <li key={says}>{says}</li>
        ))}
      </ul>
      {part.windows && (
        <p className="text-soft">
          Only{" "}
          {part.windows.map((one) => `${one.day} ${one.from} to ${one.to}`).join(", ") || "in no hour that is known"}.
        </p>
      )}
      {!disabled && (
        <form
          key={`${part.day} ${part.from} ${part.people.join(" ")}`}
          className="mt-3 flex flex-wrap items-center gap-2"
          onSubmit={(event: SubmitEvent<HTMLFormElement>) => {
            event.preventDefault();
            const form = new FormData(event.currentTarget);
            const people = part.people.map((_, index) => form.get(`person-${String(index)}`) as string);
            const same = people.every((one, index) => one === part.people[index]);
            onHold(form.get("day") as string, form.get("from") as string, same ? undefined : people);
          }}
        >
          <select name="day" aria-label="On" className={field} defaultValue={part.day}>
            {week.days.map((day) => (
              <option key={day} value={day}>
                {sayDay(day, { weekday: "long" })}
              </option>
            ))}
          </select>
          <input
            name="from"
            type="time"
            step={300}
            required
            aria-label="At"
            className={field}
            defaultValue={part.from}
          />
          {part.people.map((id, index) => (
            <select
              key={index}
              name={`person-${String(index)}`}
              aria-label={part.people.length > 1 ? `By, ${String(index + 1)}` : "By"}
              className={field}
              defaultValue={id}
            >
              {week.wishes.people.map((one) => (
                <option key={one.id} value={one.id}>
                  {one.name}
                </option>
              ))}
            </select>
          ))}
          <Button type="submit" kind="main">
            {part.held ? "Hold it there" : "Hold it"}
          </Button>
          {part.held && <Button onClick={onLetGo}>Let it go</Button>}
        </form>
      )}
    </section>
  );
}
