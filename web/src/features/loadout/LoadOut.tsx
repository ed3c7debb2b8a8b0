/** Load-out: everything that the plan takes along, packed row by row, also where there is no signal. */
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { Link, useSearchParams } from "react-router";

import { api, data, type Packing } from "../../api/client";
import { placeOf } from "../../plan/places";
import type { PlanHandle } from "../../plan/usePlan";
import { BringList } from "../../ui/BringList";
import { QUALIFIED } from "../../ui/caution";
import { fields, Sentence } from "../../ui/fields";
import { Button, Mark, NotShown } from "../../ui/parts";
import { sentence } from "../../ui/text";
import { WorkList } from "./WorkList";

type Row = Packing["rows"][number];
type Where = Row["where"];

const PLACES: { value: Where; label: string }[] = [
  { value: "none", label: "not packed" },
  { value: "truck", label: "on the truck" },
  { value: "shop", label: "in the shop" },
  { value: "buy", label: "to buy" },
];
const NAMES: Record<string, string> = {
  breaker: "Breakers",
  disconnect: "Disconnects",
  device: "Units and devices",
  conductor: "Single conductors",
  fitting: "Fittings",
  support: "Straps and staples",
  connector: "Connectors",
  terminal: "Terminals",
  label: "Labels",
  consumable: "Consumables",
  tool: "Tools",
};
const VIEWS = ["everything", "not packed", "to buy"] as const;

interface Props {
  plan: PlanHandle;
  id: string;
  readOnly: boolean;
  canRecord: boolean;
}

/** The station: what goes along, and who does what. */
export function LoadOut(props: Props) {
  const [search, setSearch] = useSearchParams();
  const work = search.has("work");
  return (
    <main className="mt-2 grow border-t border-rule">
      <div className="mx-auto max-w-5xl px-5 pb-16 md:px-7">
        <p className="mt-3 flex gap-x-6" role="group" aria-label="Of the load-out">
          {(["What goes along", "Who does what"] as const).map((name, index) => (
            <button
              key={name}
              type="button"
              aria-pressed={work === (index === 1)}
              className={`min-h-11 border-b-3 text-lg ${work === (index === 1) ? "border-copper font-bold" : "border-transparent text-soft hover:text-ink"}`}
              onClick={() => setSearch(index === 1 ? { work: "" } : {}, { replace: true })}
            >
              {name}
            </button>
          ))}
        </p>
        {work ? <WorkList {...props} /> : <Packed {...props} />}
      </div>
    </main>
  );
}

