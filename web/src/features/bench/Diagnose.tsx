/** Readings that look wrong: type what was found, and see which mistakes explain it, and what to read next. */
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";

import { type Analysis, api, data, type FoundReading, type MistakeShown, type Report } from "../../api/client";
import { Button } from "../../ui/parts";
import { sentence } from "../../ui/text";
import { named } from "./meter";

/** A reading that is asked for, before it is typed. */
interface Start {
  trial: number;
  a: string;
  b: string;
}

interface Props {
  install: string;
  analysis: Analysis;
  report: Report;
  onShow: (mistake: MistakeShown, report: Report) => void;
}

export function Diagnose({ install, analysis, report, onShow }: Props) {
  const [readings, setReadings] = useState<FoundReading[]>([]);
  const found = useQuery({
    queryKey: ["diagnosis", analysis.id, readings],
    queryFn: async () =>
      data(
        await api.POST("/api/installs/{install_id}/analyses/{analysis_id}/diagnoses", {
          params: { path: { install_id: install, analysis_id: analysis.id } },
          body: { readings },
        }),
      ),
    placeholderData: keepPreviousData,
    staleTime: Infinity,
  });
  const [start, setStart] = useState<Start | null>(null);
  const add = (reading: FoundReading) => {
    setStart(null);
    setReadings((now) => [...now, reading]);
  };
  const following = found.data?.following;
  const byId = new Map(report.mistakes.map((row) => [row.id, row]));
  return (
    <div className="mt-4 grid gap-x-12 gap-y-8 xl:grid-cols-[26rem_minmax(0,1fr)]">
      <section aria-label="What was found">
        <h2 className="text-lg font-bold">What was found</h2>
        {readings.length === 0 && <p className="text-soft">Nothing yet. Type the first reading that looked wrong.</p>}
        <ul>
          {readings.map((reading, at) => (
            <li key={`${at} ${reading.a ?? ""}`} className="flex items-center gap-3 border-t border-rule py-1">
              <span className="flex-1">
                {report.trials[reading.trial]?.says}: <b>{inWords(reading)}</b>
              </span>
              <button
                type="button"
                className="min-h-11 text-soft underline decoration-faint underline-offset-4 hover:decoration-copper"
                onClick={() => setReadings((now) => now.filter((_, other) => other !== at))}
              >
                take out
              </button>
            </li>
          ))}
        </ul>
        <NewReading
          key={`${readings.length} ${start ? `${start.trial} ${start.a}` : ""}`}
          analysis={analysis}
          report={report}
          start={start}
          onAdd={add}
        />
      </section>
      <section aria-label="What explains it" aria-live="polite">
        <h2 className="text-lg font-bold">What explains it</h2>
        {readings.length === 0 ? (
          <p className="text-soft">Every single mistake of this system is weighed against each reading.</p>
        ) : (
          <ol>
            {found.data?.suspects.slice(0, 8).map((suspect) => {
              const row = suspect.id ? byId.get(suspect.id) : undefined;
              return (
                <li key={suspect.id ?? "sound"} className="flex items-center gap-4 border-t border-rule py-2">
                  <b className="w-14 text-right text-lg">
                    {suspect.share >= 0.005 ? `${Math.round(suspect.share * 100)} %` : "< 1 %"}
                  </b>
                  <span className="flex-1">
                    <b>{row ? sentence(row.says) : "Nothing is wrong: the plan as it is."}</b>
                    {row?.what && <span className="block text-sm text-soft">{row.what}</span>}
                  </span>
                  {row && <Button onClick={() => onShow(row, report)}>on the bench</Button>}
                </li>
              );
            })}
          </ol>
        )}
        {readings.length > 0 && (
          <p className="mt-3 border-l-4 border-copper bg-sheet px-4 py-3">
            {following ? (
              <>
                <b>Next:</b> with {report.trials[following.trial]?.says}
                {following.a && following.b
                  ? `, read ${named(following.a)} to ${named(following.b)}.`
                  : ", look what runs."}
                {following.a && following.b && (
                  <button
                    type="button"
                    className="ml-3 min-h-11 underline decoration-faint underline-offset-4 hover:decoration-copper"
                    onClick={() => setStart({ trial: following.trial, a: following.a ?? "", b: following.b ?? "" })}
                  >
                    Type it
                  </button>
                )}
              </>
            ) : (
              <>
                <b>No further reading tells them apart.</b> Look at the landings of those that are left.
              </>
            )}
          </p>
        )}
      </section>
    </div>
  );
}

