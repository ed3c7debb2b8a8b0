/** A panel as it hangs: spaces with their legs, what is there, what is free; a circuit is dragged to other spaces. */
import { type KeyboardEvent, type PointerEvent, useEffect, useRef, useState } from "react";
import { useSearchParams } from "react-router";

import type { PanelResult, Patch, Source } from "../../api/client";
import vocabulary from "../../api/vocabulary.json";
import { say } from "../../drawing/parts";
import { addPanel } from "../../plan/addPanel";
import type { PlanHandle } from "../../plan/usePlan";
import { Edit } from "../../ui/Edit";
import { Findings } from "../../ui/Findings";
import { PhotoStrip } from "../../ui/PhotoStrip";
import { Button } from "../../ui/parts";
import { Steps } from "../../ui/Steps";
import { asText } from "../../ui/text";
import { nextId } from "../../plan/ids";
import { fields, options, PHASES, Sentence, yesNo } from "../../ui/fields";
import { blocksOf, type Block, moved, ROW, step, target } from "./spaces";
import { findingsAt } from "../../api/findings";
import { WHO } from "../../ui/caution";

interface Props {
  plan: PlanHandle;
  readOnly: boolean;
}

export function Panels({ plan, readOnly }: Props) {
  const [query, setQuery] = useSearchParams();
  const chosen = query.get("panel");
  const setChosen = (panel: string) => setQuery({ panel });
  const server = plan.plan;
  if (!server || !plan.document) return null;
  const order = server.result.lines.flatMap((group) => (group.source ? [group.source] : []));
  const id = chosen && order.includes(chosen) ? chosen : order[0];
  const source = id ? plan.document.sources?.[id] : undefined;
  const panel = id ? server.result.panels[id] : undefined;
  return (
    <main className="mt-2 border-t border-rule pb-16">
      <div className="flex flex-wrap items-center gap-x-7 gap-y-1 px-5 pt-3 md:px-7">
        {order.map((entry) => (
          <button
            key={entry}
            type="button"
            aria-pressed={entry === id}
            className={`min-h-11 border-b-3 text-lg ${entry === id ? "border-copper font-bold" : "border-transparent text-soft hover:text-ink"}`}
            onClick={() => setChosen(entry)}
          >
            {plan.document?.sources?.[entry]?.name ?? entry}
          </button>
        ))}
        {!readOnly && (
          <button
            type="button"
            className="min-h-11 text-soft underline decoration-faint underline-offset-4 hover:decoration-copper"
            onClick={() => setChosen(addPanel(plan))}
          >
            Add a panel
          </button>
        )}
        <span className="ml-auto flex gap-x-6">
          <a className="min-h-11 py-2.5 underline" href={`/api/installs/${server.install.id}/directory.pdf`}>
            Print the directories
          </a>
          <a className="min-h-11 py-2.5 underline" href={`/api/installs/${server.install.id}/labels.pdf`}>
            Print the labels
          </a>
        </span>
      </div>
      {!id && (
        <div className="px-7 py-16">
          <h2 className="text-2xl font-bold">No panel yet</h2>
          <p className="mt-2 text-soft">Add the panel that feeds this install, and read its label.</p>
        </div>
      )}
      {id && source && panel && (
        <div className="grid gap-x-10 gap-y-8 px-5 pt-4 md:px-7 lg:grid-cols-[minmax(0,1fr)_24rem]">
          <div>
            {source.spaces ? (
              <Drawn key={id} id={id} source={source} panel={panel} plan={plan} readOnly={readOnly} />
            ) : (
              <Loads id={id} plan={plan} panel={panel} />
            )}
            <PhotoStrip
              install={server.install.id}
              about={`sources/${id}`}
              name={source.name ?? id}
              readOnly={readOnly}
            />
          </div>
          <Beside id={id} source={source} panel={panel} plan={plan} readOnly={readOnly} />
        </div>
      )}
    </main>
  );
}

interface DrawnProps {
  id: string;
  source: Source;
  panel: PanelResult;
  plan: PlanHandle;
  readOnly: boolean;
}

interface Drag {
  circuit: string;
  first: number;
}

