/** The site: where it is and what it is, what feeds it, what is asked about it; the rules that hold there follow. */
import type { ReactNode } from "react";
import { Link } from "react-router";

import type { Finding, Source } from "../../api/client";
import { findingsAt } from "../../api/findings";
import vocabulary from "../../api/vocabulary.json";
import { gravest, say } from "../../drawing/parts";
import { addPanel } from "../../plan/addPanel";
import type { PlanHandle } from "../../plan/usePlan";
import { fields, options, Sentence } from "../../ui/fields";
import { Button, Mark, severityColour } from "../../ui/parts";
import { PowerOff } from "./PowerOff";

interface Props {
  plan: PlanHandle;
  readOnly: boolean;
  /** The rules of the install. */
  children: ReactNode;
}

const INSPECTIONS = ["rough-in", "final"] as const;
const MEASURED = [
  ["insulation", "insulation before power"],
  ["power", "power and power factor"],
] as const;

export function Site({ plan, readOnly, children }: Props) {
  const { document, plan: server } = plan;
  if (!document || !server) return null;
  const site = fields(plan, "site", readOnly);
  const found = document.site;
  const all = Object.entries(document.sources ?? {});
  // What stands in for a source stands beneath it.
  const sources = all
    .filter(([, source]) => !source.in_place_of)
    .flatMap((entry) => [entry, ...all.filter(([, source]) => source.in_place_of === entry[0])]);
  const asked = Object.keys(document.questions ?? {}).length;
  const here = `/installs/${server.install.id}`;
  return (
    <main className="mt-2 border-t border-rule pb-16">
      <section aria-label="Where it is" className="px-5 pt-5 md:px-7">
        <Sentence>
          {site.text("name", "Site name", found.name, undefined, "which site?")},{" "}
          {site.text("place", "Place on the site", found.place, undefined, "where on it?")}: a{" "}
          {site.choice("occupancy", "Occupancy", found.occupancy, options(...vocabulary.occupancies), "which?")}{" "}
          occupancy. Address: {site.text("address", "Address", found.address, undefined, "street and town?")}.
        </Sentence>
        <Sentence>
          Permit {site.text("permit", "Permit number", found.permit, undefined, "number?")} of{" "}
          {site.text("permit_date", "Permit date", found.permit_date, undefined, "when?")}, under licence{" "}
          {site.text("licence", "Licence", found.licence, undefined, "whose?")}. Inspections:{" "}
          {INSPECTIONS.map((name) => (
            <Asked
              key={name}
              name={name}
              asked={found.inspections ?? []}
              readOnly={readOnly}
              onAsk={(inspections) => plan.change({ site: { inspections } }, "Inspections")}
            />
          ))}
        </Sentence>
        <Sentence>
          Measured beside the usual, where the job asks for it:{" "}
          {MEASURED.map(([name, words]) => (
            <Asked
              key={name}
              name={name}
              words={words}
              asked={found.measured ?? []}
              readOnly={readOnly}
              onAsk={(measured) => plan.change({ site: { measured } }, "Measured beside the usual")}
            />
          ))}
        </Sentence>
      </section>
      <section aria-label="What feeds it" className="px-5 pt-5 md:px-7">
        <h2 className="text-lg font-bold">What feeds it</h2>
        <ul className="mt-1">
          {sources.map(([id, source]) => (
            <Feed
              key={id}
              to={source.in_place_of ? `${here}/supply?source=${id}` : `${here}/panels?panel=${id}`}
              id={id}
              source={source}
              base={source.in_place_of ? (document.sources?.[source.in_place_of]?.name ?? source.in_place_of) : null}
              lines={server.result.lines.find((group) => group.source === id)?.circuits.length ?? 0}
              findings={findingsAt(server.result, `sources/${id}`)}
            />
          ))}
        </ul>
        {sources.length === 0 && (
          <p className="mt-2 max-w-xl border-l-[9px] border-dashed border-faint py-2 pl-4 text-soft">
            No panel yet. Add the one that feeds this install and read its label: volts, phases, bus, spaces.
          </p>
        )}
        <p className="mt-3 flex flex-wrap items-center gap-x-6 gap-y-2">
          {!readOnly && <Button onClick={() => addPanel(plan)}>Add a panel</Button>}
          <Link
            className="inline-flex min-h-11 items-center underline decoration-faint underline-offset-4"
            to={`${here}/suit`}
          >
            Does a unit suit its room? {asked > 0 && `${asked} asked`}
          </Link>
        </p>
      </section>
      {sources.length > 0 && <PowerOff plan={plan} sources={sources} readOnly={readOnly} />}
      <div id="rules" className="mt-8">
        {children}
      </div>
    </main>
  );
}

interface FeedProps {
  to: string;
  id: string;
  source: Source;
  /** In whose place it stands, if in any. */
  base: string | null;
  lines: number;
  findings: readonly Finding[];
}

/** A source as its spine, with what it gives and how many lines begin at it. */
function Feed({ to, id, source, base, lines, findings }: FeedProps) {
  const grave = gravest(findings);
  const first = findings.find((finding) => finding.severity === grave);
  const gives = [
    source.kind,
    source.volts ? say(source.volts, "V") : "volts?",
    source.phase ? `${source.phase} ${source.phase === 1 ? "phase" : "phases"}` : "phases?",
    base ? `in place of ${base}` : "",
    source.bus_a ? `${say(source.bus_a, "A")} bus` : "",
  ];
  return (
    <li className="border-b border-rule">
      <Link to={to} className="flex min-h-14 items-stretch gap-x-4 hover:bg-sheet">
        <span
          aria-hidden
          className={`w-[9px] shrink-0 ${source.volts ? "bg-ink" : "border-l-4 border-dashed border-faint"}`}
        />
        <span className="flex flex-1 flex-wrap items-center gap-x-4 py-2">
          <b className="text-lg">{source.name ?? id}</b>
          <span className="text-soft">{gives.filter(Boolean).join(", ")}</span>
          {!source.in_place_of && (
            <span className="text-soft">
              {lines} {lines === 1 ? "line" : "lines"}
            </span>
          )}
          {first && grave !== "note" && (
            <span className={`flex items-center gap-2 font-semibold ${severityColour[first.severity]}`}>
              <Mark severity={first.severity} />
              {first.message}
            </span>
          )}
        </span>
        <span className="self-center pr-2 whitespace-nowrap underline decoration-faint underline-offset-4 max-md:hidden">
          {source.in_place_of ? "its start" : "spaces and demand"}
        </span>
      </Link>
    </li>
  );
}

interface AskedProps<T extends string> {
  name: T;
  words?: string;
  asked: readonly T[];
  readOnly: boolean;
  onAsk: (asked: T[]) => void;
}

/** One of the things that are asked, to be ticked. */
function Asked<T extends string>({ name, words = name, asked, readOnly, onAsk }: AskedProps<T>) {
  return (
    <label className="mr-3 inline-flex min-h-11 items-center gap-2 align-middle">
      <input
        type="checkbox"
        className="size-5 accent-copper"
        disabled={readOnly}
        checked={asked.includes(name)}
        onChange={(event) => {
          const others = asked.filter((one) => one !== name);
          onAsk(event.target.checked ? [...others, name] : others);
        }}
      />
      {words}
    </label>
  );
}
