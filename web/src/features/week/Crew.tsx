/** Who is there in a week, and where is worked: named once, taken along from week to week. */
import { type SubmitEvent, useState } from "react";
import { Link } from "react-router";

import type { WeekOut, WeekWishes } from "../../api/client";
import { SKILLS } from "../../plan/skills";
import { Button, Mark } from "../../ui/parts";
import { sayDay } from "../../ui/when";
import { type Hand, idOf, withHand, withoutHand } from "./wishes";

const field = "min-h-11 border-b-2 border-ink/50 bg-sheet px-2 focus:border-copper";

const deed = "min-h-11 text-soft underline decoration-faint underline-offset-4 hover:decoration-copper";

interface Props {
  week: WeekOut;
  disabled: boolean;
  onWish: (wishes: WeekWishes) => void;
}

export function Crew({ week, disabled, onWish }: Props) {
  const { wishes } = week;
  return (
    <div className="grid gap-x-10 gap-y-6 lg:grid-cols-2">
      <section aria-label="Who is there">
        <h2 className="text-lg font-bold">Who is there</h2>
        <ul>
          {wishes.people.map((hand) => (
            <OneHand key={hand.id} hand={hand} week={week} disabled={disabled} onWish={onWish} />
          ))}
        </ul>
        {!disabled && <NewHand wishes={wishes} onWish={onWish} />}
        <Hours wishes={wishes} disabled={disabled} onWish={onWish} />
      </section>
      <section aria-label="Where is worked">
        <h2 className="text-lg font-bold">Where is worked</h2>
        <ul>
          {week.sites.map((site) => (
            <OneSite key={site.id} site={site} week={week} disabled={disabled} onWish={onWish} />
          ))}
        </ul>
        {!disabled && week.choices.length > 0 && (
          <select
            aria-label="Add an install"
            className={`${field} mt-2`}
            value=""
            onChange={(event) =>
              onWish({ ...wishes, sites: [...wishes.sites, { install: event.target.value, way_min: 20 }] })
            }
          >
            <option value="">Add an install …</option>
            {week.choices.map((one) => (
              <option key={one.install} value={one.install}>
                {one.name}
              </option>
            ))}
          </select>
        )}
        {week.sites.length > 0 && <Wet week={week} disabled={disabled} onWish={onWish} />}
      </section>
    </div>
  );
}

function OneSite({ site, week, disabled, onWish }: Props & { site: WeekOut["sites"][number] }) {
  const { wishes } = week;
  const [comes, setComes] = useState(false);
  const change = (changed: Partial<WeekWishes["sites"][number]>) =>
    onWish({
      ...wishes,
      sites: wishes.sites.map((one) => (one.install === site.install ? { ...one, ...changed } : one)),
    });
  return (
    <li className="border-t border-rule py-1 first:border-0">
      <div className="flex flex-wrap items-center gap-x-3">
        <b className="grow">{site.name}</b>
        <label className="flex items-center gap-2 text-soft">
          <input
            key={site.way_min}
            type="number"
            min={0}
            max={600}
            aria-label={`Minutes from the shop to ${site.name}`}
            className={`${field} w-20 text-right text-ink`}
            disabled={disabled}
            defaultValue={site.way_min}
            onBlur={(event) => {
              const way = Math.round(Number(event.target.value));
              if (!Number.isFinite(way) || event.target.value === "" || way === site.way_min) return;
              change({ way_min: way });
            }}
          />
          min from the shop
        </label>
        <span className="w-24 text-right text-soft">{site.tasks} to do</span>
      </div>
      <p className="flex flex-wrap items-center gap-x-4 text-sm">
        {site.stops > 0 && (
          <Link className="flex min-h-11 items-center gap-2 text-stop underline" to={`/installs/${site.install}/lines`}>
            <Mark severity="stop" />
            {site.stops === 1 ? "one stop in its plan" : `${String(site.stops)} stops in its plan`}
          </Link>
        )}
        {site.material && (
          <span className="text-soft">
            material there {sayDay(site.material.day, { weekday: "short", day: "numeric" })} from{" "}
            {site.material.at.slice(0, 5)}
          </span>
        )}
        {!disabled && (
          <>
            <button
              type="button"
              className={deed}
              aria-expanded={comes}
              aria-label={`When the material of ${site.name} comes`}
              onClick={() => (site.material ? change({ material: null }) : setComes(!comes))}
            >
              {site.material ? "it is there already" : "material comes …"}
            </button>
            <button
              type="button"
              className={deed}
              onClick={() =>
                onWish({
                  ...wishes,
                  sites: wishes.sites.filter((one) => one.install !== site.install),
                  held: wishes.held.filter((one) => !one.task.startsWith(`${site.id}.`)),
                })
              }
            >
              not this week
            </button>
          </>
        )}
      </p>
      {comes && !site.material && (
        <DayAndHours
          days={week.days}
          label={`Material of ${site.name}`}
          done="There from then"
          onDone={({ day, from }) => {
            setComes(false);
            change({ material: { day, at: from } });
          }}
        />
      )}
    </li>
  );
}

