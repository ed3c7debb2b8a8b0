/** Everything that is open in an install, by station, worst first; each leads to its place. */
import { Link } from "react-router";

import type { Finding, StationAt } from "../../api/client";
import type { PlanHandle } from "../../plan/usePlan";
import { FindingRow } from "../../ui/Findings";
import { placeOf } from "../../plan/places";

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
                  <FindingRow
                    key={key}
                    finding={row}
                    plan={plan}
                    readOnly={readOnly}
                    title={<Place row={row} station={station} install={install.id} />}
                  />
                )
              );
            })}
          </ul>
        </section>
      ))}
    </main>
  );
}

interface PlaceProps {
  row: Finding;
  station: StationAt;
  install: string;
}

/** A finding's words as the way to its place. */
function Place({ row, station, install }: PlaceProps) {
  const place = placeOf(row.about, station.id);
  return (
    <Link
      className="underline decoration-faint underline-offset-4 hover:decoration-copper"
      to={`/installs/${install}/${place.to}`}
    >
      {place.name && <b>{place.name}</b>} {row.message}
    </Link>
  );
}
