/** What can be changed on each part, as sentences whose words are the fields. */
import { Link } from "react-router";

import type { SegmentResult } from "../../api/client";
import vocabulary from "../../api/vocabulary.json";
import { type Line, type Part, runIndex, say, saySize, words } from "../../drawing/parts";
import { patchAt } from "../../plan/merge";
import type { PlanHandle } from "../../plan/usePlan";
import { Edit } from "../../ui/Edit";
import { Button } from "../../ui/parts";
import { insertSegment, parseSpaces } from "./edits";
import { fields, options, PHASES, Sentence, yesNo } from "../../ui/fields";

interface Props {
  line: Line;
  part: Part;
  plan: PlanHandle;
  readOnly: boolean;
}

export function SourceEditor({ line, part, plan, readOnly }: Props) {
  const source = line.source;
  const f = fields(plan, part.path, readOnly);
  const own = fields(plan, `circuits/${line.circuitId}`, readOnly);
  const sources = Object.entries(plan.document?.sources ?? {}).map(([value, entry]) => ({
    value,
    label: entry.name ?? value,
  }));
  if (!source)
    return (
      <Sentence>
        This line has no source yet. It begins at{" "}
        {own.choice(
          "source",
          "Source of this line",
          null,
          sources,
          sources.length ? "choose one" : "no panel drawn yet",
        )}
        .
      </Sentence>
    );
  const boxed = source.kind === "panel" || source.kind === "subpanel";
  return (
    <>
      <Sentence>
        This line begins at {own.choice("source", "Source of this line", line.circuit.source, sources)}, a{" "}
        {f.choice("kind", "Kind of source", source.kind, options(...vocabulary.sources))} called{" "}
        {f.text("name", "Panel name", source.name)} at{" "}
        {f.text("place", "Panel place", source.place, undefined, "where?")}. It gives{" "}
        {f.number("volts", "Supply volts", source.volts, "V", "volts?")},{" "}
        {f.choice("phase", "Supply phases", source.phase, PHASES, "phases?")},{" "}
        {f.number("volts_to_ground", "Volts to ground", source.volts_to_ground, "V", "volts?")} to ground.{" "}
        {boxed ? (
          <>
            Its bus carries {f.number("bus_a", "Bus rating", source.bus_a, "A", "amps?")}; it has{" "}
            {f.number("spaces", "Numbered spaces", source.spaces, undefined, "how many?")} spaces.
          </>
        ) : (
          <>It is rated {f.number("bus_a", "Rating of the source", source.bus_a, "A", "amps?")}.</>
        )}
      </Sentence>
    </>
  );
}

export function BreakerEditor({ line, part, plan, readOnly }: Props) {
  const ocpd = line.circuit.ocpd;
  const f = fields(plan, part.path, readOnly);
  const own = fields(plan, `circuits/${line.circuitId}`, readOnly);
  const path = `${part.path}/spaces`;
  const source = line.source;
  const compressor = Boolean(line.unit?.nameplate?.compressors?.length) && line.unit?.nameplate?.max_ocpd_a == null;
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
      {source && source.volts_to_ground !== source.volts && (
        <>
          , on{" "}
          {own.choice(
            "poles",
            "Poles",
            line.circuit.poles,
            [1, 2, ...(source.phase === 3 ? [3] : [])].map((value) => ({
              value,
              label: ["one pole", "two poles", "three poles"][value - 1] ?? "",
            })),
            "as many poles as the unit takes",
          )}
        </>
      )}
      .
      {compressor && (
        <>
          {" "}
          Up to 225 % because{" "}
          {f.text("reason", "Reason for a larger device", ocpd?.reason, undefined, "no reason recorded")}.
        </>
      )}
    </Sentence>
  );
}

const SIZES = vocabulary.sizes.map((value) => ({ value, label: saySize(value) }));

/** What stands where no trade size is chosen: the least that will do. */
function fillWords(found: SegmentResult | undefined): string {
  return found?.raceway_size ? `at least ${found.raceway_size}` : "not known";
}