/** The panel's two columns of spaces about its bus. */
function Drawn({ id, source, panel, plan, readOnly }: DrawnProps) {
  const [drag, setDrag] = useState<Drag | null>(null);
  const [held, setHeld] = useState<string | null>(null);
  const face = useRef<HTMLDivElement>(null);
  const blocks = blocksOf(plan.document, id, panel, plan.plan?.result.drawn ?? {});
  const rows = Math.ceil((source.spaces ?? 0) / 2);
  const grabbed = drag && blocks.find((block) => block.circuit === drag.circuit);
  const wanted = grabbed ? moved(grabbed, drag.first) : null;
  const fits = wanted ? target(blocks, grabbed, wanted, source.spaces ?? 0) : false;

  function spaceAt(event: { clientX: number; clientY: number }): number | null {
    const box = face.current?.getBoundingClientRect();
    if (!box) return null;
    const row = Math.floor((event.clientY - box.top) / ROW);
    const right = event.clientX - box.left > box.width / 2;
    return row >= 0 && row < rows ? row * 2 + (right ? 2 : 1) : null;
  }
  function drop(block: Block, spaces: number[]) {
    if (block.circuit && target(blocks, block, spaces, source.spaces ?? 0))
      plan.change(
        { circuits: { [block.circuit]: { ocpd: { spaces } } } },
        `Move ${block.circuit} to ${spaces.join(", ")}`,
      );
  }
  function move(event: PointerEvent) {
    if (!drag) return;
    const space = spaceAt(event);
    if (space) setDrag({ ...drag, first: space });
  }
  function key(event: KeyboardEvent, block: Block) {
    if (!block.circuit || readOnly) return;
    const next = step(block, event.key, source.spaces ?? 0, blocks);
    if (!next) return;
    event.preventDefault();
    setHeld(block.circuit);
    drop(block, next);
  }
  useEffect(() => {
    if (held) document.querySelector<HTMLElement>(`[data-circuit="${held}"]`)?.focus();
  }, [held, blocks]);

  return (
    <>
      <div
        ref={face}
        role="group"
        aria-label={`${source.name ?? id}: ${rows * 2} spaces, ${panel.free} free`}
        className="relative max-w-3xl touch-pan-y select-none"
        style={{ height: rows * ROW }}
        onPointerMove={move}
        onPointerUp={() => {
          if (grabbed && wanted && fits) drop(grabbed, wanted);
          setDrag(null);
        }}
        onPointerCancel={() => setDrag(null)}
      >
        {/* The stabs from the bus to either side, then the bus with each row's leg on it. */}
        {Array.from({ length: rows }, (_, row) => (
          <span
            key={row}
            aria-hidden
            className="absolute left-1/2 h-[3px] w-[44px] -translate-x-1/2 bg-ink"
            style={{ top: row * ROW + ROW / 2 - 1.5 }}
          />
        ))}
        <span aria-hidden className="absolute inset-y-0 left-1/2 w-[30px] -translate-x-1/2 bg-ink" />
        {Array.from({ length: rows }, (_, row) => (
          <Row
            key={row}
            row={row}
            leg={panel.spaces[row * 2]?.leg ?? ""}
            last={(source.spaces ?? 0) % 2 === 1 && row === rows - 1}
          />
        ))}
        {blocks.map((block) => (
          <BlockShape
            key={block.id}
            block={block}
            lifted={block.circuit !== null && drag?.circuit === block.circuit}
            movable={!readOnly && block.circuit !== null}
            onGrab={(event) => {
              if (readOnly || !block.circuit) return;
              face.current?.setPointerCapture(event.pointerId);
              setDrag({ circuit: block.circuit, first: block.spaces[0] ?? 1 });
            }}
            onKey={(event) => key(event, block)}
          />
        ))}
        {wanted && grabbed && (
          <span
            aria-hidden
            className={`pointer-events-none absolute border-3 border-dashed ${fits ? "border-copper" : "border-stop"}`}
            style={frame(wanted)}
          />
        )}
      </div>
      {!readOnly && (
        <p className="mt-3 max-w-3xl text-sm text-soft">
          Drag a circuit of this install to other spaces, or select it and use the arrow keys. Two and three poles stay
          on neighbouring spaces of one side, each on another leg.
        </p>
      )}
      <Existing id={id} source={source} plan={plan} readOnly={readOnly} />
    </>
  );
}

