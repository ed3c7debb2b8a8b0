/** Every circuit as a line; the selected part explains itself beside it. */
import { type KeyboardEvent, useEffect, useLayoutEffect, useRef, useState } from "react";

import type { Finding, PlanDoc } from "../../api/client";
import { LineDrawing } from "../../drawing/LineDrawing";
import { type Line, lineOf } from "../../drawing/parts";
import type { PlanHandle } from "../../plan/usePlan";
import { Button } from "../../ui/parts";
import { History } from "./History";
import { Ladder } from "./Ladder";
import { Reason } from "./Reason";
import { nextId } from "./edits";

interface Selection {
  circuit: string;
  part: string;
}

interface Props {
  plan: PlanHandle;
  readOnly: boolean;
  history: boolean;
  onHistory: (shown: boolean) => void;
}

export function Lines({ plan, readOnly, history, onHistory }: Props) {
  const lines = linesOf(plan);
  const [selection, setSelection] = useState<Selection | null>(null);
  const current = lines.find((line) => line.circuitId === selection?.circuit) ?? lines[0];
  const wanted = selection?.part ?? firstPart(current);
  const part =
    current?.parts.find((entry) => entry.id === wanted) ?? current?.parts.find((entry) => entry.kind === "unit");

  function select(circuit: string, id: string, focus = false) {
    setSelection({ circuit, part: id });
    onHistory(false);
    if (focus) requestAnimationFrame(() => partElement(circuit, id)?.focus());
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
        {lines.map((line) => (
          <OneLine
            key={line.circuitId}
            line={line}
            plan={plan}
            readOnly={readOnly}
            selected={!history && line === current ? (part?.id ?? null) : null}
            onSelect={(id) => select(line.circuitId, id)}
            onKey={(event, id) => key(event, line, id)}
          />
        ))}
        {lines.length === 0 && (
          <div className="px-7 py-16">
            <h2 className="text-2xl font-bold">No line yet</h2>
            <p className="mt-2 max-w-lg text-soft">
              A line runs from a panel to one unit. Begin it, type what the plate says, and the rest is computed.
            </p>
          </div>
        )}
        {!readOnly && plan.document && (
          <div className="px-5 py-4 md:px-7">
            <Button kind={lines.length ? "quiet" : "main"} onClick={() => addLine(plan)}>
              {lines.length ? "Add a line" : "Draw the first line"}
            </Button>
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
            <History id={plan.plan?.install.id ?? ""} onClose={() => onHistory(false)} />
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

function linesOf(plan: PlanHandle): Line[] {
  const { document, plan: server } = plan;
  if (!document || !server) return [];
  return Object.entries(document.circuits ?? {}).map(([id, circuit]) =>
    lineOf(document, id, circuit, server.result.circuits[id], findingsOf(document, id, server.result.findings)),
  );
}

/** The findings of one line: its own, and those of the unit and source at its ends. */
function findingsOf(document: PlanDoc, id: string, findings: Finding[]): Finding[] {
  const circuit = document.circuits?.[id];
  const mine = [`circuits/${id}/`, `equipment/${circuit?.equipment ?? " "}/`, `sources/${circuit?.source ?? " "}/`];
  return findings.filter((finding) => mine.some((start) => finding.about.startsWith(start)));
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

interface LineProps {
  line: Line;
  plan: PlanHandle;
  readOnly: boolean;
  selected: string | null;
  onSelect: (part: string) => void;
  onKey: (event: KeyboardEvent, part: string) => void;
}

function OneLine({ line, plan, readOnly, selected, onSelect, onKey }: LineProps) {
  const [box, width] = useWidth();
  const { circuit } = line;
  const name = circuit.name ?? line.unit?.name;
  return (
    <section data-line={line.circuitId} aria-label={`Line ${line.circuitId}`} className="relative pb-4">
      <span aria-hidden className="absolute top-0 bottom-0 left-5 w-[9px] bg-ink md:left-7" />
      <h2 className="pt-4 pl-12 text-lg md:pl-14">
        <b>{line.circuitId}</b> <span className="text-soft">{name}</span>
      </h2>
      <div ref={box} className="overflow-x-auto px-5 md:px-7">
        {width > 0 && <LineDrawing line={line} width={width} selected={selected} onSelect={onSelect} onKey={onKey} />}
      </div>
      <Ladder line={line} width={width} plan={plan} readOnly={readOnly} onSelect={onSelect} />
    </section>
  );
}

function useWidth(): [React.RefObject<HTMLDivElement | null>, number] {
  const box = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(0);
  useLayoutEffect(() => {
    const element = box.current;
    if (!element) return;
    const style = getComputedStyle(element);
    const inner = () => element.clientWidth - parseFloat(style.paddingLeft) - parseFloat(style.paddingRight);
    setWidth(inner());
    const observer = new ResizeObserver(() => setWidth(inner()));
    observer.observe(element);
    return () => observer.disconnect();
  }, []);
  return [box, width];
}

function addLine(plan: PlanHandle) {
  const document = plan.document;
  if (!document) return;
  const source = Object.keys(document.sources ?? {})[0] ?? "PA";
  const equipment = nextId("OU", document.equipment);
  const circuit = nextId("MS", document.circuits);
  plan.change(
    {
      ...(document.sources?.[source] ? {} : { sources: { [source]: { kind: "panel", name: "Panel A" } } }),
      equipment: { [equipment]: { kind: "mini_split_outdoor" } },
      circuits: { [circuit]: { source, equipment } },
    },
    "Add a line",
  );
}

function Hints() {
  const keys = [
    ["← →", "along the line"],
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
