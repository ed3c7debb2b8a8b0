/** A unit and its catalogue model, in both directions. */
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";

import { type CatalogueModel, freshKey, type Patch, post, type Unit } from "../api/client";
import { Button } from "./parts";

type Model = CatalogueModel["model"];

/** A unit takes over a model's plate and name; what was there of the plate goes. */
export function modelPatch(unit: string, model: Model): Patch {
  const { nameplate, ...rest } = model;
  return { equipment: { [unit]: { ...rest, nameplate } } };
}

/** Save a unit of a plan as a model of the company. */
export function SaveAsModel({ unit }: { unit: Unit }) {
  const client = useQueryClient();
  const [open, setOpen] = useState(false);
  const [names, setNames] = useState({ maker: unit.maker ?? "", model: unit.model ?? "" });
  const [said, setSaid] = useState("");
  const [key] = useState(freshKey);
  if (!open) return <Button onClick={() => setOpen(true)}>Save as a model</Button>;
  async function save() {
    const body = {
      maker: names.maker,
      model: names.model,
      kind: unit.kind,
      ...(unit.name ? { name: unit.name } : {}),
      ...(unit.cord_connected != null ? { cord_connected: unit.cord_connected } : {}),
      nameplate: unit.nameplate,
    };
    const sent = await post(
      "/api/catalogue",
      `${key}${names.maker}${names.model}`.replace(/[^A-Za-z0-9_-]/g, "").slice(0, 64),
      body,
    );
    if (sent.kind === "unreachable") setSaid("Leitung does not answer. Nothing is lost; try again.");
    else if (sent.kind === "refused") {
      const first = sent.problem.errors?.[0];
      setSaid(first ? `${first.field}: ${first.message}. ${first.remedy}` : sent.problem.detail);
    } else {
      setSaid("Saved in the catalogue.");
      void client.invalidateQueries({ queryKey: ["catalogue"] });
    }
  }
  return (
    <form
      className="flex w-full flex-wrap items-end gap-3 border-t border-rule pt-3"
      onSubmit={(event) => {
        event.preventDefault();
        void save();
      }}
    >
      {(["maker", "model"] as const).map((field) => (
        <label key={field} className="text-sm text-soft">
          {field === "maker" ? "Maker" : "Model"}
          <input
            className="block min-h-11 w-36 border-b-2 border-ink/50 bg-transparent px-1 text-base text-ink focus:border-copper"
            value={names[field]}
            onChange={(event) => setNames({ ...names, [field]: event.target.value })}
          />
        </label>
      ))}
      <Button type="submit" kind="main">
        Save
      </Button>
      <p role="status" className="w-full text-sm text-soft">
        {said}
      </p>
    </form>
  );
}