function frame(spaces: number[]) {
  const first = Math.min(...spaces);
  const left = first % 2 === 1;
  return {
    top: Math.floor((first - 1) / 2) * ROW + 2,
    height: spaces.length * ROW - 4,
    left: left ? 0 : "calc(50% + 22px)",
    width: "calc(50% - 22px)",
  };
}

function Row({ row, leg, last }: { row: number; leg: string; last: boolean }) {
  const top = row * ROW;
  return (
    <>
      {[row * 2 + 1, row * 2 + 2].slice(0, last ? 1 : 2).map((space) => (
        <span
          key={space}
          aria-hidden
          className="absolute flex items-center border border-dashed border-faint px-2 text-sm text-soft"
          style={{ ...frame([space]), justifyContent: space % 2 ? "flex-start" : "flex-end" }}
        >
          {space}
        </span>
      ))}
      <span
        aria-hidden
        className="absolute left-1/2 flex w-[30px] -translate-x-1/2 items-center justify-center text-sm font-bold text-sheet"
        style={{ top, height: ROW }}
      >
        {leg}
      </span>
    </>
  );
}

interface BlockProps {
  block: Block;
  lifted: boolean;
  movable: boolean;
  onGrab: (event: PointerEvent) => void;
  onKey: (event: KeyboardEvent) => void;
}

function BlockShape({ block, lifted, movable, onGrab, onKey }: BlockProps) {
  const left = (block.spaces[0] ?? 1) % 2 === 1;
  const look = block.circuit
    ? `border-2 bg-sheet ${block.stop ? "border-stop" : "border-ink"} ${movable ? "cursor-grab hover:border-copper" : ""}`
    : "border border-faint bg-rule/60 text-soft";
  return (
    <div
      role={movable ? "button" : undefined}
      tabIndex={movable ? 0 : undefined}
      data-circuit={block.circuit ?? undefined}
      className={`absolute flex items-center gap-x-2 overflow-hidden px-2 ${left ? "" : "flex-row-reverse text-right"} ${block.spaces.length > 1 ? (left ? "max-md:flex-col max-md:items-start max-md:justify-center" : "max-md:flex-col max-md:items-end max-md:justify-center") : ""} ${look} ${lifted ? "opacity-40" : ""}`}
      style={frame(block.spaces)}
      onPointerDown={onGrab}
      onKeyDown={onKey}
    >
      <span className="shrink-0 text-sm text-soft">
        <span className="sr-only">{block.spaces.length > 1 ? "Spaces " : "Space "}</span>
        {block.spaces.join(", ")}
      </span>
      <span
        className={`min-w-0 flex-1 truncate ${block.spaces.length > 1 ? "max-md:flex-none max-md:whitespace-normal" : ""}`}
      >
        {block.circuit && <b>{block.circuit} </b>}
        {block.text}
      </span>
      <b className={`shrink-0 ${block.stop ? "text-stop" : ""}`}>{block.rating}</b>
    </div>
  );
}

/** A source without numbered spaces: what hangs on it. */
function Loads({ id, plan, panel }: { id: string; plan: PlanHandle; panel: PanelResult }) {
  const rows = Object.entries(plan.document?.circuits ?? {}).filter(([, circuit]) => circuit.source === id);
  return (
    <ul className="max-w-2xl">
      {rows.map(([key, circuit]) => {
        const amps = plan.plan?.result.circuits[key]?.running_a;
        const share = amps && panel.capacity_a ? Math.min(100, (amps / panel.capacity_a) * 100) : 0;
        return (
          <li key={key} className="border-b border-rule py-3">
            <p className="flex items-baseline gap-3">
              <b>{key}</b> <span className="text-soft">{circuit.name}</span>
              <b className="ml-auto">{say(amps, "A")}</b>
            </p>
            <span aria-hidden className="mt-1 block h-2 bg-ink" style={{ width: `${share}%` }} />
          </li>
        );
      })}
      {rows.length === 0 && <li className="py-6 text-soft">No line begins here yet.</li>}
    </ul>
  );
}