/** Days on which nothing is done outdoors, and how many vehicles there are. */
function Wet({ week, disabled, onWish }: Props) {
  const { wishes } = week;
  return (
    <>
      <p className="mt-3 flex flex-wrap items-center gap-x-4 text-soft" role="group" aria-label="Wet days">
        Nothing outdoors on
        {week.days.map((day) => (
          <label key={day} className="inline-flex min-h-11 items-center gap-2">
            <input
              type="checkbox"
              className="size-5 accent-copper"
              disabled={disabled}
              checked={wishes.wet.includes(day)}
              onChange={(event) =>
                onWish({
                  ...wishes,
                  wet: event.target.checked ? [...wishes.wet, day] : wishes.wet.filter((one) => one !== day),
                })
              }
            />
            {sayDay(day, { weekday: "short", day: "numeric" })}
          </label>
        ))}
      </p>
      <label className="flex flex-wrap items-center gap-2 text-soft">
        Vehicles
        <select
          aria-label="Vehicles"
          className={field}
          disabled={disabled}
          value={wishes.vehicles ?? ""}
          onChange={(event) => onWish({ ...wishes, vehicles: Number(event.target.value) || null })}
        >
          <option value="">enough for all</option>
          {[1, 2, 3, 4, 5, 6, 7, 8].map((count) => (
            <option key={count}>{count}</option>
          ))}
        </select>
      </label>
    </>
  );
}

interface SpanProps {
  days: readonly string[];
  label: string;
  done: string;
  /** Left out: only when it begins is asked. */
  to?: boolean;
  onDone: (span: { day: string; from: string; to: string }) => void;
}

function DayAndHours({ days, label, done, to = false, onDone }: SpanProps) {
  return (
    <form
      className="flex flex-wrap items-center gap-2 py-1"
      onSubmit={(event: SubmitEvent<HTMLFormElement>) => {
        event.preventDefault();
        const form = new FormData(event.currentTarget);
        const said = (name: string) => (form.get(name) ?? "") as string;
        onDone({ day: said("day"), from: said("from"), to: said("to") });
      }}
    >
      <select name="day" aria-label={`${label} on`} className={field}>
        {days.map((day) => (
          <option key={day}>{day}</option>
        ))}
      </select>
      <input name="from" type="time" required aria-label={`${label} from`} className={field} defaultValue="07:00" />
      {to && (
        <>
          to
          <input name="to" type="time" required aria-label={`${label} to`} className={field} defaultValue="16:00" />
        </>
      )}
      <Button type="submit" kind="main">
        {done}
      </Button>
    </form>
  );
}

