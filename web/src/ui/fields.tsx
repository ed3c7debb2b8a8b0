/** Fields of one element of the plan, bound to where they stand in the document. */
import type { ReactNode } from "react";

import { words } from "../drawing/parts";
import type { PlanHandle } from "../plan/usePlan";
import { Choice, Edit, type Entry } from "./Edit";
import { Temperature } from "./Temperature";

export type Figure = number | number[] | null | undefined;
export type Option = { value: string | number | boolean; label: string };

/** Fields of one element of the plan, by the name of the field in the document. */
export function fields(plan: PlanHandle, base: string, readOnly: boolean) {
  const common = (name: string, label: string) => {
    const path = base ? `${base}/${name}` : name;
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
    /** A figure of a start, which may be a range of two. */
    figure: (name: string, label: string, value: Figure, unit?: string, empty?: string) => (
      <Edit
        {...common(name, label)}
        value={Array.isArray(value) ? value.join(" to ") : value}
        unit={unit}
        empty={empty}
      />
    ),
    text: (name: string, label: string, value: string | null | undefined, unit?: string, empty?: string) => (
      <Edit {...common(name, label)} kind="text" value={value} unit={unit} empty={empty} />
    ),
    temperature: (name: string, label: string, celsius: number | null | undefined) => (
      <Temperature {...common(name, label)} celsius={celsius} />
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

export function options(...values: (string | number)[]): Option[] {
  return values.map((value) => ({ value, label: words(String(value)) }));
}

export const PHASES: Option[] = [
  { value: 1, label: "single phase" },
  { value: 3, label: "three phases" },
];

export const yesNo = (yes: string, no: string): Option[] => [
  { value: true, label: yes },
  { value: false, label: no },
];

/** What binds one cell of a list in the plan to its place: the list is written whole, the message stands at the cell. */
export function cell(plan: PlanHandle, list: string, index: number, field: string, readOnly: boolean) {
  const path = `${list}/${index}/${field}`;
  return { path, error: plan.errors[path], readOnly, onForget: () => plan.forget(path) };
}

/** A sentence whose underlined words can be changed; dashed where something is not known. */
export function Sentence({ children }: { children: ReactNode }) {
  return <p className="leading-9 text-soft max-md:leading-[3rem]">{children}</p>;
}
