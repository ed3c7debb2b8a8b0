/** The stations of the work on one line: heavy where it is in order, open where something is left, cut where it is stuck. */
import { useState } from "react";
import { Link } from "react-router";

import type { StationAt } from "../api/client";
import { LookSwitch } from "./LookSwitch";
import { UnitsSwitch } from "./UnitsSwitch";

const SAYS: Record<StationAt["state"], string> = {
  stop: "ml-2 font-semibold text-stop",
  open: "ml-2 font-normal text-soft",
  done: "sr-only",
  unknown: "sr-only",
};

interface Props {
  install: string;
  stations: readonly StationAt[];
  current: string;
}

export function Stations({ install, stations, current }: Props) {
  const [open, setOpen] = useState(false);
  const at = stations.find((station) => station.id === current);
  return (
    <nav aria-label="Stations of the work" className="px-5 md:px-7">
      <button
        type="button"
        aria-expanded={open}
        className="flex min-h-11 w-full items-center gap-3 border-b border-rule text-left md:hidden"
        onClick={() => setOpen(!open)}
      >
        {at && <Sign station={at} here />}
        <b className="text-copper-deep">{at?.name ?? "Stations"}</b>
        <span className="text-soft">{at?.says}</span>
        <span className="ml-auto underline decoration-faint underline-offset-4">
          {open ? "close" : "other stations"}
        </span>
      </button>
      {open && (
        <p className="flex gap-x-6 md:hidden">
          <LookSwitch />
          <UnitsSwitch />
        </p>
      )}
      <ol className={`md:flex ${open ? "" : "max-md:hidden"}`}>
        {stations.map((station, index) => (
          <li key={station.id} className={index < stations.length - 1 ? "flex-1" : ""}>
            <Link
              to={`/installs/${install}/${station.id}`}
              aria-current={station.id === current ? "page" : undefined}
              className="group min-h-11 pr-2 max-md:flex max-md:items-center max-md:gap-3 md:block"
              onClick={() => setOpen(false)}
            >
              <span aria-hidden className="relative flex h-4 items-center">
                {index < stations.length - 1 && <Way state={station.state} />}
                <Sign station={station} here={station.id === current} />
              </span>
              <span
                className={`block pt-0.5 ${station.id === current ? "font-bold text-copper-deep" : "text-soft group-hover:text-ink"}`}
              >
                {station.name} <span className={SAYS[station.state]}>{station.says}</span>
              </span>
            </Link>
          </li>
        ))}
      </ol>
    </nav>
  );
}

/** The line from a station to the next: what is in order is drawn through, what is not begun is dashed. */
function Way({ state }: { state: StationAt["state"] }) {
  const look = {
    done: "h-1 bg-ink",
    stop: "h-0.5 bg-faint",
    open: "h-0.5 bg-faint",
    unknown: "border-t-2 border-dashed border-faint",
  }[state];
  return (
    <span className="max-md:hidden">
      <span className={`absolute right-[-8px] left-0 ${look}`} />
      {state === "open" && <span className="absolute left-0 h-1 w-1/3 bg-ink" />}
      {state === "stop" && (
        <span className="absolute top-0 left-8 flex gap-1.5">
          <span className="h-3.5 w-1 rotate-[-18deg] bg-stop" />
          <span className="h-3.5 w-1 rotate-[-18deg] bg-stop" />
        </span>
      )}
    </span>
  );
}

function Sign({ station, here }: { station: StationAt; here: boolean }) {
  const begun = station.state !== "unknown";
  return (
    <span
      aria-hidden
      className={`relative inline-block shrink-0 ${here ? "h-5 w-2 bg-copper" : `h-4 w-1.5 ${begun ? "bg-ink" : "bg-faint"}`}`}
    />
  );
}
