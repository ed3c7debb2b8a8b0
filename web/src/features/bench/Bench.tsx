/** The bench: press what calls and what happens, and see what is live, what pulls in, and why. */
import { useQuery } from "@tanstack/react-query";
import { useSearchParams } from "react-router";

import { api, type BenchOverview, data, type MistakeShown, type Report } from "../../api/client";
import type { PlanHandle } from "../../plan/usePlan";
import { NavRow } from "../../ui/NavRow";
import { Budgets } from "./Budgets";
import { Frame } from "./Frame";
import { Live } from "./Live";
import { Matrix } from "./Matrix";
import { Patterns } from "./Patterns";
import { SetUp } from "./SetUp";
import { Slips } from "./Slips";
import { useAnalysis } from "./useAnalysis";

const SHEETS = [
  { id: "live", name: "Try it" },
  { id: "matrix", name: "What stops what" },
  { id: "slips", name: "If someone slips" },
  { id: "patterns", name: "Add an accessory" },
] as const;
/** Reached from the thing: a transformer on the drawing, the settings of the devices. */
const BESIDE = ["budgets", "setup"] as const;

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
  const asked = query.get("sheet");
  const sheet = SHEETS.find((entry) => entry.id === asked)?.id ?? BESIDE.find((entry) => entry === asked) ?? "live";
  const key = found.data?.system?.key ?? "";
  const asking = key !== "" && sheet === "slips";
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
  const nav = (
    <Systems overview={found.data} current={system?.key ?? null} onOpen={(next) => show({ system: next, ...SOUND })} />
  );
  if (!system)
    return (
      <Frame side={nav}>
        <Empty known={wanted !== null} />
      </Frame>
    );
  const tabs = (
    <div className="flex flex-wrap items-center gap-x-6 px-5 pt-2 max-lg:order-2 md:px-7">
      <div role="tablist" aria-label="Sheets of the bench" className="flex flex-wrap gap-x-6">
        {SHEETS.map((entry) => (
          <Tab key={entry.id} name={entry.name} here={entry.id === sheet} onOpen={() => show({ sheet: entry.id })} />
        ))}
      </div>
      <span className="flex gap-x-6 md:ml-auto">
        <button
          type="button"
          aria-pressed={sheet === "setup"}
          className="flex min-h-11 items-center underline decoration-faint underline-offset-4 hover:decoration-copper"
          onClick={() => show({ sheet: "setup" })}
        >
          Settings of its devices
        </button>
        <a
          className="flex min-h-11 items-center underline decoration-faint underline-offset-4 hover:decoration-copper"
          href={`/api/installs/${install.id}/controls.pdf?system=${system.key}`}
        >
          Print the control sheet
        </a>
      </span>
    </div>
  );
  if (sheet === "live")
    return (
      <Live
        key={`${system.key} ${query.get("slip") ?? ""}`}
        nav={nav}
        tabs={tabs}
        begin={[query.get("before"), query.get("on")]}
        says={query.get("says")}
        plan={plan}
        readOnly={readOnly}
        install={install.id}
        revision={install.revision}
        system={system}
        slip={query.get("slip")}
        onSound={() => show(SOUND)}
        onBudgets={() => show({ sheet: "budgets" })}
      />
    );
  return (
    <Frame side={nav} tabs={tabs}>
      {sheet === "matrix" && <Matrix overview={found.data} plan={plan} readOnly={readOnly} system={system} />}
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
      {sheet === "slips" && <Slips key={system.key} install={install.id} handle={analysis} onShow={onShow} />}
      {sheet === "budgets" && <Budgets budgets={found.data.budgets} />}
    </Frame>
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
      className="relative border-rule max-lg:order-1 max-lg:flex max-lg:overflow-x-auto max-lg:border-b"
    >
      <h2 className="px-5 pt-3 pb-1 text-sm text-soft max-lg:hidden md:pl-7">Control system</h2>
      {overview.systems.map((system) => (
        <NavRow
          key={system.key}
          name={system.key}
          title={system.title}
          here={system.key === current}
          grave={system.worst ?? null}
          className="shrink-0 max-lg:w-44 max-lg:border-b-4 lg:border-l-4"
          oneLine
          onOpen={() => onOpen(system.key)}
        />
      ))}
    </nav>
  );
}
