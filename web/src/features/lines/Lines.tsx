/** Every circuit as a line; the selected part explains itself beside it. */
import { type KeyboardEvent, useEffect, useState } from "react";

import { Link, useSearchParams } from "react-router";

import type { Finding, Patch } from "../../api/client";
import { CompactLine } from "../../drawing/CompactLine";
import { LineDrawing } from "../../drawing/LineDrawing";
import { gravest, type Line, lineOf, say } from "../../drawing/parts";
import type { PlanHandle } from "../../plan/usePlan";
import { Button, Mark, severityColour } from "../../ui/parts";
import { SideScroll } from "../../ui/SideScroll";
import { useWidth } from "../../ui/useWidth";
import { History } from "./History";
import { Ladder } from "./Ladder";
import { NewLine } from "./NewLine";
import { BringSchedule, SayIt } from "./SayIt";
import { Reason } from "./Reason";
import { findingsAt } from "../../api/findings";

interface Selection {
  circuit: string;
  part: string;
}

interface Props {
  plan: PlanHandle;
  readOnly: boolean;
  history: boolean;
  onHistory: (shown: boolean) => void;
  /** The earlier revision that is looked at; none where it is the plan as it stands. */
  at?: number | null;
  onAt?: (revision: number | null) => void;
  /** One line that stands alone: no other is added to it. */
  single?: boolean;
}

/** Up to this many lines all are drawn large; beyond it only the one at hand. */
const ALL_LARGE = 2;

export function Lines({ plan, readOnly, history, onHistory, at = null, onAt = () => undefined, single }: Props) {
  const groups = groupsOf(plan);
  const lines = groups.flatMap((group) => group.lines);
  const many = lines.length > ALL_LARGE;
  const [query] = useSearchParams();
  const [selection, setSelection] = useState<Selection | null>(null);
  // Who comes from a list of what is open has said which line.
  const asked = lines.find(
    (line) => line.circuitId === query.get("line") || (line.unit && line.circuit.equipment === query.get("unit")),
  );
  const current =
    lines.find((line) => line.circuitId === selection?.circuit) ?? asked ?? lines.find(stopped) ?? lines[0];
  const wanted = selection?.part ?? (single ? "unit" : firstPart(current));
  const part =
    current?.parts.find((entry) => entry.id === wanted) ?? current?.parts.find((entry) => entry.kind === "unit");

  function select(circuit: string, id: string, focus = false) {
    setSelection({ circuit, part: id });
    onHistory(false);
    if (focus)
      requestAnimationFrame(() => {
        partElement(circuit, id)?.focus({ preventScroll: many });
        if (many) document.querySelector(`[data-line="${circuit}"]`)?.scrollIntoView({ block: "nearest" });
      });
  }
  function key(event: KeyboardEvent, line: Line, id: string) {
    const along = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
    const across = { ArrowUp: -1, ArrowDown: 1 }[event.key];
    const at = line.parts.findIndex((entry) => entry.id === id);
    if (along) {
      const next = line.parts[at + along];
      if (next) select(line.circuitId, next.id, true);
    } else if (across) {
      const other = lines[lines.indexOf(line) + across];
      const next = other?.parts[Math.min(at, other.parts.length - 1)];
      if (other && next) select(other.circuitId, next.id, true);
    } else if (event.key === "Enter" || event.key === " ") {
      select(line.circuitId, id);
      requestAnimationFrame(() =>
        document.querySelector<HTMLElement>("[data-reason] [data-path]:not(:disabled)")?.focus(),
      );
    } else return;
    event.preventDefault();
  }
  // Esc leads from a field back to the part it belongs to.
  useEffect(() => {
    function back(event: globalThis.KeyboardEvent) {
      const inside = (event.target as HTMLElement).closest("[data-reason]");
      if (event.key === "Escape" && inside && current && part) partElement(current.circuitId, part.id)?.focus();
    }
    window.addEventListener("keydown", back);
    return () => window.removeEventListener("keydown", back);
  });

  return (
    <main className="mt-2 grid grow border-t border-rule lg:min-h-0 lg:grid-cols-[minmax(0,1fr)_24.5rem] lg:grid-rows-[minmax(0,1fr)]">
      <div className="flex min-w-0 flex-col lg:overflow-y-auto">
        {groups.map((group) => (
          <div key={group.source ?? "none"}>
            {many && <GroupHead group={group} plan={plan} readOnly={readOnly} />}
            {group.lines.map((line) =>
              many && line !== current ? (
                <RowLine
                  key={line.circuitId}
                  line={line}
                  onOpen={() => select(line.circuitId, firstPart(line), true)}
                  onStep={(step) => {
                    const other = lines[lines.indexOf(line) + step];
                    if (other) select(other.circuitId, firstPart(other), true);
                  }}
                />
              ) : (
                <OneLine
                  key={line.circuitId}
                  line={line}
                  plan={plan}
                  readOnly={readOnly}
                  many={many}
                  selected={!history && line === current ? (part?.id ?? null) : null}
                  onSelect={(id) => select(line.circuitId, id)}
                  onKey={(event, id) => key(event, line, id)}
                />
              ),
            )}
          </div>
        ))}
        {lines.length === 0 && (
          <div className="px-7 pt-10 pb-1">
            <h2 className="text-2xl font-bold">No line yet</h2>
            <p className="mt-2 max-w-lg text-soft">
              A line runs from a panel to one unit. Say what the plate says, and the rest is computed.
            </p>
          </div>
        )}
        {!readOnly && !single && plan.document && (
          <div className="grid gap-4 px-5 py-4 md:px-7">
            <SayIt
              install={plan.plan?.install.id ?? ""}
              plan={plan}
              onDrawn={(circuit) => select(circuit, "unit", true)}
            />
            <BringSchedule
              install={plan.plan?.install.id ?? ""}
              plan={plan}
              onDrawn={(circuit) => select(circuit, "unit", true)}
            />
            <div>
              <NewLine plan={plan} first={lines.length === 0} onDrawn={(circuit) => select(circuit, "unit", true)} />
            </div>
          </div>
        )}
        <Hints />
      </div>
      <aside
        className="border-rule bg-sheet max-lg:border-t-4 lg:overflow-y-auto lg:border-l-2 lg:border-l-ink"
        aria-label={history ? "History" : "Reason"}
      >
        <div className="px-6 py-5" data-reason>
          {history ? (
            <History
              id={plan.plan?.install.id ?? ""}
              newest={plan.plan?.install.revision ?? 0}
              at={at}
              onAt={onAt}
              onClose={() => onHistory(false)}
            />
          ) : (
            current &&
            part && (
              <Reason
                key={`${current.circuitId} ${part.id}`}
                line={current}
                part={part}
                plan={plan}
                readOnly={readOnly}
              />
            )
          )}
        </div>
      </aside>
    </main>
  );
}