function Packed({ plan, id, readOnly, canRecord }: Props) {
  const client = useQueryClient();
  const [view, setView] = useState<(typeof VIEWS)[number]>("everything");
  const revision = plan.plan?.install.revision;
  const query = useQuery({
    queryKey: ["packing", id],
    queryFn: async () =>
      data(await api.GET("/api/installs/{install_id}/packing", { params: { path: { install_id: id } } })),
  });
  useEffect(() => {
    void client.invalidateQueries({ queryKey: ["packing", id] });
  }, [client, id, revision]);
  const packing = query.data;
  if (query.isError && !packing) return <NotShown what="The load-out" />;
  if (!packing) return <p className="p-7 text-soft">Counting …</p>;
  const here = new Map<string, Where>();
  for (const write of plan.outbox.waiting) {
    if (!write.path.endsWith("/packings")) continue;
    const { key, where } = write.body as { key: string; where: Where };
    here.set(key, where);
  }
  const rows = packing.rows.map((row) => ({ ...row, where: here.get(row.key) ?? row.where, waits: here.has(row.key) }));
  const packed = rows.filter((row) => row.where === "truck").length;
  const shown = rows.filter(
    (row) =>
      view === "everything" || (view === "to buy" ? row.where === "buy" : row.where !== "truck" || row.changed != null),
  );
  const groups = [...new Set(shown.map((row) => row.group))];
  return (
    <>
      <div className="mt-4 flex flex-wrap items-center gap-x-6 gap-y-1">
        <p className="text-xl font-bold">
          {packed} of {rows.length} on the truck
        </p>
        <p className="flex" role="group" aria-label="What is shown">
          {VIEWS.map((name) => (
            <button
              key={name}
              type="button"
              aria-pressed={view === name}
              className={`min-h-11 px-3 ${view === name ? "font-bold underline decoration-copper decoration-2 underline-offset-8" : "text-soft"}`}
              onClick={() => setView(name)}
            >
              {name}
            </button>
          ))}
        </p>
        <p className="ml-auto flex gap-x-5">
          {(view === "to buy"
            ? [
                ["load-out.pdf?only=buy", "Print the order"],
                ["load-out.csv?only=buy", "Order as a list"],
              ]
            : [
                ["load-out.pdf", "Print it"],
                ["load-out.csv", "List for the supplier"],
              ]
          ).map(([file, name]) => (
            <a
              key={file}
              className="inline-flex min-h-11 items-center underline"
              href={`/api/installs/${id}/${String(file)}`}
              target="_blank"
              rel="noreferrer"
            >
              {name}
            </a>
          ))}
        </p>
      </div>
      {packing.cost && (
        <p className="text-soft">
          Material <b className="text-ink">{money(Number(packing.cost.total))}</b> by your own prices
          {packing.cost.priced < packing.cost.of &&
            `; ${String(packing.cost.priced)} of ${String(packing.cost.of)} rows have one`}
          .
        </p>
      )}
      {rows.length === 0 && <p className="mt-6 text-soft">Nothing is drawn yet that could be taken along.</p>}
      {rows.length > 0 && shown.length === 0 && <p className="mt-6 text-soft">Nothing left here.</p>}
      {packing.gone.map((item) => (
        <p key={item} className="mt-2 flex gap-2 text-warning">
          <Mark severity="warning" />
          On the truck, and the plan asks for it no more: {item}.
        </p>
      ))}
      {groups.map((group) => (
        <section key={group} aria-label={group}>
          <h2 className="mt-6 text-lg font-bold">{NAMES[group] ?? sentence(group)}</h2>
          <ul>
            {shown
              .filter((row) => row.group === group)
              .map((row) => (
                <OneRow
                  key={row.key}
                  id={id}
                  row={row}
                  waits={row.waits}
                  canRecord={canRecord}
                  onPut={(where) => plan.record("packings", { key: row.key, where }, row.item)}
                />
              ))}
          </ul>
        </section>
      ))}
      {(packing.asked.length > 0 || canRecord) && (
        <section aria-label="Forgotten before">
          {packing.asked.length > 0 && (
            <>
              <h2 className="mt-6 text-lg font-bold">Forgotten before, at installs like this</h2>
              <ul>
                {packing.asked.map((row) => (
                  <li key={row.key} className="border-t border-rule first:border-0">
                    <label className="flex min-h-14 items-center gap-4">
                      <input
                        type="checkbox"
                        className="size-7 shrink-0 accent-ink"
                        disabled={!canRecord}
                        checked={(here.get(row.key) ?? row.where) === "truck"}
                        onChange={(event) =>
                          plan.record(
                            "packings",
                            { key: row.key, where: event.target.checked ? "truck" : "none" },
                            row.item,
                          )
                        }
                      />
                      <span className="font-semibold">{row.item}</span>
                      {row.times > 1 && <span className="text-soft">{row.times} times</span>}
                    </label>
                  </li>
                ))}
              </ul>
            </>
          )}
          {canRecord && <Forgot onForgot={(item) => plan.record("forgotten", { item }, `Forgotten: ${item}`)} />}
        </section>
      )}
      {packing.unknown.length > 0 && (
        <section aria-label="Not counted yet">
          <h2 className="mt-6 text-lg font-bold">Not counted yet</h2>
          <ul>
            {packing.unknown.map((row) => (
              <li key={`${row.about} ${row.says}`} className="flex gap-2 border-t border-rule py-2 first:border-0">
                <span className="text-warning">
                  <Mark severity="warning" />
                </span>
                <span>
                  <b>{row.about.split("/")[1]}</b>: {row.says}
                </span>
              </li>
            ))}
          </ul>
        </section>
      )}
      <Slack plan={plan} readOnly={readOnly} />
      {!readOnly && (
        <BringList<{ kept: number }>
          name="Prices"
          open="Bring prices"
          intro="The supplier’s list with its column price filled in, or any list with the columns item and price: of one foot, or one piece."
          path="/api/prices/lists"
          body={(csv) => ({ csv })}
          done={({ kept }) => {
            void client.invalidateQueries({ queryKey: ["packing"] });
            return kept === 1 ? "One price is kept." : `${String(kept)} prices are kept.`;
          }}
        />
      )}
      <p className="mt-6 border-t border-rule pt-3 text-sm text-soft">{QUALIFIED}</p>
    </>
  );
}

function money(value: number): string {
  return value.toLocaleString("en", { minimumFractionDigits: 2, maximumFractionDigits: 2 });
}

