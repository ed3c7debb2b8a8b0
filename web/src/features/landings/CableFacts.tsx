/** What a cable is built of, where it runs, where it is joined: sentences whose words can be changed. */
import type { Cable, CableView } from "../../api/client";
import vocabulary from "../../api/vocabulary.json";
import { words } from "../../drawing/parts";
import { patchAt } from "../../plan/merge";
import type { PlanHandle } from "../../plan/usePlan";
import { Edit } from "../../ui/Edit";
import { Button } from "../../ui/parts";
import { fields, type Option, options, Sentence, yesNo } from "../../ui/fields";
import { colourList, removeCable } from "./edits";
import { useChoices } from "./useChoices";

const SPOTS = options(...vocabulary.spots);
const RACEWAYS: Option[] = [{ value: "none", label: "exposed, no raceway" }, ...options(...vocabulary.raceways)];
const SYSTEMS: Option[] = [
  { value: "heat_cool", label: "heat and cooling" },
  { value: "cooling_only", label: "cooling only" },
  { value: "heating_only", label: "heating only" },
  { value: "heat_pump", label: "heat pump" },
];
const STATES: Option[] = [
  { value: "new", label: "new" },
  { value: "existing", label: "there already" },
  { value: "removed", label: "out of use" },
];
const CONNECTORS: Option[] = vocabulary.connectors;

interface Props {
  view: CableView;
  cable: Cable;
  plan: PlanHandle;
  readOnly: boolean;
  onOpen: (key: "cable" | "device", id: string) => void;
}

export function CableFacts({ view, cable, plan, readOnly, onOpen }: Props) {
  const choices = useChoices();
  const base = `cables/${view.id}`;
  const own = fields(plan, base, readOnly);
  const family = choices.cables.find((entry) => entry.id === cable.family);
  const families = choices.cables.map((entry) => ({ value: entry.id, label: entry.name }));
  const route = Object.entries(cable.route ?? {}).sort(([, one], [, two]) => one.order - two.order);
  const joints = Object.entries(cable.joints ?? {});
  const device = (id: string) => (
    <button type="button" className="font-semibold text-ink underline" onClick={() => onOpen("device", id)}>
      {id}
    </button>
  );
  return (
    <section aria-label="The cable" className="mt-6 max-w-3xl">
      <h3 className="border-t-2 border-ink pt-2 font-bold">The cable</h3>
      <Sentence>
        {own.text("name", "Name of the cable", cable.name, undefined, "no name")} from {device(cable.a.device)} to{" "}
        {device(cable.b.device)}, {own.choice("state", "State of the cable", cable.state, STATES, "new")}.{" "}
        {own.choice("family", "Construction", cable.family, families, "construction not known")},{" "}
        {own.choice(
          "awg",
          "Gauge",
          cable.awg,
          options(...(family?.awg ?? [])),
          cable.segments?.length ? "gauge of the line" : "gauge not known",
        )}{" "}
        AWG,{" "}
        {cable.family === "harness" || cable.colours ? (
          <>
            conductors{" "}
            <Edit
              kind="text"
              label="Colours of the harness"
              path={`${base}/colours`}
              error={plan.errors[`${base}/colours`]}
              readOnly={readOnly}
              value={cable.colours?.join(", ")}
              empty="their colours or numbers, in order"
              onForget={() => plan.forget(`${base}/colours`)}
              onCommit={(value, entry) => plan.set(`${base}/colours`, colourList(value), "Colours", entry)}
            />
          </>
        ) : (
          <>
            {own.choice("count", "Conductors", cable.count, options(...(family?.counts ?? [])), "how many not known")}{" "}
            conductors
          </>
        )}
        ,{" "}
        {own.choice(
          "strands",
          "Strands",
          cable.strands,
          options(...(family?.strands ?? [])),
          family?.strands.length === 1 ? family.strands[0] : "solid or stranded",
        )}
        {cable.family === "cord" && (
          <>
            ,{" "}
            {own.choice(
              "factory_cord",
              "Whose cord",
              cable.factory_cord,
              yesNo("the unit's own", "made up on site"),
              "whose, not known",
            )}
          </>
        )}
        .{" "}
        {!cable.segments?.length && (
          <>Length {own.number("length_ft", "Length", cable.length_ft, "ft", "as its way")}.</>
        )}
      </Sentence>
      {family?.class_2 && (
        <Sentence>
          Colours stand for{" "}
          {own.choice("system", "Kind of system", cable.system, SYSTEMS, view.convention ?? "what is at both ends")}.
        </Sentence>
      )}
      {!cable.segments?.length && (
        <>
          {route.map(([key, part], index) => {
            const at = fields(plan, `${base}/route/${key}`, readOnly);
            return (
              <Sentence key={key}>
                {index === 0 ? "Runs" : "then"}{" "}
                {at.choice("spot", `Place of stretch ${index + 1}`, part.spot, SPOTS, "where, not known")}{" "}
                {at.choice("raceway", `Raceway of stretch ${index + 1}`, part.raceway, RACEWAYS, "raceway not said")}{" "}
                {at.number("length_ft", `Length of stretch ${index + 1}`, part.length_ft, "ft")},{" "}
                {at.choice(
                  "with_power",
                  `Power in stretch ${index + 1}`,
                  part.with_power,
                  yesNo("together with power", "apart from power"),
                  "power not said",
                )}
                {!readOnly && route.length > 1 && (
                  <>
                    {" "}
                    <button
                      type="button"
                      className="min-h-8 text-sm underline"
                      onClick={() => plan.change(patchAt(`${base}/route/${key}`, undefined), "Take the stretch out")}
                    >
                      take out
                    </button>
                  </>
                )}
              </Sentence>
            );
          })}
          {joints.map(([key, joint]) => {
            const at = fields(plan, `${base}/joints/${key}`, readOnly);
            return (
              <Sentence key={key}>
                Joined {at.choice("spot", "Place of the joint", joint.spot, SPOTS, "where, not known")} with a{" "}
                {at.choice("connector", "Connector of the joint", joint.connector, CONNECTORS)},{" "}
                {at.choice("taped", "Tape on the joint", joint.taped, yesNo("taped", "not taped"), "tape not said")}.
              </Sentence>
            );
          })}
        </>
      )}
      {!readOnly && (
        <div className="mt-3 flex flex-wrap gap-2">
          {!cable.segments?.length && (
            <>
              <Button onClick={() => plan.change(addStretch(base, cable), "Add a stretch")}>Add a stretch</Button>
              <Button
                onClick={() => plan.change(patchAt(`${base}/joints/${nextKey("j", cable.joints)}`, {}), "Add a joint")}
              >
                Add a joint
              </Button>
            </>
          )}
          <Button
            onClick={() => {
              plan.change(removeCable(view.id), `Remove ${words(view.id)}`);
              onOpen("cable", "");
            }}
          >
            Remove this cable
          </Button>
        </div>
      )}
    </section>
  );
}

function nextKey(stem: string, taken: Record<string, unknown> | undefined): string {
  for (let number = 1; ; number += 1) if (!taken?.[`${stem}${number}`]) return `${stem}${number}`;
}

function addStretch(base: string, cable: Cable) {
  const last = Math.max(0, ...Object.values(cable.route ?? {}).map((part) => part.order));
  return patchAt(`${base}/route/${nextKey("r", cable.route)}`, { order: last + 10 });
}