/** What is in the panel already: it takes space and loads a leg. */
function Existing({ id, source, plan, readOnly }: { id: string; source: Source; plan: PlanHandle; readOnly: boolean }) {
  const rows = Object.entries(source.existing ?? {});
  const [open, setOpen] = useState(false);
  return (
    <section className="mt-6 max-w-3xl" aria-label="Circuits that are there already">
      <button
        type="button"
        aria-expanded={open}
        className="min-h-11 font-bold underline decoration-faint underline-offset-4 hover:decoration-copper"
        onClick={() => setOpen(!open)}
      >
        {rows.length === 0
          ? "Nothing is entered of what is there already"
          : `${rows.length} ${rows.length === 1 ? "circuit is" : "circuits are"} there already`}
      </button>
      {open && (
        <ul>
          {rows.map(([key, entry]) => {
            const base = `sources/${id}/existing/${key}`;
            const f = fields(plan, base, readOnly);
            return (
              <li key={key} className="flex flex-wrap items-baseline gap-x-3 border-t border-rule py-2">
                {f.text("name", `Name of ${key}`, entry.name, undefined, "what is it?")}
                <span className="text-soft">in spaces</span>
                <Edit
                  kind="text"
                  label={`Spaces of ${key}`}
                  path={`${base}/spaces`}
                  value={entry.spaces?.join(", ")}
                  readOnly={readOnly}
                  error={plan.errors[`${base}/spaces`]}
                  onForget={() => plan.forget(`${base}/spaces`)}
                  onCommit={(value, { typed }) => {
                    const numbers = asText(value)
                      .split(/[\s,]+/)
                      .map(Number);
                    plan.set(`${base}/spaces`, numbers.every(Number.isInteger) ? numbers : value, "Spaces", {
                      typed,
                      doubtful: false,
                    });
                  }}
                />
                {f.number("rating_a", `Rating of ${key}`, entry.rating_a, "A", "rating?")}
                <span className="text-soft">carrying</span>
                {f.number("existing_a", `Load of ${key}`, entry.existing_a, "A", "load?")}
                {!readOnly && (
                  <Button
                    className="ml-auto"
                    onClick={() =>
                      plan.change({ sources: { [id]: { existing: { [key]: null } } } }, "Remove what is there")
                    }
                  >
                    Remove
                  </Button>
                )}
              </li>
            );
          })}
          {!readOnly && (
            <li className="border-t border-rule py-3">
              <Button onClick={() => plan.change(addExisting(id, source, plan), "Add what is there")}>
                Add one in the first free space
              </Button>
            </li>
          )}
        </ul>
      )}
    </section>
  );
}

function addExisting(id: string, source: Source, plan: PlanHandle): Patch {
  const panel = plan.plan?.result.panels[id];
  const free = panel?.spaces.find((space) => !space.circuit && !space.existing)?.space ?? 1;
  return { sources: { [id]: { existing: { [nextId("X", source.existing)]: { spaces: [free] } } } } };
}

