/** What the plate says, whatever it says: the rows that this kind of unit has, and more where the plate has more. */
import { type ReactNode, useState } from "react";

import { api, data, type Nameplate } from "../../api/client";
import { type Line, type Part, say } from "../../drawing/parts";
import type { PlanHandle } from "../../plan/usePlan";
import { Choice, Edit } from "../../ui/Edit";
import { Button } from "../../ui/parts";
import { modelPatch, SaveAsModel } from "../../ui/models";
import { useCatalogue } from "../../plan/useCatalogue";
import { PhotoStrip } from "../../ui/PhotoStrip";
import { removeLine } from "./edits";
import { PlatePhoto } from "./Plate";
import { cell, fields, options, Sentence, yesNo } from "../../ui/fields";
import { KINDS, rowsOf } from "../../plan/kinds";

interface Props {
  line: Line;
  part: Part;
  plan: PlanHandle;
  readOnly: boolean;
}

function PlateRow({ name, children }: { name: string; children: ReactNode }) {
  return (
    <div className="flex items-baseline justify-between gap-x-4 border-t border-faint py-1 first-of-type:border-0">
      <span className="text-sm text-soft">{name}</span>
      <span className="inline-flex flex-wrap items-baseline justify-end gap-1 text-lg">{children}</span>
    </div>
  );
}

export function UnitEditor({ line, part, plan, readOnly }: Props) {
  const { unit, circuit, circuitId, fed } = line;
  const [all, setAll] = useState(false);
  const models = useCatalogue();
  const own = fields(plan, `circuits/${circuitId}`, readOnly);
  if (circuit.feeds)
    return (
      <Sentence>
        This feeder carries everything on <b className="text-ink">{fed?.name ?? circuit.feeds}</b>
        {line.result?.running_a != null && `: ${say(line.result.running_a, "A")} on its fullest leg`}. Its lines are the
        ones drawn from that panel.
      </Sentence>
    );
  if (!unit)
    return (
      <Sentence>
        This line ends nowhere yet. It feeds{" "}
        {own.choice(
          "feeds",
          "Panel that this line feeds",
          null,
          Object.entries(plan.document?.sources ?? {})
            .filter(([id]) => id !== circuit.source)
            .map(([value, entry]) => ({ value, label: entry.name ?? value })),
          "no panel",
        )}
        , or remove it and draw a line to a unit.
      </Sentence>
    );
  const plate = unit.nameplate;
  const rows = rowsOf(unit.kind, plate);
  const show = (row: "marked" | "heat" | "amps" | "compressors" | "motors") => all || rows.has(row);
  const f = fields(plan, `${part.path}/nameplate`, readOnly);
  const heat = fields(plan, `${part.path}/nameplate/heat`, readOnly);
  const u = fields(plan, part.path, readOnly);
  const cooling = Boolean(plate?.heat);
  return (
    <>
      {!readOnly && !plate && (
        <Sentence>
          Take it from the catalogue:{" "}
          <Choice
            label="Catalogue model"
            path={`${part.path}/model`}
            value={null}
            empty="which model?"
            options={models
              .filter(({ model }) => model.kind === unit.kind)
              .map(({ model }) => ({ value: `${model.maker} ${model.model}`, label: `${model.maker} ${model.model}` }))}
            onCommit={(value) => {
              const found = models.find(({ model }) => `${model.maker} ${model.model}` === value);
              if (found) plan.change(modelPatch(circuit.equipment ?? "", found.model), "Take the catalogue model");
            }}
          />
        </Sentence>
      )}
      {!readOnly && plan.plan?.install.id && circuit.equipment && <PlatePhoto plan={plan} unit={circuit.equipment} />}
      {/* The plate as it is riveted to the unit. */}
      <div className="relative mt-3 rounded-md border-2 border-ink bg-paper px-5 py-3">
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
        {(Boolean(unit.serial ?? unit.model) || all) && (
          <PlateRow name="Serial number">
            {u.text("serial", "Serial number", unit.serial, undefined, "as stamped?")}
          </PlateRow>
        )}
        {show("heat") && (
          <PlateRow name="Electric heat, at">
            {heat.number("watts", "Heat, watts", plate?.heat?.watts, "W")}
            <span className="text-soft">at</span>
            {heat.number("rated_volts", "Heat, rated volts", plate?.heat?.rated_volts, "V", "volts?")}
          </PlateRow>
        )}
        {show("amps") && (
          <PlateRow name="Amps, or watts">
            {f.number("amps", "Plate amps", plate?.amps, "A", "amps?")}
            <span className="text-soft">or</span>
            {f.number("watts", "Plate watts", plate?.watts, "W", "watts?")}
          </PlateRow>
        )}
        {show("amps") && (
          <PlateRow name="On for three hours or more">
            {f.choice("continuous", "Continuous load", plate?.continuous, yesNo("yes", "no"))}
          </PlateRow>
        )}
        {show("marked") && (
          <>
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
          </>
        )}
        {show("compressors") && <Compressors plate={plate} path={part.path} plan={plan} readOnly={readOnly} />}
        {show("motors") && <Motors plate={plate} path={part.path} plan={plan} readOnly={readOnly} />}
        <PlateRow name="Range, if marked">
          {f.number("volts_min", "Lowest volts", plate?.volts_min, undefined, "lowest")}
          <span className="text-soft">to</span>
          {f.number("volts_max", "Highest volts", plate?.volts_max, "V", "highest")}
        </PlateRow>
        {!all && (
          <button
            type="button"
            className="min-h-11 w-full border-t border-faint text-left text-sm text-soft underline decoration-faint underline-offset-4 hover:decoration-copper"
            onClick={() => setAll(true)}
          >
            The plate says more
          </button>
        )}
      </div>
      <div className="mt-3">
        <Sentence>
          {u.text("name", "Unit name", unit.name)}, a {u.choice("kind", "Kind of unit", unit.kind, KINDS)},{" "}
          {u.number("quantity", "Like units on this circuit", unit.quantity, undefined, "1")} on this circuit, at{" "}
          {u.text("place", "Unit place", unit.place)}. It is{" "}
          {u.choice(
            "cord_connected",
            "Cord and plug",
            unit.cord_connected,
            yesNo("on cord and plug", "hard-wired"),
            "hard-wired",
          )}
          .{" "}
          {cooling && (
            <>
              Heat and cooling{" "}
              {u.choice(
                "heat_with_cooling",
                "Heat with cooling",
                unit.heat_with_cooling,
                yesNo("can run together", "are interlocked"),
                "together or not?",
              )}
              .{" "}
            </>
          )}
          A receptacle for service{" "}
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
      <PhotoStrip
        install={plan.plan?.install.id ?? ""}
        about={`equipment/${circuit.equipment ?? ""}`}
        name={unit.name ?? circuit.equipment ?? "the unit"}
        readOnly={readOnly}
      />
      {!readOnly && (
        <div className="mt-3 flex flex-wrap gap-2">
          {plate && <SaveAsModel unit={unit} />}
          {plan.plan?.install.id && (
            <OneMore install={plan.plan.install.id} unit={circuit.equipment ?? ""} plan={plan} />
          )}
          {plan.plan?.install.id && (
            <Button
              onClick={() => plan.document && plan.change(removeLine(plan.document, circuitId), "Remove the line")}
            >
              Remove this line
            </Button>
          )}
        </div>
      )}
    </>
  );
}

