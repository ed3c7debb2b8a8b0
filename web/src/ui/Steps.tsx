/** The steps that led to a number: what, how, from which inputs, by which article. */
import { Link } from "react-router";

import type { Step } from "../api/client";
import { say } from "../drawing/parts";

export function Steps({ rows }: { rows: readonly Step[] }) {
  return (
    <ol>
      {rows.map((step, index) => (
        <StepRow key={index} step={step} />
      ))}
    </ol>
  );
}

function StepRow({ step }: { step: Step }) {
  const value =
    typeof step.value === "number" ? say(step.value, step.unit, 2) : [step.value, step.unit].filter(Boolean).join(" ");
  const inputs = Object.entries(step.inputs).filter(([, figure]) => figure != null);
  return (
    <li className="border-t border-rule py-2 first:border-0">
      <p className="flex items-baseline justify-between gap-4">
        <span>{step.what}</span>
        <b className="text-right whitespace-nowrap">{value}</b>
      </p>
      <p className="text-sm text-soft">
        {step.formula}: <Article text={step.article} />
      </p>
      {inputs.length > 1 && (
        <p className="text-sm text-soft">
          {inputs.map(([name, figure]) => input(name, figure as number | string)).join(", ")}
        </p>
      )}
    </li>
  );
}

/** A table as an article cites it. */
export const TABLE = /(Table \d[\w.]*(?:\([\w]+\))*)/g;

/** An article as it is cited; a table in it leads to its figures. */
function Article({ text }: { text: string }) {
  return (
    <span className="whitespace-nowrap">
      {text.split(TABLE).map((piece, index) =>
        index % 2 ? (
          <Link
            key={index}
            className="underline decoration-faint underline-offset-2 hover:decoration-copper"
            to={`/rulebook?table=${encodeURIComponent(piece)}`}
          >
            {piece}
          </Link>
        ) : (
          piece
        ),
      )}
    </span>
  );
}

const UNITS: Record<string, string> = {
  a: "A",
  c: "°C",
  f: "°F",
  v: "V",
  ft: "ft",
  ft2: "ft²",
  ft3: "ft³",
  in2: "in²",
  kw: "kW",
  watts: "W",
  kft: "Ω/kft",
  volts: "V",
};
const BARE = ["volts", "watts"];

/** `ambient_c: 40` as "ambient 40 °C": inputs carry their unit in their name. */
function input(name: string, figure: number | string): string {
  const end = name.split("_").at(-1) ?? "";
  const unit = UNITS[end];
  const words =
    name === "ohm_per_kft"
      ? "resistance"
      : unit && !BARE.includes(end)
        ? name.slice(0, -end.length - 1)
        : name === "volts"
          ? "supply"
          : name;
  const shown = typeof figure === "number" ? Math.round(figure * 1e4) / 1e4 : figure;
  return `${words.replaceAll("_", " ")} ${shown}${unit ? ` ${unit}` : ""}`;
}
