/** The bench: press what calls and what happens, and see what is live, what pulls in, and why. */
import { useQuery } from "@tanstack/react-query";
import { useSearchParams } from "react-router";

import { api, type BenchOverview, data, type MistakeShown, type Report } from "../../api/client";
import type { PlanHandle } from "../../plan/usePlan";
import { NavRow } from "../../ui/NavRow";
import { Budgets } from "./Budgets";
import { Diagnose } from "./Diagnose";
import { Live } from "./Live";
import { Matrix } from "./Matrix";
import { Patterns } from "./Patterns";
import { SetUp } from "./SetUp";
import { Slips } from "./Slips";
import { useAnalysis } from "./useAnalysis";

const SHEETS = [
  { id: "live", name: "Try it" },
  { id: "patterns", name: "Patterns" },
  { id: "matrix", name: "What stops what" },
  { id: "slips", name: "If someone slips" },
  { id: "diagnose", name: "Wrong reading" },
  { id: "budgets", name: "Transformers" },
  { id: "setup", name: "Set-up" },
] as const;

const SOUND = { slip: null, says: null, on: null, before: null };

export function useBench(install: string, revision: number, system: string | null) {
  return useQuery({
    queryKey: ["bench", install, revision, system],
    queryFn: async () =>
      data(
        await api.GET("/api/installs/{install_id}/bench", {
          params: { path: { install_id: install }, query: system ? { system } : {} },
        }),
      ),
    staleTime: Infinity,
    placeholderData: (before) => before,
  });
}

interface Props {
  plan: PlanHandle;
  readOnly: boolean;
  canRecord: boolean;
}

export function Bench({ plan, readOnly, canRecord }: Props) {
  const [query, setQuery] = useSearchParams();
  const install = plan.plan?.install;
  const wanted = query.get("system");
  const found = useBench(install?.id ?? "", install?.revision ?? 0, wanted);
  const sheet = SHEETS.find((entry) => entry.id === query.get("sheet"))?.id ?? "live";
  const key = found.data?.system?.key ?? "";
  const asking = key !== "" && (sheet === "slips" || sheet === "diagnose");
  const analysis = useAnalysis(install?.id ?? "", install?.revision ?? 0, key, asking);
  if (!install) return null;
  const show = (changes: Record<string, string | null>) => {
    const next = new URLSearchParams(query);
    for (const [key, value] of Object.entries(changes)) {
      if (value === null) next.delete(key);
      else next.set(key, value);
    }
    setQuery(next);
  };
  if (found.isError) return <p className="p-7 text-soft">The bench does not answer. Nothing is lost; open it again.</p>;
  if (!found.data) return <p className="p-7 text-soft">Solving the network …</p>;
  const { system } = found.data;
  const onShow = (mistake: MistakeShown, report: Report) => {
    const trial = report.trials[mistake.trial ?? 0];
    const on = trial?.on.length ? trial.on.join(",") : null;
    const before = trial?.before?.length ? trial.before.join(",") : null;
    show({ slip: mistake.id, says: mistake.says, on, before, sheet: "live" });
  };
  return (
    <main className="mt-2 grid grow grid-cols-[minmax(0,1fr)] content-start border-t border-rule lg:grid-cols-[14rem_minmax(0,1fr)] lg:content-stretch">
      <Systems
        overview={found.data}
        current={system?.key ?? null}
        onOpen={(next) => show({ system: next, ...SOUND })}
      />
      <div className="min-w-0 px-5 pt-3 pb-16 md:px-7">
        {system ? (
          <>
            <div className="flex flex-wrap items-center gap-x-6">
              <div role="tablist" aria-label="Sheets of the bench" className="flex flex-wrap gap-x-6">
                {SHEETS.map((entry) => (
                  <Tab
                    key={entry.id}
                    name={entry.name}
                    here={entry.id === sheet}
                    onOpen={() => show({ sheet: entry.id })}
                  />
                ))}
              </div>
              <a
                className="min-h-11 py-2.5 underline decoration-faint underline-offset-4 hover:decoration-copper md:ml-auto"
                href={`/api/installs/${install.id}/controls.pdf?system=${system.key}`}
              >
                Print the control sheet
              </a>
            </div>
            {sheet === "live" && (
              <Live
                key={`${system.key} ${query.get("slip") ?? ""}`}
                begin={[query.get("before"), query.get("on")]}
                says={query.get("says")}
                plan={plan}
                readOnly={readOnly}
                install={install.id}
                revision={install.revision}
                system={system}
                slip={query.get("slip")}
                onSound={() => show(SOUND)}
              />
            )}
            {sheet === "matrix" && (
              <Matrix overview={found.data} plan={plan} readOnly={readOnly} canRecord={canRecord} system={system} />
            )}
            {sheet === "patterns" && (
              <Patterns
                install={install.id}
                revision={install.revision}
                system={system.key}
                plan={plan}
                readOnly={readOnly}
                onPlaced={() => show({ sheet: "live", ...SOUND })}
              />
            )}
            {sheet === "setup" && <SetUp key={system.key} system={system.key} plan={plan} canRecord={canRecord} />}
            {sheet === "slips" && <Slips handle={analysis} onShow={onShow} />}
            {sheet === "diagnose" && (
              <Diagnose key={system.key} install={install.id} handle={analysis} onShow={onShow} />
            )}
            {sheet === "budgets" && <Budgets budgets={found.data.budgets} />}
          </>
        ) : (
          <Empty known={wanted !== null} />
        )}
      </div>
    </main>
  );
}

function Empty({ known }: { known: boolean }) {
  return (
    <div className="py-10">
      <h2 className="text-2xl font-bold">{known ? "That device is in no control system" : "Nothing to try yet"}</h2>
      <p className="mt-2 max-w-lg text-soft">
        A control system is devices joined by landed conductors. Put the devices in and land their cables; then every
        call can be tried here before the power is on.
      </p>
    </div>
  );
}

function Tab({ name, here, onOpen }: { name: string; here: boolean; onOpen: () => void }) {
  return (
    <button
      type="button"
      role="tab"
      aria-selected={here}
      className={`min-h-11 ${here ? "font-bold" : "text-soft hover:text-ink"}`}
      onClick={onOpen}
    >
      <span className={`border-b-3 pb-0.5 ${here ? "border-copper" : "border-transparent"}`}>{name}</span>
    </button>
  );
}

interface SystemsProps {
  overview: BenchOverview;
  current: string | null;
  onOpen: (key: string) => void;
}

/** The control systems of the plan; what the bench found stands beside each. */
function Systems({ overview, current, onOpen }: SystemsProps) {
  return (
    <nav
      aria-label="Control systems"
      className="relative border-rule max-lg:flex max-lg:overflow-x-auto max-lg:border-b lg:border-r lg:pb-8"
    >
      <h2 className="px-5 pt-3 pb-1 text-sm font-bold text-copper-deep max-lg:hidden md:pl-7">Control systems</h2>
      {overview.systems.map((system) => (
        <NavRow
          key={system.key}
          name={system.key}
          title={system.title}
          here={system.key === current}
          grave={system.worst ?? null}
          className="shrink-0 max-lg:w-44 max-lg:border-b-4 lg:border-l-4"
          onOpen={() => onOpen(system.key)}
        />
      ))}
    </nav>
  );
}
