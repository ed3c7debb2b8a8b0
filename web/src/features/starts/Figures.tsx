/** Figures of a trial as they stand in a sentence: a number, a range "5 to 6", or nothing where it is not known. */
import { useState } from "react";

import { type Figure, readFigure, sayFigure } from "../../plan/trial";

interface Props {
  label: string;
  value: Figure;
  unit: string;
  onCommit: (value: Figure) => void;
}

export function FigureField({ label, value, unit, onCommit }: Props) {
  const [typed, setTyped] = useState<string | null>(null);
  const [wrong, setWrong] = useState(false);
  function commit() {
    if (typed === null) return;
    const read = readFigure(typed);
    setWrong(read === null);
    if (!read) return;
    setTyped(null);
    if (sayFigure(read.figure) !== sayFigure(value)) onCommit(read.figure);
  }
  const shown = typed ?? sayFigure(value);
  return (
    <label className="inline-flex items-baseline gap-1 whitespace-nowrap">
      <input
        aria-label={label}
        aria-invalid={wrong}
        inputMode="decimal"
        placeholder="?"
        size={Math.max(3, shown.length)}
        className={`min-h-11 border-b-2 bg-transparent px-1 font-semibold tabular-nums ${wrong ? "border-stop" : "border-faint hover:border-copper"}`}
        value={shown}
        onChange={(event) => setTyped(event.target.value)}
        onBlur={commit}
        onKeyDown={(event) => {
          if (event.key === "Enter") commit();
          if (event.key === "Escape") {
            setTyped(null);
            setWrong(false);
          }
        }}
      />
      <span className="text-soft">{unit}</span>
      {wrong && (
        <span role="alert" className="text-stop">
          “{typed}” is no figure. Type a number, or two with “to” between them.
        </span>
      )}
    </label>
  );
}

interface PickProps<T extends string | number> {
  label: string;
  value: T;
  options: readonly { value: T; label: string }[];
  onCommit: (value: T) => void;
}

export function Pick<T extends string | number>({ label, value, options, onCommit }: PickProps<T>) {
  return (
    <select
      aria-label={label}
      className="min-h-11 border-b-2 border-faint bg-transparent font-semibold hover:border-copper"
      value={value}
      onChange={(event) => {
        const found = options.find((option) => String(option.value) === event.target.value);
        if (found) onCommit(found.value);
      }}
    >
      {options.map((option) => (
        <option key={option.value} value={option.value}>
          {option.label}
        </option>
      ))}
    </select>
  );
}
