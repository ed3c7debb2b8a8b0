/** Everything that is open in an install, by station, worst first; each leads to its place. */
import { Link } from "react-router";

import type { Finding, Patch, StationAt } from "../../api/client";
import type { PlanHandle } from "../../plan/usePlan";
import { Follows } from "../../ui/Findings";
import { Button, Mark, severityColour } from "../../ui/parts";
import { placeOf } from "./places";

interface Props {
  plan: PlanHandle;
  readOnly: boolean;
}

export function Open({ plan, readOnly }: Props) {
  if (!plan.plan) return null;
  const { install, result } = plan.plan;
  const byKey = new Map(result.findings.map((row) => [row.key, row]));
  const stations = result.stations.filter((station) => station.findings.length > 0);
  return (
    <main className="mt-2 grow border-t border-rule px-5 pb-16 md:px-7">
      <h2 className="pt-5 text-2xl font-bold">{stations.length ? "Everything that is open" : "Nothing is open"}</h2>
      <p className="mt-1 text-soft">
        {stations.length
          ? "Worst first at each station. Each leads to its place."
          : `Nothing stands against the plan. Next: ${install.next}.`}
      </p>
      {stations.map((station) => (
        <section key={station.id} aria-label={station.name} className="mt-6">
          <h3 className="border-t-2 border-ink pt-3 text-lg font-bold">
            {station.name} <span className="font-normal text-soft">{station.says}</span>
          </h3>
          <ul>
            {station.findings.map((key) => {
              const row = byKey.get(key);
              return (
                row && (
                  <Row key={key} row={row} station={station} install={install.id} plan={plan} readOnly={readOnly} />
                )
              );
            })}
          </ul>
        </section>
      ))}
    </main>
  );
}

interface RowProps {
  row: Finding;
  station: StationAt;
  install: string;
  plan: PlanHandle;
  readOnly: boolean;
}

function Row({ row, station, install, plan, readOnly }: RowProps) {
  const place = placeOf(row.about, station.id);
  return (
    <li className="flex flex-wrap items-start gap-x-4 gap-y-1 border-t border-rule py-2 first:border-0">
      <span className={`pt-0.5 ${severityColour[row.severity]}`}>
        <Mark severity={row.severity} />
      </span>
      <span className="min-w-48 flex-1">
        <Link
          className="underline decoration-faint underline-offset-4 hover:decoration-copper"
          to={`/installs/${install}/${place.to}`}
        >
          {place.name && <b>{place.name}</b>} {row.message}
        </Link>
        <span className="block text-sm text-soft">
          {row.severity}: {row.article}
        </span>
        <Follows finding={row} />
      </span>
      {row.fix && !readOnly && (
        <Button onClick={() => plan.change(row.fix as Patch, row.fix_label ?? "Fix")}>{row.fix_label}</Button>
      )}
    </li>
  );
}
