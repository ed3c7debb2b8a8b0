/** Another source that can feed the lines: a pedestal of its own, a generator or an inverter in place of one. */
import type { PlanHandle } from "../../plan/usePlan";
import { Button } from "../../ui/parts";
import { pedestal, standIn } from "./feeds";

interface Props {
  plan: PlanHandle;
  /** The source in whose place it is to stand; none where the first one is meant. */
  base: string | null;
  onAdded: (source: string) => void;
}

export function AddFeed({ plan, base, onAdded }: Props) {
  const { document } = plan;
  if (!document) return null;
  const sources = document.sources ?? {};
  const of = base ?? Object.keys(sources).find((key) => !sources[key]?.in_place_of);
  const add = (kind: "generator" | "inverter") => {
    if (!of) return;
    const { id, patch } = standIn(document, kind, of);
    plan.change(patch, `Add ${kind === "generator" ? "a generator" : "an inverter"}`);
    onAdded(id);
  };
  return (
    <section aria-label="Add what can feed it" className="mt-5 border-t-2 border-ink pt-3">
      <h3 className="font-bold">
        {of ? `What else can feed the lines of ${sources[of]?.name ?? of}` : "Add what feeds the lines"}
      </h3>
      <p className="mt-2 flex flex-wrap gap-3">
        {of && <Button onClick={() => add("generator")}>Add a generator</Button>}
        {of && <Button onClick={() => add("inverter")}>Add an inverter</Button>}
        <Button
          onClick={() => {
            const { id, patch } = pedestal(document);
            plan.change(patch, "Add a pedestal");
            onAdded(id);
          }}
        >
          Add a pedestal
        </Button>
      </p>
    </section>
  );
}
