/** A new line as one sentence: from which panel, to which unit, over what run. */
import { useState } from "react";

import type { CatalogueModel, Patch, PlanDoc } from "../../api/client";
import vocabulary from "../../api/vocabulary.json";
import type { PlanHandle } from "../../plan/usePlan";
import { Choice, Edit, parse } from "../../ui/Edit";
import { options } from "../../ui/fields";
import { Button } from "../../ui/parts";
import { asText } from "../../ui/text";
import { Temperature } from "../../ui/Temperature";
import { useCatalogue } from "../../plan/useCatalogue";
import { nextId } from "../../plan/ids";
import { KINDS } from "../../plan/kinds";

interface Wish {
  source: string | undefined;
  unit: string;
  poles: number | undefined;
  length: number | string | undefined;
  method: string | undefined;
  place: string | undefined;
  ambient: number | string | undefined;
}

const NEW_PANEL = "a new panel";

export function NewLine({ plan, first, onDrawn }: { plan: PlanHandle; first: boolean; onDrawn: (id: string) => void }) {
  const [wish, setWish] = useState<Wish | null>(null);
  const models = useCatalogue();
  const document = plan.document;
  if (!document) return null;
  if (!wish)
    return (
      <Button
        onClick={() =>
          setWish({
            source: Object.keys(document.sources ?? {})[0] ?? NEW_PANEL,
            unit: "unit_heater",
            poles: undefined,
            length: undefined,
            method: undefined,
            place: undefined,
            ambient: undefined,
          })
        }
      >
        {first ? "Draw the first line" : "Add a line"}
      </Button>
    );
  const put = (field: keyof Wish) => (value: unknown) => setWish({ ...wish, [field]: value });
  const source = document.sources?.[wish.source ?? ""];
  return (
    <section aria-label="A new line" className="border-t-2 border-ink pt-4">
      <h2 className="text-lg font-bold">A new line</h2>
      <p className="mt-1 max-w-3xl leading-9 text-soft max-md:leading-[3rem]">
        From{" "}
        <Choice
          label="Panel of the new line"
          path="new/source"
          value={wish.source}
          options={[
            ...Object.entries(document.sources ?? {}).map(([value, entry]) => ({ value, label: entry.name ?? value })),
            { value: NEW_PANEL, label: NEW_PANEL },
          ]}
          onCommit={put("source")}
        />{" "}
        {source && source.volts_to_ground !== source.volts && (
          <>
            on{" "}
            <Choice
              label="Poles of the new line"
              path="new/poles"
              value={wish.poles}
              empty="as many poles as the unit takes"
              options={[
                { value: 1, label: "one pole" },
                ...(source.phase === 3 ? [{ value: 2, label: "two poles" }] : []),
              ]}
              onCommit={put("poles")}
            />{" "}
          </>
        )}
        to a{" "}
        <Choice
          label="Unit of the new line"
          path="new/unit"
          value={wish.unit}
          options={unitOptions(models)}
          onCommit={put("unit")}
        />
        ,{" "}
        <Edit
          label="Length of the new run"
          path="new/length"
          kind="text"
          value={asText(wish.length)}
          unit={typeof wish.length === "number" ? "ft" : ""}
          onCommit={(text) => put("length")(parse(asText(text), "number"))}
        />{" "}
        of{" "}
        <Choice
          label="Method of the new run"
          path="new/method"
          value={wish.method}
          empty="which cable"
          options={options(...vocabulary.methods)}
          onCommit={put("method")}
        />
        ,{" "}
        <Choice
          label="Place of the new run"
          path="new/place"
          value={wish.place}
          empty="where?"
          options={options(...vocabulary.places)}
          onCommit={put("place")}
        />
        , at most{" "}
        <Temperature
          label="Ambient of the new run"
          path="new/ambient"
          celsius={wish.ambient}
          onCommit={put("ambient")}
        />
        .
      </p>
      <div className="mt-3 flex gap-2">
        <Button
          kind="main"
          onClick={() => {
            const [patch, circuit] = newLine(document, wish, models);
            plan.change(patch, "Add a line");
            // What is no plain figure is read by the server, and stays in its field where it cannot be read.
            for (const [field, typed, label] of texts(wish))
              plan.set(`circuits/${circuit}/run/s1/${field}`, typed, label, { typed, doubtful: true });
            setWish(null);
            onDrawn(circuit);
          }}
        >
          Draw it
        </Button>
        <Button onClick={() => setWish(null)}>Not now</Button>
      </div>
    </section>
  );
}

function texts(wish: Wish): [field: string, typed: string, label: string][] {
  const said: [string, unknown, string][] = [
    ["length_ft", wish.length, "Length"],
    ["ambient_c", wish.ambient, "Ambient temperature"],
  ];
  return said.flatMap(([field, typed, label]) => (typeof typed === "string" ? [[field, typed, label]] : []));
}

/** Every kind of unit, then every model of the catalogue. */
function unitOptions(models: readonly CatalogueModel[]) {
  return [
    ...KINDS.map(({ value, label }) => ({ value: value, label })),
    ...models.map(({ model }) => ({
      value: modelKey(model),
      label: `${model.maker} ${model.model}, ${model.name ?? ""}`,
    })),
  ];
}

function modelKey(model: { maker: string; model: string }): string {
  return `${model.maker} ${model.model}`;
}

/** The patch that draws the line, and the line's id. What was left open stays not known. */
export function newLine(document: PlanDoc, wish: Wish, models: readonly CatalogueModel[]): [Patch, string] {
  const found = models.find(({ model }) => modelKey(model) === wish.unit)?.model;
  const kind = KINDS.find((entry) => entry.value === (found?.kind ?? wish.unit));
  const fresh = wish.source === NEW_PANEL || !document.sources?.[wish.source ?? ""];
  const source = fresh ? nextId("P", document.sources) : (wish.source ?? "");
  const unit = nextId(kind?.unit ?? "U", document.equipment);
  const circuit = nextId(kind?.line ?? "L", document.circuits);
  const segment = {
    order: 10,
    material: "Cu",
    ...(typeof wish.length === "number" ? { length_ft: wish.length } : {}),
    ...(wish.method ? { method: wish.method } : {}),
    ...(wish.place ? { place: wish.place } : {}),
    ...(typeof wish.ambient === "number" ? { ambient_c: wish.ambient } : {}),
  };
  const patch = {
    ...(fresh ? { sources: { [source]: { kind: "panel", name: "New panel" } } } : {}),
    equipment: { [unit]: found ? { ...found } : { kind: kind?.value } },
    circuits: {
      [circuit]: {
        source,
        equipment: unit,
        ...(wish.poles ? { poles: wish.poles } : {}),
        ocpd: { type: "breaker" },
        run: { s1: segment },
      },
    },
  };
  return [patch, circuit];
}
