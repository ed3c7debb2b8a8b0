/** One conductor: what it is for, where its ends are, what is said of it on the sheet. */
import type { CableView, ConductorView } from "../../api/client";
import vocabulary from "../../api/vocabulary.json";
import { insulation } from "../../drawing/insulation";
import { ENDS } from "../../drawing/landings";
import type { PlanHandle } from "../../plan/usePlan";
import { Findings } from "../../ui/Findings";
import { Button } from "../../ui/parts";
import { fields, options, Sentence } from "../../ui/fields";
import { findingsAt } from "../../api/findings";

const CONNECTORS = vocabulary.connectors;
const TAPES = options("black", "red", "blue", "white", "green", "yellow", "brown", "orange");

interface Props {
  view: CableView;
  wire: ConductorView;
  plan: PlanHandle;
  readOnly: boolean;
  onClose: () => void;
}

export function ConductorFacts({ view, wire, plan, readOnly, onClose }: Props) {
  const base = `cables/${view.id}/conductors/${wire.id}`;
  const entered = plan.document?.cables?.[view.id]?.conductors?.[wire.id];
  const rows = findingsAt(plan.plan?.result, base);
  return (
    <section aria-label={`Conductor ${wire.colour}`} data-reason>
      <h3 className="flex items-center gap-3 text-xl font-bold">
        <span
          aria-hidden
          className="inline-block h-4 w-9 border border-ink"
          style={{ background: insulation(wire.colour) }}
        />
        {wire.colour}
        <span className="ml-auto">
          <Button onClick={onClose}>Close</Button>
        </span>
      </h3>
      <p className="text-soft">
        {[wire.says, wire.kind_words].filter(Boolean).join(", ") || "carries nothing"}. From {wire.a.at} to {wire.b.at}.
      </p>
      <Findings rows={rows} plan={plan} readOnly={readOnly} />
      {ENDS.map((end) => {
        const at = fields(plan, `${base}/${end}`, readOnly);
        const now = entered?.[end];
        return (
          <Sentence key={end}>
            {wire[end].at}: marked{" "}
            {at.choice("reidentified", `Marking at ${wire[end].at}`, now?.reidentified, TAPES, "as it is")}, joined with{" "}
            {at.choice(
              "connector",
              `Connector at ${wire[end].at}`,
              now?.connector,
              CONNECTORS,
              "what its place asks for",
            )}
            .
          </Sentence>
        );
      })}
      <Sentence>
        On the sheet:{" "}
        {fields(plan, base, readOnly).text("note", `Note on ${wire.colour}`, entered?.note, undefined, "no note")}
      </Sentence>
    </section>
  );
}
