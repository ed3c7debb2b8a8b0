/** What can be changed on each part, as sentences whose words are the fields. */
import type { ReactNode } from "react";

import { type Line, type Part, saySize, words } from "../../drawing/parts";
import { patchAt } from "../../plan/merge";
import type { PlanHandle } from "../../plan/usePlan";
import { Choice, Edit, type Entry } from "../../ui/Edit";
import { Button } from "../../ui/parts";
import { insertSegment, parseSpaces } from "./edits";

interface Props {
  line: Line;
  part: Part;
  plan: PlanHandle;
  readOnly: boolean;
}

type Option = { value: string | number | boolean; label: string };

/** Fields of one element of the plan, by the name of the field in the document. */
function fields(plan: PlanHandle, base: string, readOnly: boolean) {
  const common = (name: string, label: string) => {
    const path = `${base}/${name}`;
    return {
      label,
      path,
      error: plan.errors[path],
      readOnly,
      onCommit: (value: unknown, entry?: Entry) => plan.set(path, value, label, entry),
      onForget: () => plan.forget(path),
    };
  };
  return {
    number: (name: string, label: string, value: number | null | undefined, unit?: string, empty?: string) => (
      <Edit {...common(name, label)} value={value} unit={unit} empty={empty} />
    ),
    text: (name: string, label: string, value: string | null | undefined, unit?: string, empty?: string) => (
      <Edit {...common(name, label)} kind="text" value={value} unit={unit} empty={empty} />
    ),
    choice: (
      name: string,
      label: string,
      value: Option["value"] | null | undefined,
      options: readonly Option[],
      empty?: string,
    ) => <Choice {...common(name, label)} value={value} options={options} empty={empty} />,
  };
}

function options(...values: (string | number)[]): Option[] {
  return values.map((value) => ({ value, label: words(String(value)) }));
}

const yesNo = (yes: string, no: string): Option[] => [
  { value: true, label: yes },
  { value: false, label: no },
];

/** A sentence whose underlined words can be changed; dashed where something is not known. */
function Sentence({ children }: { children: ReactNode }) {
  return <p className="leading-9 text-soft max-md:leading-[3rem]">{children}</p>;
}

export function SourceEditor({ line, part, plan, readOnly }: Props) {
  const source = line.source;
  const f = fields(plan, part.path, readOnly);
  const site = fields(plan, "site", readOnly);
  const found = plan.document?.site;
  if (!source) return <p>This line has no source. Bring one in with a plan file, or begin a new line.</p>;
  return (
    <>
      <Sentence>
        {f.text("name", "Panel name", source.name)} gives this line{" "}
        {f.number("volts", "Supply volts", source.volts, "V", "volts?")},{" "}
        {f.choice(
          "phase",
          "Supply phases",
          source.phase,
          [
            { value: 1, label: "single phase" },
            { value: 3, label: "three phases" },
          ],
          "phases?",
        )}
        , {f.number("volts_to_ground", "Volts to ground", source.volts_to_ground, "V", "volts?")} to ground. Its bus
        carries {f.number("bus_a", "Bus rating", source.bus_a, "A", "amps?")}; it has{" "}
        {f.number("spaces", "Numbered spaces", source.spaces, undefined, "how many?")} spaces.
      </Sentence>
      <h3 className="mt-5 border-t-2 border-ink pt-3 font-bold">Site</h3>
      <Sentence>
        {site.text("name", "Site name", found?.name, undefined, "which site?")},{" "}
        {site.text("place", "Place on the site", found?.place, undefined, "where on it?")}: a{" "}
        {site.choice(
          "occupancy",
          "Occupancy",
          found?.occupancy,
          options("dwelling", "commercial", "vehicle"),
          "which?",
        )}{" "}
        occupancy, permit dated {site.text("permit_date", "Permit date", found?.permit_date, undefined, "when?")}.
      </Sentence>
    </>
  );
}

export function BreakerEditor({ line, part, plan, readOnly }: Props) {
  const ocpd = line.circuit.ocpd;
  const f = fields(plan, part.path, readOnly);
  const path = `${part.path}/spaces`;
  return (
    <Sentence>
      {f.number("rating_a", "Breaker or fuse rating", ocpd?.rating_a, "A")}{" "}
      {f.choice("type", "Breaker or fuse", ocpd?.type, options("breaker", "fuse"))} in spaces{" "}
      <Edit
        kind="text"
        label="Spaces in the panel"
        path={path}
        error={plan.errors[path]}
        readOnly={readOnly}
        value={ocpd?.spaces?.join(", ")}
        onForget={() => plan.forget(path)}
        onCommit={(value, { typed }) => {
          const spaces = parseSpaces(value);
          plan.set(path, spaces, "Spaces", { typed, doubtful: typeof spaces === "string" });
        }}
      />
      .
    </Sentence>
  );
}

