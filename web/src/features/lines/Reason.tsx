/** The reason beside the line: what the part is, why its value is what it is, and what else would do. */
import { Link } from "react-router";

import type { Alternative } from "../../api/client";
import { isOpen, type Line, type Part, say, saySize, stepsFor } from "../../drawing/parts";
import type { PlanHandle } from "../../plan/usePlan";
import { Findings } from "../../ui/Findings";
import { Button } from "../../ui/parts";
import { Steps } from "../../ui/Steps";
import { insertSegment } from "./edits";
import { BreakerEditor, DisconnectEditor, SegmentEditor, SourceEditor } from "./editors";
import { UnitEditor } from "./UnitEditor";
import { QUALIFIED } from "../../ui/caution";

interface Props {
  line: Line;
  part: Part;
  plan: PlanHandle;
  readOnly: boolean;
}

export function Reason({ line, part, plan, readOnly }: Props) {
  const Editor = {
    source: SourceEditor,
    ocpd: BreakerEditor,
    segment: SegmentEditor,
    disconnect: DisconnectEditor,
    unit: UnitEditor,
  }[part.kind];
  const steps = stepsFor(line, part);
  // What the line's one proposal says already is not offered a second time here.
  const open = part.findings
    .filter(isOpen)
    .map((finding) => (finding.fix_label === line.proposal?.[1] ? { ...finding, fix: null } : finding));
  const alternatives = part.kind === "ocpd" || part.kind === "segment" ? (line.result?.alternatives ?? []) : [];
  return (
    <>
      <h2 className="text-2xl font-bold">{title(line, part)}</h2>
      <p className="mb-4 text-soft">
        {line.circuitId}, {part.name}
        <Further line={line} part={part} plan={plan} />
      </p>
      <Editor line={line} part={part} plan={plan} readOnly={readOnly} />
      <Findings label="Still to enter here" rows={open} plan={plan} readOnly={readOnly} />
      {!readOnly && Object.keys(line.circuit.run ?? {}).length === 0 && (
        <Button
          kind="main"
          className="mt-4"
          onClick={() => plan.change(insertSegment(line.circuitId, line.circuit, null), "Begin the run")}
        >
          Begin the run
        </Button>
      )}
      {steps.length > 0 && (
        <section className="mt-5" aria-label="Why">
          <h3 className="border-t-2 border-ink pt-3 font-bold">Why</h3>
          <Steps rows={steps} />
        </section>
      )}
      {alternatives.length > 0 && <Alternatives rows={alternatives} plan={plan} readOnly={readOnly} />}
      <p className="mt-6 border-t border-rule pt-3 text-sm text-soft">{QUALIFIED}</p>
    </>
  );
}

/** From the thing to what is asked of it: a source's spaces and demand, a unit against its room. */
function Further({ line, part, plan }: { line: Line; part: Part; plan: PlanHandle }) {
  const install = plan.plan?.install.id;
  if (!install) return null;
  const to =
    part.kind === "source" && line.circuit.source
      ? { screen: `panels?panel=${line.circuit.source}`, says: "its spaces and demand" }
      : part.kind === "unit" && line.unit
        ? { screen: "suit", says: "does it suit its room?" }
        : null;
  if (!to) return null;
  return (
    <Link
      className="ml-3 inline-flex min-h-11 items-center underline decoration-faint underline-offset-4 hover:decoration-copper"
      to={`/installs/${install}/${to.screen}`}
    >
      {to.says}
    </Link>
  );
}

function title(line: Line, part: Part): string {
  const { circuit } = line;
  switch (part.kind) {
    case "source":
      return line.source?.name ?? "No source yet";
    case "ocpd":
      return circuit.ocpd?.rating_a != null ? `Why ${say(circuit.ocpd.rating_a, "A")}` : "Which device";
    case "segment":
      return part.segment?.conductor ? `Why ${saySize(part.segment.conductor)}` : "Which conductor";
    case "disconnect":
      if (line.unit?.cord_connected) return "Receptacle and plug";
      return circuit.disconnect?.rating_a != null
        ? `${say(circuit.disconnect.rating_a, "A")} disconnect`
        : "Which disconnect";
    case "unit":
      return circuit.feeds ? "What it feeds" : "What the plate says";
  }
}

const TITLES = { least: "least lawful", matched: "recommended: matches the device", roomy: "roomy" } as const;

/** The lawful ways side by side: device, conductor, what is in hand, drop, and what it takes. */
function Alternatives({ rows, plan, readOnly }: { rows: Alternative[]; plan: PlanHandle; readOnly: boolean }) {
  const most = Math.max(...rows.map((row) => row.metal_lb ?? 0));
  return (
    <section className="mt-5">
      <h3 className="border-t-2 border-ink pt-3 font-bold">What else would do</h3>
      <ul className="mt-3 grid grid-cols-2 gap-2">
        {rows.map((row) => (
          <li key={`${row.ocpd_a} ${row.conductor}`}>
            <button
              type="button"
              disabled={readOnly || row.chosen}
              aria-pressed={row.chosen}
              className={`flex h-full w-full flex-col rounded-sm border px-3 py-2 text-left ${row.chosen ? "border-copper border-b-4" : "border-faint hover:border-copper"}`}
              onClick={() => plan.change(row.patch, `Make it ${say(row.ocpd_a, "A")}, ${saySize(row.conductor)}`)}
            >
              <b className="block">
                {say(row.ocpd_a, "A")}, {saySize(row.conductor)}
              </b>
              <span className="block text-sm text-soft">
                {say(row.margin_a, "A")} in hand{row.drop_pct != null ? `, drop ${say(row.drop_pct, "%")}` : ""}
              </span>
              {row.metal_lb != null && (
                <>
                  <span className="mt-1 block text-sm text-soft">{row.material.map(withUnits).join("; ")}</span>
                  <span className="mt-1 flex items-center gap-2 text-sm text-soft">
                    <span
                      aria-hidden
                      className="block h-1 bg-ink"
                      style={{ width: `${(row.metal_lb / most) * 40}%` }}
                    />
                    {say(row.metal_lb, "lb")} of metal
                  </span>
                </>
              )}
              <span
                className={`mt-auto block pt-1 text-sm ${row.chosen ? "font-semibold text-copper-deep" : "text-soft"}`}
              >
                {row.chosen ? `chosen, ${TITLES[row.title]}` : TITLES[row.title]}
              </span>
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}

/** "12-2 NM-B with ground, 38 ft" in the chosen units. */
function withUnits(text: string): string {
  return text.replace(/([\d.]+) ft$/, (_, feet: string) => say(Number(feet), "ft"));
}