interface Group {
  source: string | null;
  name: string;
  supply: string;
  lines: Line[];
  findings: Finding[];
}

/** The lines by their panels, in the order that the server gives; a line that it has not seen yet stands at its source. */
function groupsOf(plan: PlanHandle): Group[] {
  const { document, plan: server } = plan;
  if (!document || !server) return [];
  const { result } = server;
  const circuits = document.circuits ?? {};
  const many = Object.keys(circuits).length > ALL_LARGE;
  const seen = new Set(result.lines.flatMap((group) => group.circuits));
  const fresh = Object.keys(circuits).filter((id) => !seen.has(id));
  const order = result.lines.map((group) => ({ source: group.source ?? null, circuits: [...group.circuits] }));
  for (const id of fresh) {
    const source = circuits[id]?.source ?? null;
    const group = order.find((entry) => entry.source === source);
    if (group) group.circuits.push(id);
    else order.push({ source, circuits: [id] });
  }
  return order.map(({ source, circuits: ids }) => {
    const found = source ? document.sources?.[source] : undefined;
    return {
      source,
      name: found?.name ?? source ?? "No source yet",
      supply: [found?.volts ? say(found.volts, "V") : "", found?.phase ? `${found.phase} phase` : ""]
        .filter(Boolean)
        .join(", "),
      findings: many && source ? findingsAt(result, `sources/${source}`) : [],
      lines: ids.flatMap((id) => {
        const circuit = circuits[id];
        return circuit ? [lineOf(document, id, circuit, result)] : [];
      }),
    };
  });
}

/** What stands against a panel as a whole is said once, at its head. */
function ofPanel(finding: Finding): boolean {
  return finding.about.startsWith("sources/");
}

function stopped(line: Line): boolean {
  return line.cut !== null;
}

/** Where the eye should go first: the gravest finding, else the breaker. */
function firstPart(line: Line | undefined): string {
  for (const severity of ["stop", "warning"])
    for (const part of line?.parts ?? [])
      if (part.findings.some((finding) => finding.severity === severity)) return part.id;
  return "ocpd";
}

function partElement(circuit: string, id: string): SVGGElement | null {
  return document.querySelector(`[data-line="${circuit}"] [data-part="${id}"]`);
}