/** Beside the panel: its label, its legs, whether it can take the new load, and why. */
function Beside({ id, source, panel, plan, readOnly }: DrawnProps) {
  const f = fields(plan, `sources/${id}`, readOnly);
  const most = Math.max(
    panel.capacity_a ?? 0,
    ...panel.legs.map((_, leg) => (panel.new_a[leg] ?? 0) + (panel.existing_a[leg] ?? 0)),
  );
  const findings = findingsAt(plan.plan?.result, `sources/${id}`);
  return (
    <aside aria-label="About this panel">
      <Verdict panel={panel} source={source} />
      <Findings rows={findings} plan={plan} readOnly={readOnly} />
      {panel.legs.length > 0 && (
        <section aria-label="Legs" className="mt-4">
          <h3 className="border-t-2 border-ink pt-3 font-bold">On each leg</h3>
          {panel.legs.map((leg, index) => (
            <Leg
              key={leg}
              leg={leg}
              fresh={panel.new_a[index] ?? 0}
              old={panel.existing_a[index] ?? 0}
              most={most}
              capacity={panel.capacity_a ?? null}
            />
          ))}
          {panel.unbalance_pct != null && (
            <p className="mt-2 text-sm text-soft">
              The least loaded leg carries {say(panel.unbalance_pct, "%", 0)} less than the most loaded one.
            </p>
          )}
        </section>
      )}
      <section className="mt-5">
        <h3 className="border-t-2 border-ink pt-3 font-bold">What its label says</h3>
        <Sentence>
          {f.text("name", "Panel name", source.name)}, a{" "}
          {f.choice("kind", "Kind of source", source.kind, options(...vocabulary.sources))} at{" "}
          {f.text("place", "Panel place", source.place, undefined, "where?")},{" "}
          {f.number("volts", "Supply volts", source.volts, "V", "volts?")},{" "}
          {f.choice("phase", "Supply phases", source.phase, PHASES, "phases?")},{" "}
          {f.number("volts_to_ground", "Volts to ground", source.volts_to_ground, "V", "volts?")} to ground. Bus{" "}
          {f.number("bus_a", "Bus rating", source.bus_a, "A", "amps?")}, main{" "}
          {f.number("main_a", "Main breaker", source.main_a, "A", "not known")},{" "}
          {f.number("spaces", "Numbered spaces", source.spaces, undefined, "how many?")} spaces. Highest measured demand{" "}
          {f.number("measured_peak_a", "Measured peak", source.measured_peak_a, "A", "not measured")} over{" "}
          {f.number("measured_days", "Days of measurement", source.measured_days, "days", "how many days?")}. Its loads{" "}
          {f.choice(
            "load_sharing",
            "Load sharing",
            source.load_sharing,
            yesNo("are kept from running at once", "may run at once"),
            "may run at once",
          )}
          .
        </Sentence>
      </section>
      {panel.steps.length > 0 && (
        <section className="mt-5" aria-label="Why">
          <h3 className="border-t-2 border-ink pt-3 font-bold">Why</h3>
          <Steps rows={panel.steps} />
        </section>
      )}
      <p className="mt-5 border-t border-rule pt-3 text-sm text-soft">
        Bus bars stay live with every breaker off. {WHO}
      </p>
    </aside>
  );
}

function Verdict({ panel, source }: { panel: PanelResult; source: Source }) {
  const { demand_a: demand, capacity_a: capacity } = panel;
  const known = demand != null && capacity != null;
  const over = known && demand > capacity;
  return (
    <>
      <h2 className={`text-2xl font-bold ${over ? "text-stop" : ""}`}>
        {known ? `${say(demand, "A")} of ${say(capacity, "A")}` : "Not judged yet"}
      </h2>
      <p className="mb-2 text-soft">
        {known
          ? source.kind === "panel"
            ? "existing demand and new load together, 220.87"
            : "the new load on its fullest leg"
          : "what is missing stands below"}
        {source.spaces ? `; ${panel.free} spaces free` : ""}
      </p>
    </>
  );
}

interface LegProps {
  leg: string;
  fresh: number;
  old: number;
  most: number;
  capacity: number | null;
}

function Leg({ leg, fresh, old, most, capacity }: LegProps) {
  const width = (amps: number) => `${most ? (amps / most) * 100 : 0}%`;
  return (
    <div className="mt-2">
      <p className="flex items-baseline gap-2">
        <b>{leg}</b>
        <span className="text-soft">
          new {say(fresh, "A")}
          {old > 0 && `, existing ${say(old, "A")}`}
        </span>
        <b className="ml-auto">{say(fresh + old, "A")}</b>
      </p>
      <span aria-hidden className="relative mt-0.5 flex h-3">
        <span className="bg-faint" style={{ width: width(old) }} />
        <span className="bg-ink" style={{ width: width(fresh) }} />
        {capacity !== null && (
          <span
            className="absolute inset-y-[-3px] w-[3px] bg-copper"
            style={{ left: `calc(${width(capacity)} - 3px)` }}
          />
        )}
      </span>
    </div>
  );
}