function OneHand({ hand, week, disabled, onWish }: Props & { hand: Hand }) {
  const [away, setAway] = useState(false);
  const { off } = hand;
  return (
    <li className="border-t border-rule py-1 first:border-0">
      <div className="flex flex-wrap items-center gap-x-4">
        <b className="grow">{hand.name}</b>
        {SKILLS.map((skill) => (
          <label key={skill} className="inline-flex min-h-11 items-center gap-2">
            <input
              type="checkbox"
              className="size-5 accent-copper"
              aria-label={`${hand.name}: ${skill}`}
              disabled={disabled || (hand.skills.length === 1 && hand.skills.includes(skill))}
              checked={hand.skills.includes(skill)}
              onChange={(event) =>
                onWish(
                  withHand(week.wishes, {
                    ...hand,
                    skills: event.target.checked ? [...hand.skills, skill] : hand.skills.filter((one) => one !== skill),
                  }),
                )
              }
            />
            {skill}
          </label>
        ))}
        {!disabled && (
          <>
            <button type="button" className={deed} aria-expanded={away} onClick={() => setAway(!away)}>
              away …
            </button>
            <button
              type="button"
              className={deed}
              aria-label={`${hand.name} is not in this crew`}
              onClick={() => onWish(withoutHand(week.wishes, hand.id))}
            >
              take out
            </button>
          </>
        )}
      </div>
      {off.map((one) => (
        <p key={`${one.day} ${one.from}`} className="flex items-center gap-3 text-sm text-soft">
          away {one.day}, {one.from.slice(0, 5)} to {one.to.slice(0, 5)}
          {!disabled && (
            <button
              type="button"
              className="min-h-11 underline"
              onClick={() => onWish(withHand(week.wishes, { ...hand, off: off.filter((other) => other !== one) }))}
            >
              there after all
            </button>
          )}
        </p>
      ))}
      {away && (
        <DayAndHours
          days={week.days}
          label="Away"
          done="Away then"
          to
          onDone={(span) => {
            setAway(false);
            onWish(withHand(week.wishes, { ...hand, off: [...off, span] }));
          }}
        />
      )}
    </li>
  );
}

function NewHand({ wishes, onWish }: { wishes: WeekWishes; onWish: (wishes: WeekWishes) => void }) {
  return (
    <form
      className="mt-2 flex flex-wrap items-center gap-2"
      onSubmit={(event: SubmitEvent<HTMLFormElement>) => {
        event.preventDefault();
        const form = new FormData(event.currentTarget);
        const name = (form.get("name") as string).trim();
        if (!name) return;
        const skill = form.get("skill") as Hand["skills"][number];
        const taken = wishes.people.map((one) => one.id);
        onWish(withHand(wishes, { id: idOf(name, taken), name, skills: [skill], off: [] }));
        event.currentTarget.reset();
      }}
    >
      <input name="name" required maxLength={80} aria-label="Name" placeholder="Name" className={`${field} grow`} />
      <select name="skill" aria-label="Skill" className={field} defaultValue="installer">
        {SKILLS.map((skill) => (
          <option key={skill}>{skill}</option>
        ))}
      </select>
      <Button type="submit">Add to the crew</Button>
    </form>
  );
}

function Hours({ wishes, disabled, onWish }: { wishes: WeekWishes; disabled: boolean; onWish: Props["onWish"] }) {
  const hour = (name: "from" | "to", label: string) => (
    <input
      key={wishes[name]}
      type="time"
      aria-label={label}
      className={field}
      disabled={disabled}
      defaultValue={wishes[name].slice(0, 5)}
      onBlur={(event) => {
        const typed = event.target.value;
        if (typed && typed !== wishes[name].slice(0, 5)) onWish({ ...wishes, [name]: typed });
      }}
    />
  );
  return (
    <p className="mt-3 flex flex-wrap items-center gap-2 text-soft">
      Out of the shop at {hour("from", "The day begins at")}, back by {hour("to", "The day ends at")}, on
      <select
        aria-label="Days of the week"
        className={field}
        disabled={disabled}
        value={wishes.days}
        onChange={(event) => onWish({ ...wishes, days: Number(event.target.value) })}
      >
        {[3, 4, 5, 6, 7].map((days) => (
          <option key={days} value={days}>
            {days} days
          </option>
        ))}
      </select>
    </p>
  );
}