/** How much is left at the ends of cable: the usual, or this crew's own. */
function Slack({ plan, readOnly }: { plan: PlanHandle; readOnly: boolean }) {
  const slack = plan.document?.site.slack;
  const own = fields(plan, "site/slack", readOnly);
  return (
    <section aria-label="Slack" className="mt-6">
      <Sentence>
        Slack at each end of a cable: {own.number("panel_ft", "In a panel", slack?.panel_ft, "ft", "6 ft")} in a panel,{" "}
        {own.number("board_ft", "At a board", slack?.board_ft, "ft", "3 ft")} at a board or an outdoor unit,{" "}
        {own.number("other_ft", "At every other end", slack?.other_ft, "ft", "2 ft")} at every other end.
      </Sentence>
    </section>
  );
}

const MOST_PLACES = 5;

interface RowProps {
  id: string;
  row: Row;
  waits: boolean;
  canRecord: boolean;
  onPut: (where: Where) => void;
}

function OneRow({ id, row, waits, canRecord, onPut }: RowProps) {
  const packed = row.where === "truck";
  // A breaker that stands at its line and as a device is at both places.
  const places = [...new Map(row.for.map((about) => [about.split("/").slice(0, 2).join("/"), about])).values()];
  return (
    <li className="flex items-center gap-3 border-t border-rule py-1 first:border-0 max-md:flex-wrap max-md:gap-y-0">
      <label className="flex min-h-14 min-w-0 grow items-center gap-4 max-md:basis-full">
        <input
          type="checkbox"
          className="size-7 shrink-0 accent-ink"
          aria-label={`${row.amount} ${row.item}`}
          disabled={!canRecord}
          checked={packed}
          onChange={(event) => onPut(event.target.checked ? "truck" : "none")}
        />
        <span className="w-16 shrink-0 text-right font-bold">{row.amount}</span>
        <span className="min-w-0">
          <span className={packed && !row.changed ? "text-soft" : "font-semibold"}>{row.item}</span>
          <span className="block text-sm text-soft">
            {places.slice(0, MOST_PLACES).map((about, index) => {
              const { to, name } = placeOf(about, "lines");
              return (
                <span key={about}>
                  {index > 0 && ", "}
                  <Link
                    className="underline decoration-faint underline-offset-2 hover:decoration-copper"
                    to={`/installs/${id}/${to}`}
                  >
                    {name ?? about.split("/")[1]}
                  </Link>
                </span>
              );
            })}
            {places.length > MOST_PLACES && ` and ${String(places.length - MOST_PLACES)} more`}
          </span>
          {row.cut && <span className="block text-sm text-soft">cut from {row.cut}</span>}
          {row.cost != null && <span className="block text-sm text-soft">{money(row.cost)}</span>}
          {row.changed && (
            <span className="flex gap-2 font-semibold text-warning">
              <Mark severity="warning" />
              {row.changed}
            </span>
          )}
          {waits && <span className="block text-sm text-soft">kept here, not sent yet</span>}
        </span>
      </label>
      <select
        aria-label={`Where ${row.item} is`}
        className={`min-h-11 shrink-0 border-b-2 border-ink/50 bg-sheet px-1 max-md:mb-1 max-md:ml-[7.75rem] ${row.where === "buy" ? "font-bold" : ""}`}
        disabled={!canRecord}
        value={row.where}
        onChange={(event) => onPut(event.target.value as Where)}
      >
        {PLACES.map(({ value, label }) => (
          <option key={value} value={value}>
            {label}
          </option>
        ))}
      </select>
    </li>
  );
}

/** What had to be fetched: it is asked for at the next install like this one. */
function Forgot({ onForgot }: { onForgot: (item: string) => void }) {
  const [typed, setTyped] = useState("");
  const [kept, setKept] = useState("");
  return (
    <form
      className="mt-6 flex flex-wrap items-center gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        if (typed.trim().length < 2) return;
        onForgot(typed.trim());
        setKept(typed.trim());
        setTyped("");
      }}
    >
      <label className="flex grow flex-wrap items-center gap-2 text-soft">
        What had to be fetched
        <input
          maxLength={120}
          className="min-h-11 grow border-b-2 border-ink/50 bg-sheet px-2 text-ink"
          value={typed}
          onChange={(event) => setTyped(event.target.value)}
        />
      </label>
      <Button type="submit">Ask for it next time</Button>
      {kept && (
        <p role="status" className="w-full text-soft">
          {kept}: asked for at the next install with such a unit.
        </p>
      )}
    </form>
  );
}