const SIZES = [
  "14",
  "12",
  "10",
  "8",
  "6",
  "4",
  "3",
  "2",
  "1",
  "1/0",
  "2/0",
  "3/0",
  "4/0",
  "250",
  "300",
  "350",
  "400",
  "500",
].map((value) => ({
  value,
  label: saySize(value),
}));

export function SegmentEditor({ line, part, plan, readOnly }: Props) {
  const { segment, segmentId } = part;
  const { circuit, circuitId, result } = line;
  const f = fields(plan, part.path, readOnly);
  const own = fields(plan, `circuits/${circuitId}`, readOnly);
  if (!segment || !segmentId) return null;
  const least = result?.proposed_egc ? `at least ${saySize(result.proposed_egc)}` : "by the rule";
  return (
    <>
      <Sentence>
        {f.choice("conductor", "Conductor size", segment.conductor, SIZES, "size not chosen")}{" "}
        {f.choice("material", "Conductor material", segment.material, [
          { value: "Cu", label: "copper" },
          { value: "Al", label: "aluminium" },
        ])}
        ,{" "}
        {f.choice(
          "construction",
          "Solid or stranded",
          segment.construction,
          options("solid", "stranded"),
          "solid or stranded?",
        )}
        ,{" "}
        {f.choice(
          "method",
          "Wiring method",
          segment.method,
          options("NM-B", "UF-B", "MC", "SER", "THWN-2", "XHHW-2"),
          "method not known",
        )}{" "}
        in {f.choice("raceway", "Raceway", segment.raceway, options("EMT", "PVC", "LFNC", "LFMC", "FMC"), "no raceway")}
        . {f.number("length_ft", "Length", segment.length_ft, "ft")} one way,{" "}
        {f.choice(
          "place",
          "Place",
          segment.place,
          options("interior", "attic", "crawl_space", "outdoor", "roof"),
          "place not known",
        )}
        , at most {f.number("ambient_c", "Ambient temperature", segment.ambient_c, "°C")}.
        {segment.place === "roof" && (
          <>
            {" "}
            {f.choice(
              "sunlit",
              "In the sun",
              segment.sunlit,
              yesNo("In the sun", "In the shade"),
              "Sun not known",
            )}, {f.number("above_roof_in", "Height above the roof", segment.above_roof_in, "in")} above the roof.
          </>
        )}{" "}
        {f.number("current_carrying", "Current-carrying conductors", segment.current_carrying)} current-carrying
        together, both ends marked{" "}
        {f.choice(
          "terminations_c",
          "Terminations marked",
          segment.terminations_c,
          [
            { value: 60, label: "60 °C" },
            { value: 75, label: "75 °C" },
          ],
          "no more than 60 °C",
        )}
        . White{" "}
        {f.choice(
          "white_as_ungrounded",
          "White used ungrounded",
          segment.white_as_ungrounded,
          yesNo("is a line conductor", "is not a line conductor"),
          "line conductor?",
        )}
        ,{" "}
        {f.choice(
          "white_reidentified",
          "White re-identified",
          segment.white_reidentified,
          yesNo("re-identified at both ends", "not re-identified"),
          "not yet re-identified",
        )}
        . Grounding conductor {own.choice("egc", "Grounding conductor", circuit.egc, SIZES, least)}. Called{" "}
        {f.text("name", "Segment name", segment.name)}.
      </Sentence>
      {!readOnly && (
        <div className="mt-3 flex gap-2">
          <Button onClick={() => plan.change(insertSegment(circuitId, circuit, segmentId), "Add a segment")}>
            Add one after it
          </Button>
          <Button onClick={() => plan.change(patchAt(part.path, undefined), "Remove the segment")}>Remove it</Button>
        </div>
      )}
    </>
  );
}