/** The panel at which its lines begin: its name on the spine, and what stands against it as a whole. */
function GroupHead({ group, plan, readOnly }: { group: Group; plan: PlanHandle; readOnly: boolean }) {
  const grave = group.findings.filter((finding) => finding.severity !== "note");
  return (
    <div className="relative pt-2">
      <span aria-hidden className="absolute top-3 bottom-0 left-5 w-[9px] bg-ink md:left-7" />
      <h2 className="pl-12 md:pl-14">
        {group.source ? (
          <Link
            className="inline-flex min-h-11 items-center text-lg font-bold underline decoration-faint underline-offset-4 hover:decoration-copper"
            to={`../panels?panel=${group.source}`}
            relative="path"
          >
            {group.name}
          </Link>
        ) : (
          <b className="text-lg">{group.name}</b>
        )}{" "}
        <span className="text-soft">{group.supply}</span>
      </h2>
      {grave.map((finding) => (
        <p key={finding.message} className="flex items-center gap-3 py-1 pr-7 pl-12 md:pl-14">
          <span className={severityColour[finding.severity]}>
            <Mark severity={finding.severity} />
          </span>
          <span className={`font-semibold ${severityColour[finding.severity]}`}>{finding.message}</span>
          {finding.fix && !readOnly && (
            <Button
              kind="main"
              className="ml-auto shrink-0"
              onClick={() => plan.change(finding.fix as Patch, finding.fix_label ?? "Fix")}
            >
              {finding.fix_label}
            </Button>
          )}
        </p>
      ))}
    </div>
  );
}

interface RowProps {
  line: Line;
  onOpen: () => void;
  onStep: (step: number) => void;
}

/** A line among many: one row that opens on a click. */
function RowLine({ line, onOpen, onStep }: RowProps) {
  const [box, width] = useWidth();
  const findings = line.parts
    .flatMap((part) => part.findings)
    .filter((row) => row.severity === "stop" || !ofPanel(row));
  const grave = gravest(findings);
  const first = findings.find((finding) => finding.severity === grave);
  const name = line.circuit.name ?? line.unit?.name ?? "";
  const loud = grave === "stop" || grave === "warning";
  return (
    <section data-line={line.circuitId} aria-label={`Line ${line.circuitId}`} className="relative">
      <span aria-hidden className="absolute top-0 bottom-0 left-5 w-[9px] bg-ink md:left-7" />
      <button
        type="button"
        className="block w-full px-5 pt-2 pb-1 text-left hover:bg-sheet focus-visible:bg-sheet md:px-7"
        onClick={onOpen}
        onKeyDown={(event) => {
          const step = { ArrowUp: -1, ArrowDown: 1 }[event.key];
          if (!step) return;
          event.preventDefault();
          onStep(step);
        }}
      >
        <span className="flex items-baseline gap-2 pl-7">
          <b>
            <span className="sr-only">Open line </span>
            {line.circuitId}
          </b>
          <span className="truncate text-soft">{name}</span>
          {loud && first && (
            <span className={`ml-auto flex min-w-0 items-center gap-2 font-semibold ${severityColour[first.severity]}`}>
              <Mark severity={first.severity} />
              <span className="truncate">
                <span className="sr-only">{first.severity}: </span>
                {first.message}
              </span>
            </span>
          )}
        </span>
        <span ref={box} className="block overflow-hidden">
          {width > 0 && <CompactLine line={line} width={Math.max(width, 330)} />}
        </span>
      </button>
    </section>
  );
}

interface LineProps {
  line: Line;
  plan: PlanHandle;
  readOnly: boolean;
  many: boolean;
  selected: string | null;
  onSelect: (part: string) => void;
  onKey: (event: KeyboardEvent, part: string) => void;
}

function OneLine({ line, plan, readOnly, many, selected, onSelect, onKey }: LineProps) {
  const [box, width] = useWidth();
  const { circuit } = line;
  const name = circuit.name ?? line.unit?.name;
  return (
    <section
      data-line={line.circuitId}
      aria-label={`Line ${line.circuitId}`}
      className={`relative pb-4 ${many ? "border-y border-rule" : ""}`}
    >
      <span aria-hidden className="absolute top-0 bottom-0 left-5 w-[9px] bg-ink md:left-7" />
      <h2 className="pt-4 pl-12 text-lg md:pl-14">
        <b>{line.circuitId}</b> <span className="text-soft">{name}</span>
      </h2>
      <SideScroll box={box} className="px-5 md:px-7" more={`Further along ${line.circuitId}`}>
        {width > 0 && <LineDrawing line={line} width={width} selected={selected} onSelect={onSelect} onKey={onKey} />}
      </SideScroll>
      <Ladder
        line={line}
        width={width}
        plan={plan}
        readOnly={readOnly}
        leave={many ? ofPanel : undefined}
        onSelect={onSelect}
      />
    </section>
  );
}

function Hints() {
  const keys = [
    ["← →", "along the line"],
    ["↑ ↓", "from line to line"],
    ["Enter", "change"],
    ["Ctrl Z", "take back"],
    ["H", "history"],
    ["?", "all keys"],
  ];
  return (
    <p className="mt-auto hidden gap-7 border-t border-rule px-7 py-2 text-sm text-soft md:flex">
      {keys.map(([key, what]) => (
        <span key={key}>
          <b className="text-ink">{key}</b> {what}
        </span>
      ))}
    </p>
  );
}
