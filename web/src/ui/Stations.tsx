/** The stages of the work as stations on one line: heavy as far as the install has come, cut where it is stuck. */
import { Link } from "react-router";

import type { InstallOut } from "../api/client";

export const STATIONS = [
  { id: "lines", name: "Lines" },
  { id: "start-up", name: "Start-up" },
  { id: "handover", name: "Handover" },
] as const;

export type StationId = (typeof STATIONS)[number]["id"];

export function reached(install: InstallOut): number {
  return install.station === "signed"
    ? STATIONS.length
    : STATIONS.findIndex((station) => station.id === install.station);
}

export function Stations({ install, current }: { install: InstallOut; current: string }) {
  const at = reached(install);
  const stuck = Boolean(install.stuck_on);
  return (
    <nav aria-label="Stations of the work" className="px-5 md:px-7">
      <ol className="flex">
        {STATIONS.map((station, index) => {
          const here = station.id === current;
          const passed = index < at;
          return (
            <li key={station.id} className={index < STATIONS.length - 1 ? "flex-1" : ""}>
              <Link
                to={`/installs/${install.id}/${station.id}`}
                aria-current={here ? "page" : undefined}
                className="group block min-h-11 pr-2"
              >
                <span aria-hidden className="relative flex h-4 items-center">
                  {index < STATIONS.length - 1 && (
                    <>
                      <span className={`absolute right-[-8px] left-0 ${passed ? "h-1 bg-ink" : "h-0.5 bg-faint"}`} />
                      {index === at && !stuck && <span className="absolute left-0 h-1 w-1/3 bg-ink" />}
                      {index === at && stuck && (
                        <span className="absolute left-8 flex gap-1.5">
                          <span className="h-4 w-1 rotate-[-18deg] bg-stop" />
                          <span className="h-4 w-1 rotate-[-18deg] bg-stop" />
                        </span>
                      )}
                    </>
                  )}
                  <span
                    className={`relative ${here ? "h-5 w-2 bg-copper" : `h-4 w-1.5 ${index <= at ? "bg-ink" : "bg-faint"}`}`}
                  />
                </span>
                <span
                  className={`block pt-0.5 ${here ? "font-bold text-copper-deep" : "text-soft group-hover:text-ink"}`}
                >
                  {station.name}
                </span>
              </Link>
            </li>
          );
        })}
      </ol>
    </nav>
  );
}