export function SegmentEditor({ line, part, plan, readOnly }: Props) {
  const { segment, segmentId } = part;
  const { circuit, circuitId, result } = line;
  const f = fields(plan, part.path, readOnly);
  const own = fields(plan, `circuits/${circuitId}`, readOnly);
  const found = result?.segments[runIndex(line, part)];
  if (part.cable) return <DrawnStretch part={part} found={found} id={plan.plan?.install.id ?? ""} />;
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
        , {f.choice("method", "Wiring method", segment.method, options(...vocabulary.methods), "method not known")} in{" "}
        {f.choice("raceway", "Raceway", segment.raceway, options(...vocabulary.raceways), "no raceway")}
        {segment.method === "cord" && (
          <>
            , {f.choice("factory_cord", "Whose cord", segment.factory_cord, yesNo("the unit's own", "made up on site"))}
          </>
        )}
        {segment.raceway && (
          <>
            {" "}
            of trade size{" "}
            {f.choice(
              "raceway_size",
              "Raceway trade size",
              segment.raceway_size,
              options(...vocabulary.trade_sizes),
              fillWords(found),
            )}
            , shared as {f.text("raceway_id", "Shared raceway", segment.raceway_id, undefined, "not shared")}
          </>
        )}
        . {f.number("length_ft", "Length", segment.length_ft, "ft")} one way,{" "}
        {f.choice("place", "Place", segment.place, options(...vocabulary.places), "place not known")}, at most{" "}
        {f.temperature("ambient_c", "Ambient temperature", segment.ambient_c)}.
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
      {found?.decides && (line.result?.segments.length ?? 0) > 1 && (
        <p className="mt-2 border-l-4 border-copper pl-3 text-ink">
          This stretch decides: of the whole run it carries least
          {found.ampacity_a != null && `, ${say(found.ampacity_a, "A")}`}.
        </p>
      )}
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

/** A stretch that is drawn as a cable: what is known of it, and where it is changed. */
function DrawnStretch({ part, found, id }: { part: Part; found: SegmentResult | undefined; id: string }) {
  const { segment, cable } = part;
  const facts = [
    segment?.conductor ? saySize(segment.conductor) : "size not known",
    segment?.method ?? "method not known",
    segment?.raceway ? `in ${segment.raceway}` : "",
    segment?.length_ft == null ? "length not known" : say(segment.length_ft, "ft"),
    segment?.place ? words(segment.place) : "place not known",
  ];
  return (
    <>
      <Sentence>
        This stretch is the cable {cable}: {facts.filter(Boolean).join(", ")}. It is sized as it is drawn.
      </Sentence>
      {found?.ampacity_a != null && <p className="mt-2">It carries {say(found.ampacity_a, "A")}.</p>}
      <Link
        className="mt-2 inline-flex min-h-11 items-center font-semibold underline"
        to={`/installs/${id}/landings?cable=${cable ?? ""}`}
      >
        Change it where it is landed
      </Link>
    </>
  );
}

export function DisconnectEditor({ line, part, plan, readOnly }: Props) {
  const disconnect = line.circuit.disconnect;
  const f = fields(plan, part.path, readOnly);
  const own = fields(plan, `circuits/${line.circuitId}`, readOnly);
  if (line.unit?.cord_connected)
    return (
      <Sentence>
        Receptacle{" "}
        {own.choice(
          "receptacle",
          "Receptacle configuration",
          line.circuit.receptacle,
          options(...vocabulary.receptacles),
          "which?",
        )}
        {!line.circuit.receptacle && (
          <> of {own.number("receptacle_a", "Receptacle rating", line.circuit.receptacle_a, "A")}</>
        )}
        ; the branch{" "}
        {own.choice(
          "other_outlets",
          "Other outlets on the branch",
          line.circuit.other_outlets,
          yesNo("also serves other outlets", "serves this plug alone"),
          "serves what else?",
        )}
        . The plug, within reach, is the disconnect.
      </Sentence>
    );
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