function inWords(reading: FoundReading): string {
  if (reading.watched) return `${reading.watched.split(".").join(" ")} ${reading.on ? "runs" : "does not run"}`;
  return `${named(reading.a ?? "")} to ${named(reading.b ?? "")} ${String(reading.volts)} V`;
}

interface NewProps {
  analysis: Analysis;
  report: Report;
  start: Start | null;
  onAdd: (reading: FoundReading) => void;
}

function NewReading({ analysis, report, start, onAdd }: NewProps) {
  const { pairs } = analysis;
  const watched = analysis.watched;
  const first = pairs[0] ? `${pairs[0].a} ${pairs[0].b}` : "";
  const [trial, setTrial] = useState(start?.trial ?? 0);
  const [where, setWhere] = useState(start ? `${start.a} ${start.b}` : first);
  const [volts, setVolts] = useState("");
  const looks = where.startsWith("look ");
  const figure = Number(volts.replace(",", ".").replace("−", "-"));
  const direct = pairs.some(({ a, b, direct: dc }) => dc && where === `${a} ${b}`);
  const least = direct ? -1000 : 0;
  const wrong = volts.trim() !== "" && !(Number.isFinite(figure) && figure >= least && figure <= 1000);
  const send = () => {
    const [a, b] = where.split(" ");
    if (a && b && volts.trim() !== "" && !wrong) onAdd({ trial, a, b, volts: figure });
  };
  return (
    <form
      className="mt-3 grid gap-2 border-t border-rule pt-3"
      onSubmit={(event) => {
        event.preventDefault();
        send();
      }}
    >
      <label className="grid gap-1">
        <span className="text-sm text-soft">With</span>
        <select
          aria-label="With"
          className={FIELD}
          value={trial}
          onChange={(event) => setTrial(Number(event.target.value))}
        >
          {report.trials.map((entry, number) => (
            <option key={entry.says} value={number}>
              {entry.says}
            </option>
          ))}
        </select>
      </label>
      <label className="grid gap-1">
        <span className="text-sm text-soft">Read or looked at</span>
        <select
          aria-label="Read or looked at"
          className={FIELD}
          value={where}
          onChange={(event) => setWhere(event.target.value)}
        >
          <optgroup label="volts between">
            {pairs.map(({ a, b, direct }) => (
              <option key={`${a} ${b}`} value={`${a} ${b}`}>
                {named(a)} to {named(b)}
                {direct ? ", DC" : ""}
              </option>
            ))}
          </optgroup>
          <optgroup label="whether it runs">
            {watched.map((name) => (
              <option key={name} value={`look ${name}`}>
                {name.split(".").join(" ")}
              </option>
            ))}
          </optgroup>
        </select>
      </label>
      {looks ? (
        <div className="flex gap-2">
          <Button onClick={() => onAdd({ trial, watched: where.slice(5), on: true })}>It runs</Button>
          <Button onClick={() => onAdd({ trial, watched: where.slice(5), on: false })}>It does not run</Button>
        </div>
      ) : (
        <div className="flex items-end gap-2">
          <label className="grid grow gap-1">
            <span className="text-sm text-soft">{direct ? "Volts DC, with its sign" : "Volts"}</span>
            <input
              className={FIELD}
              inputMode="decimal"
              value={volts}
              aria-invalid={wrong}
              aria-describedby="reading-wrong"
              onChange={(event) => setVolts(event.target.value)}
            />
          </label>
          <Button kind="main" type="submit" disabled={volts.trim() === "" || wrong}>
            Add
          </Button>
        </div>
      )}
      <p id="reading-wrong" className="text-warning" role="alert">
        {wrong ? `Volts: “${volts}” is no reading. Type a number from ${least} to 1000.` : ""}
      </p>
    </form>
  );
}

const FIELD = "min-h-11 w-full rounded-sm border border-ink/60 bg-sheet px-3";