interface ListProps {
  plate: Nameplate | null | undefined;
  path: string;
  plan: PlanHandle;
  readOnly: boolean;
}

const MARKS = [
  ["rla_a", "RLA"],
  ["bcsc_a", "BCSC"],
  ["lra_a", "LRA"],
] as const;

/** A list on the plate is one value of the plan: a change writes it whole. */
function Compressors({ plate, path, plan, readOnly }: ListProps) {
  const rows = plate?.compressors ?? [];
  const at = `${path}/nameplate/compressors`;
  const shown = readOnly ? rows : [...rows, {}];
  return (
    <>
      {shown.map((row, index) => (
        <PlateRow
          key={index}
          name={index < rows.length ? `Compressor ${index + 1}` : rows.length ? "Another compressor" : "Compressor"}
        >
          {MARKS.map(([field, label]) => (
            <span key={field} className="inline-flex items-baseline gap-1">
              <Edit
                label={`Compressor ${index + 1} ${label}`}
                {...cell(plan, at, index, field, readOnly)}
                value={row[field]}
                empty={label}
                unit={label}
                onCommit={(value, entry) => {
                  const list = shown.map((old, i) => (i === index ? { ...old, [field]: value } : old));
                  const kept = list.filter((entry) => Object.values(entry).some((mark) => mark != null));
                  plan.set(at, kept.length ? kept : undefined, "Compressor", {
                    ...entry,
                    field: `${at}/${index}/${field}`,
                  });
                }}
              />
            </span>
          ))}
        </PlateRow>
      ))}
    </>
  );
}

/** Another unit as this one, with a line as this one's. */
function OneMore({ install, unit, plan }: { install: string; unit: string; plan: PlanHandle }) {
  const [failed, setFailed] = useState(false);
  async function add() {
    try {
      await plan.settled();
      const params = { path: { install_id: install } };
      const body = { text: `like ${unit}`, units: "us" } as const;
      const { brought } = data(await api.POST("/api/installs/{install_id}/entry/sentence", { params, body }));
      plan.change(brought.patch, `Add ${brought.drawn.join(", ")} like ${unit}`);
      setFailed(false);
    } catch {
      setFailed(true);
    }
  }
  return (
    <>
      <Button onClick={() => void add()}>One more like it</Button>
      {failed && <p className="text-sm text-stop">That did not reach Leitung. Nothing was added; press again.</p>}
    </>
  );
}

const USES = { condenser_fan: "condenser fan", blower: "blower", pump: "pump" } as const;

function Motors({ plate, path, plan, readOnly }: ListProps) {
  const rows = plate?.motors ?? [];
  const at = `${path}/nameplate/motors`;
  const used = rows.map((row, index) => ({ row, index }));
  return (
    <>
      {used.map(({ row, index }) => (
        <PlateRow key={index} name={`Motor: ${USES[row.use]}`}>
          <Edit
            label={`Motor ${index + 1} FLA`}
            {...cell(plan, at, index, "fla_a", readOnly)}
            value={row.fla_a}
            unit="A FLA"
            onCommit={(value, entry) => {
              const list = rows.map((old, i) => (i === index ? { ...old, fla_a: value } : old));
              const kept = list.filter((entry) => entry.fla_a !== undefined);
              plan.set(at, kept.length ? kept : undefined, "Motor", { ...entry, field: `${at}/${index}/fla_a` });
            }}
          />
        </PlateRow>
      ))}
      {!readOnly && (
        <PlateRow name="Add a motor">
          <Choice
            label="Add a motor"
            path={`${at}/new`}
            value={null}
            empty="which?"
            options={options("condenser_fan", "blower", "pump")}
            onCommit={(use) => plan.set(at, [...rows, { use, fla_a: 1 }], "Add a motor")}
          />
        </PlateRow>
      )}
    </>
  );
}
