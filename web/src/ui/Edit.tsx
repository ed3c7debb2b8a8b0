/** A value in a sentence that can be changed where it stands. What was typed is never lost to a refusal. */
import { type KeyboardEvent, useId, useRef, useState } from "react";

import type { FieldError } from "../plan/usePlan";
import { asText } from "./text";
import { beside } from "./units";

/** What was typed, as it was typed, and whether it cannot be a value of its field. */
export interface Entry {
  typed: string;
  doubtful: boolean;
}

interface Common {
  label: string;
  path: string;
  error?: FieldError | undefined;
  readOnly?: boolean;
  /** A refused entry is let go: the value that stands shows again. */
  onForget?: () => void;
  /** What stands there when nothing is entered. */
  empty?: string;
}

interface NumberProps extends Common {
  /** A figure, or a range as it is written: "5 to 6". */
  value: number | string | null | undefined;
  unit?: string;
  onCommit: (value: unknown, entry: Entry) => void;
  kind?: "number";
}

interface TextProps extends Common {
  value: string | null | undefined;
  unit?: string;
  onCommit: (value: unknown, entry: Entry) => void;
  kind: "text";
}

const box =
  "field-sizing-content h-7 max-w-full min-w-6 rounded-none border-0 border-b-2 border-ink/50 bg-transparent px-0.5 leading-6 font-semibold hover:border-copper focus:border-copper focus:bg-paper disabled:border-transparent disabled:text-ink max-md:h-11";
const unknown = "border-dashed font-normal text-soft";

/** An entered text as it goes to the server: a number where it is one, undefined where it was emptied. */
export function parse(text: string, kind: "number" | "text"): unknown {
  const typed = text.trim();
  if (typed === "") return undefined;
  if (kind === "text") return typed;
  const figure = Number(typed.replace(",", "."));
  return Number.isFinite(figure) ? figure : typed;
}

export function Edit(props: NumberProps | TextProps) {
  const { label, value, unit, error, readOnly, onCommit, onForget } = props;
  const kind = props.kind ?? "number";
  const shown = value == null ? "" : String(value);
  const [typed, setTyped] = useState<string | null>(null);
  const escaped = useRef(false);
  const id = useId();
  // A refused entry stays in its field until it is corrected.
  const text = typed ?? (error ? error.typed : shown);

  function commit() {
    const dropped = escaped.current;
    escaped.current = false;
    if (dropped || typed === null) {
      if (dropped) onForget?.();
      setTyped(null);
      return;
    }
    const entered = parse(typed, kind);
    setTyped(null);
    if (asText(entered) === shown) onForget?.();
    else onCommit(entered, { typed, doubtful: kind === "number" && typeof entered === "string" });
  }
  function key(event: KeyboardEvent<HTMLInputElement>) {
    if (event.key === "Enter") event.currentTarget.blur();
    if (event.key === "Escape") {
      escaped.current = true;
      event.currentTarget.blur();
    }
  }
  return (
    <span className="inline-flex flex-col align-baseline">
      <span className="inline-flex items-baseline gap-0.5 whitespace-nowrap">
        <input
          id={id}
          aria-label={label}
          aria-invalid={Boolean(error)}
          aria-describedby={error ? `${id}-error` : undefined}
          data-path={props.path}
          data-typed={typed === null ? undefined : "true"}
          className={`${box} ${error ? "border-stop" : ""} ${text === "" ? unknown : ""} placeholder:text-soft`}
          inputMode={kind === "number" ? "decimal" : "text"}
          autoComplete="off"
          placeholder={props.empty ?? "not known"}
          disabled={readOnly}
          value={text}
          onChange={(event) => setTyped(event.target.value)}
          onBlur={commit}
          onKeyDown={key}
        />
        {unit && text !== "" && <span className="text-soft">{unit}</span>}
        {kind === "number" && text !== "" && metric(value, unit)}
      </span>
      <FieldMessage id={`${id}-error`} error={error} />
    </span>
  );
}

/** The metric figure beside an entered one, where metric is shown. */
function metric(value: string | number | null | undefined, unit: string | undefined) {
  const figure = typeof value === "number" ? beside(value, unit) : "";
  return figure ? <span className="text-soft">({figure})</span> : null;
}

interface ChoiceProps extends Common {
  value: string | number | boolean | null | undefined;
  options: readonly { value: string | number | boolean; label: string }[];
  onCommit: (value: unknown) => void;
}

export function Choice({ label, value, options, error, readOnly, onCommit, path, empty = "not known" }: ChoiceProps) {
  const id = useId();
  const known = options.findIndex((option) => option.value === value);
  return (
    <span className="inline-flex flex-col align-baseline">
      <select
        aria-label={label}
        aria-invalid={Boolean(error)}
        data-path={path}
        className={`${box} appearance-none ${error ? "border-stop" : ""} ${known < 0 ? unknown : ""}`}
        disabled={readOnly}
        value={known}
        onChange={(event) => onCommit(options[Number(event.target.value)]?.value)}
      >
        <option value={-1}>{empty}</option>
        {options.map((option, index) => (
          <option key={String(option.value)} value={index}>
            {option.label}
          </option>
        ))}
      </select>
      <FieldMessage id={id} error={error} />
    </span>
  );
}

function FieldMessage({ id, error }: { id: string; error: FieldError | undefined }) {
  if (!error) return null;
  return (
    <span id={id} role="alert" className="max-w-72 text-sm whitespace-normal text-stop">
      {error.message} {error.remedy}
    </span>
  );
}
