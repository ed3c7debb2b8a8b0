/** The parts of the work, sources, lines, systems, each as far as it has come; the one at hand open. */
import { Link } from "react-router";

import { idOf, type WorkPart } from "../../plan/workPart";
import { Mark } from "../../ui/parts";
import { atHand, type Course } from "../../plan/course";

export type Part = WorkPart;

export function stepsOf(course: Course, about: string) {
  return course.record.steps.filter((step) => step.about === about);
}

/** The part asked for, else the first with something that can be done now. */
export function partAt(course: Course, asked: string | null): Part | undefined {
  const { parts } = course.record;
  const wanted = parts.find((part) => part.about === asked || part.about === `circuits/${asked ?? ""}`);
  if (wanted) return wanted;
  const open = parts.filter((part) => !part.stop);
  const ready = (part: Part) => {
    const step = atHand(course, stepsOf(course, part.about));
    return step !== undefined && course.missing(step).length === 0;
  };
  const lines = open.filter((part) => part.about.startsWith("circuits/"));
  // Where every line is stopped the first of them says so.
  const stopped = lines.length > 0 ? undefined : parts.find((part) => part.about.startsWith("circuits/"));
  return stopped ?? lines.find(ready) ?? open.find(ready) ?? open[0] ?? parts[0];
}

const KINDS = [
  { begins: "sources/", says: "Sources" },
  { begins: "circuits/", says: "Lines" },
  { begins: "devices/", says: "Control" },
];

export function Parts({ course, current, id }: { course: Course; current: Part; id: string }) {
  const { parts } = course.record;
  return (
    <details className="mt-5 border-y border-rule">
      <summary className="flex min-h-14 cursor-pointer items-center gap-3 px-1">
        <span className="min-w-0 flex-1">
          <b className="text-xl">{idOf(current)}</b> <span className="text-soft">{nameOf(current)}</span>
        </span>
        <Come course={course} part={current} />
        <span className="text-sm text-soft">all {parts.length}</span>
      </summary>
      <nav aria-label="Parts of the work" className="pb-3">
        {KINDS.map(({ begins, says }) => {
          const mine = parts.filter((part) => part.about.startsWith(begins));
          if (mine.length === 0) return null;
          return (
            <div key={begins}>
              <h3 className="mt-2 text-sm font-semibold text-soft">{says}</h3>
              <ol>
                {mine.map((part) => (
                  <li key={part.about} className="border-t border-rule first:border-0">
                    <Link
                      to={`/installs/${id}/start-up?part=${encodeURIComponent(part.about)}`}
                      aria-current={part.about === current.about ? "true" : undefined}
                      className={`flex min-h-11 items-center gap-3 border-l-4 px-2 ${part.about === current.about ? "border-copper bg-sheet" : "border-transparent hover:bg-sheet"}`}
                    >
                      <b>{idOf(part)}</b>
                      <span className="min-w-0 flex-1 truncate text-soft">{nameOf(part)}</span>
                      <Come course={course} part={part} />
                    </Link>
                  </li>
                ))}
              </ol>
            </div>
          );
        })}
      </nav>
    </details>
  );
}

function nameOf(part: Part): string {
  return part.name === idOf(part) ? "" : part.name;
}

function Come({ course, part }: { course: Course; part: Part }) {
  if (part.stop)
    return (
      <span className="flex items-center gap-2 font-semibold text-stop">
        <Mark severity="stop" /> stop
      </span>
    );
  const steps = stepsOf(course, part.about);
  const done = steps.filter((step) => course.done(step)).length;
  return (
    <span className={done < steps.length ? "text-soft" : "font-semibold"}>
      {done < steps.length ? `${String(done)} of ${String(steps.length)}` : "done"}
    </span>
  );
}
