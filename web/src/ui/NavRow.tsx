/** A row of a list to choose from: a name, what it is, and beside it the shape of what stands against it. */
import type { Finding } from "../api/client";
import { Mark, severityColour } from "./parts";

interface Props {
  name: string;
  title: string;
  here: boolean;
  /** The gravest finding; a note says nothing here. */
  grave: Finding["severity"] | null;
  /** Where its edge lies, and how wide it is. */
  className?: string;
  /** On a wide screen the name and what it is stand on one line. */
  oneLine?: boolean;
  onOpen: () => void;
}

export function NavRow({ name, title, here, grave, className = "border-l-4", oneLine, onOpen }: Props) {
  const loud = grave === "stop" || grave === "warning" ? grave : null;
  return (
    <button
      type="button"
      aria-current={here ? "true" : undefined}
      className={`flex min-h-11 w-full items-center gap-2 py-1 pr-3 pl-4 text-left md:pl-6 ${oneLine ? "lg:min-h-8 lg:py-0.5" : ""} ${className} ${here ? "border-copper bg-sheet" : "border-transparent hover:bg-sheet"}`}
      onClick={onOpen}
    >
      <span className={`min-w-0 flex-1 leading-tight ${oneLine ? "lg:flex lg:items-baseline lg:gap-2" : ""}`}>
        <b className="whitespace-nowrap">{name}</b>
        <span className="block truncate text-sm text-soft">{title}</span>
      </span>
      {loud && (
        <span className={severityColour[loud]}>
          <Mark severity={loud} />
          <span className="sr-only">{loud}</span>
        </span>
      )}
    </button>
  );
}