export function DisconnectEditor({ line, part, plan, readOnly }: Props) {
  const disconnect = line.circuit.disconnect;
  const f = fields(plan, part.path, readOnly);
  return (
    <>
      <Sentence>
        {f.number("rating_a", "Disconnect rating", disconnect?.rating_a, "A")}{" "}
        {f.choice("type", "Disconnect kind", disconnect?.type, [
          { value: "nonfused", label: "without fuses" },
          { value: "fused", label: "fused" },
          { value: "breaker", label: "breaker" },
        ])}
        ,{" "}
        {f.choice(
          "in_sight",
          "In sight of the unit",
          disconnect?.in_sight,
          yesNo("in sight of the unit", "out of sight of the unit"),
          "sight not known",
        )}
        , {f.number("distance_ft", "Distance to the unit", disconnect?.distance_ft, "ft")} away. Working space{" "}
        {f.number("working_depth_in", "Working space depth", disconnect?.working_depth_in, "in")} deep and{" "}
        {f.number("working_width_in", "Working space width", disconnect?.working_width_in, "in")} wide.
      </Sentence>
      {disconnect?.type === "nonfused" && (
        <p className="mt-2 text-sm text-soft">It opens the line and protects nothing: the device in the panel must.</p>
      )}
    </>
  );
}

const KINDS = options(
  "mini_split_outdoor",
  "condensing_unit",
  "heat_pump_outdoor",
  "packaged_rooftop",
  "packaged_heat_pump",
);

function PlateRow({ name, children }: { name: string; children: ReactNode }) {
  return (
    <div className="flex items-baseline justify-between gap-x-4 border-t border-faint py-1 first-of-type:border-0">
      <span className="text-sm text-soft">{name}</span>
      <span className="inline-flex flex-wrap items-baseline justify-end gap-1 text-lg">{children}</span>
    </div>
  );
}

export function UnitEditor({ line, part, plan, readOnly }: Props) {
  const { unit, circuit, circuitId } = line;
  const plate = unit?.nameplate;
  const f = fields(plan, `${part.path}/nameplate`, readOnly);
  const u = fields(plan, part.path, readOnly);
  const own = fields(plan, `circuits/${circuitId}`, readOnly);
  if (!unit) return <p>This line has no unit yet.</p>;
  return (
    <>
      {/* The plate as it is riveted to the unit. */}
      <div className="relative rounded-md border-2 border-ink bg-paper px-5 py-3">
        {["left-1.5 top-1.5", "right-1.5 top-1.5", "left-1.5 bottom-1.5", "right-1.5 bottom-1.5"].map((corner) => (
          <span key={corner} aria-hidden className={`absolute size-1.5 rounded-full bg-faint ${corner}`} />
        ))}
        <PlateRow name="Volts, phases">
          {f.text("volts", "Plate volts", plate?.volts, "V")}{" "}
          {f.choice("phase", "Plate phases", plate?.phase, [
            { value: 1, label: "1 phase" },
            { value: 3, label: "3 phases" },
          ])}
        </PlateRow>
        <PlateRow name="Minimum circuit ampacity">
          {f.number("mca_a", "Minimum circuit ampacity (MCA)", plate?.mca_a, "A")}
        </PlateRow>
        <PlateRow name="Maximum fuse or breaker">
          {f.number("max_ocpd_a", "Maximum fuse or breaker", plate?.max_ocpd_a, "A")}
        </PlateRow>
        <PlateRow name="The maximum names">
          {f.choice("max_ocpd_type", "The maximum is for", plate?.max_ocpd_type, [
            { value: "fuse_or_breaker", label: "fuse or breaker" },
            { value: "fuse", label: "fuse only" },
            { value: "breaker", label: "breaker only" },
          ])}
        </PlateRow>
        <PlateRow name="Minimum fuse or breaker">
          {f.number("min_ocpd_a", "Minimum fuse or breaker", plate?.min_ocpd_a, "A")}
        </PlateRow>
        <PlateRow name="Range, if marked">
          {f.number("volts_min", "Lowest volts", plate?.volts_min, undefined, "lowest")}
          <span className="text-soft">to</span>
          {f.number("volts_max", "Highest volts", plate?.volts_max, "V", "highest")}
        </PlateRow>
      </div>
      <div className="mt-3">
        <Sentence>
          {u.text("name", "Unit name", unit.name)}, {u.choice("kind", "Kind of unit", unit.kind, KINDS)}, at{" "}
          {u.text("place", "Unit place", unit.place)}. A receptacle for service{" "}
          {own.number(
            "receptacle_distance_ft",
            "Distance to the service receptacle",
            circuit.receptacle_distance_ft,
            "ft",
          )}{" "}
          away. Ground-fault protection{" "}
          {own.choice("gfci", "Ground-fault protection", circuit.gfci, yesNo("planned", "not planned"), "not decided")}.
        </Sentence>
      </div>
    </>
  );
}
