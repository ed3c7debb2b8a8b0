/** Patterns that a crew picks: explained in a sentence, fitted to what is there, placed in one go. */
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";

import { api, data, type Patch, type PatternOut } from "../../api/client";
import type { PlanHandle } from "../../plan/usePlan";
import { Button, Mark, severityColour } from "../../ui/parts";
import { sentence } from "../../ui/text";

interface Props {
  install: string;
  revision: number;
  system: string;
  plan: PlanHandle;
  readOnly: boolean;
  onPlaced: () => void;
}

export function Patterns({ install, revision, system, plan, readOnly, onPlaced }: Props) {
  const [chosen, setChosen] = useState<string | null>(null);
  const found = useQuery({
    queryKey: ["patterns", install, revision, system],
    queryFn: async () =>
      data(
        await api.GET("/api/installs/{install_id}/bench/patterns", {
          params: { path: { install_id: install }, query: { near: system } },
        }),
      ),
    staleTime: Infinity,
    placeholderData: (before) => before,
  });
  if (!found.data) return <p className="mt-5 text-soft">Reading the patterns …</p>;
  const suits = (entry: PatternOut) => Object.values(entry.candidates).every((devices) => devices.length > 0);
  const ordered = [...found.data].sort((one, two) => Number(suits(two)) - Number(suits(one)));
  const placed = Object.values(plan.document?.patterns ?? {}).map((entry) => entry.pattern);
  return (
    <ul className="mt-3 max-w-4xl">
      {ordered.map((entry) => {
        const here = entry.id === chosen;
        const times = placed.filter((id) => id === entry.id).length;
        return (
          <li key={entry.id} className="border-t border-rule">
            <button
              type="button"
              aria-expanded={here}
              className={`min-h-14 w-full py-2 text-left ${suits(entry) ? "" : "text-soft"} hover:text-copper-deep`}
              onClick={() => setChosen(here ? null : entry.id)}
            >
              <b className="block text-lg leading-tight">
                {entry.name}
                {times > 0 && (
                  <span className="font-normal text-soft"> · in this plan{times > 1 ? ` ${times} times` : ""}</span>
                )}
              </b>
              <span>{entry.says}</span>
            </button>
            {here && (
              <Fit
                key={`${entry.id} ${revision}`}
                install={install}
                revision={revision}
                system={system}
                pattern={entry}
                plan={plan}
                readOnly={readOnly}
                onPlaced={onPlaced}
              />
            )}
          </li>
        );
      })}
    </ul>
  );
}

interface FitProps extends Props {
  pattern: PatternOut;
}

function Fit({ install, revision, system, pattern, plan, readOnly, onPlaced }: FitProps) {
  const [parts, setParts] = useState<Record<string, string>>({});
  const [length, setLength] = useState("10");
  const feet = Number(length.replace(",", "."));
  const wrong = !(Number.isFinite(feet) && feet >= 0 && feet <= 2000) || length.trim() === "";
  const found = useQuery({
    queryKey: ["fit", install, revision, system, pattern.id, parts, feet],
    enabled: !wrong,
    queryFn: async () =>
      data(
        await api.POST("/api/installs/{install_id}/bench/fits", {
          params: { path: { install_id: install } },
          body: { pattern: pattern.id, near: system, parts, length_ft: feet },
        }),
      ),
    staleTime: Infinity,
    placeholderData: (before) => before,
  });
  const fit = found.data;
  // What stands here while another unit or length is worked out is the fit before: it is not put in.
  const shown = !wrong && !found.isPlaceholderData && !found.isFetching;
  const grave = fit?.findings.filter((row) => row.severity !== "note") ?? [];
  return (
    <div className="mb-4 border-l-4 border-copper bg-sheet px-4 py-3">
      <div className="flex flex-wrap items-end gap-x-6 gap-y-2">
        {Object.entries(pattern.candidates).map(([part, devices]) => (
          <label key={part} className="grid gap-1">
            <span className="text-sm text-soft">{sentence(part)}</span>
            <select
              className={FIELD}
              value={parts[part] ?? devices[0] ?? ""}
              disabled={devices.length < 2}
              onChange={(event) => setParts({ ...parts, [part]: event.target.value })}
            >
              {devices.length ? (
                devices.map((device) => <option key={device}>{device}</option>)
              ) : (
                <option>none here</option>
              )}
            </select>
          </label>
        ))}
        <label className="grid gap-1">
          <span className="text-sm text-soft">Each new cable, ft</span>
          <input
            className={`${FIELD} w-28`}
            inputMode="decimal"
            value={length}
            aria-invalid={wrong}
            onChange={(event) => setLength(event.target.value)}
          />
        </label>
      </div>
      {wrong && (
        <p role="alert" className="mt-2 text-warning">
          Cable length: “{length}” will not do. Type a number of feet from 0 to 2000.
        </p>
      )}
      {found.isError && <p className="mt-2 text-warning">It could not be fitted. Try again in a moment.</p>}
      {fit && fit.obstacles.length > 0 && (
        <ul className="mt-3">
          {fit.obstacles.map((obstacle) => (
            <li key={obstacle.says}>
              <p className="flex items-center gap-2 font-bold text-stop">
                <Mark severity="stop" /> {obstacle.says}
              </p>
              {!readOnly &&
                obstacle.ways.map((way) => (
                  <p key={way.label} className="mt-2 flex flex-wrap items-center gap-3 pl-8">
                    <span>
                      <b>{way.label}</b> <span className="text-soft">{way.message}</span>
                    </span>
                    {way.fix && <Button onClick={() => plan.change(way.fix as Patch, way.label)}>do it</Button>}
                  </p>
                ))}
            </li>
          ))}
        </ul>
      )}
      {fit?.patch && (
        <div className="mt-3">
          <p>
            {fit.devices.length ? (
              <>
                Puts in <b>{fit.devices.join(", ")}</b> and{" "}
              </>
            ) : (
              "Puts in no device and "
            )}
            <b>{fit.cables.length === 1 ? "one cable" : `${fit.cables.length} cables`}</b>, every conductor landed.
          </p>
          {fit.proved.length > 0 && (
            <p className="mt-1">
              On the bench: <b>{fit.proved.join("; ")}</b>.
            </p>
          )}
          {grave.length > 0 && (
            <ul className="mt-2">
              {grave.map((row) => (
                <li
                  key={`${row.code} ${row.about}`}
                  className={`flex items-center gap-2 ${severityColour[row.severity]}`}
                >
                  <Mark severity={row.severity} /> {row.message}
                </li>
              ))}
            </ul>
          )}
          {!readOnly && (
            <Button
              kind="main"
              className="mt-3"
              disabled={!shown}
              onClick={() => {
                plan.record(
                  "bench/placements",
                  { pattern: pattern.id, near: system, parts, length_ft: feet, patch: fit.patch },
                  `Put in: ${pattern.name}`,
                );
                onPlaced();
              }}
            >
              Put it in
            </Button>
          )}
        </div>
      )}
    </div>
  );
}

const FIELD = "min-h-11 rounded-sm border border-ink/60 bg-paper px-3";
