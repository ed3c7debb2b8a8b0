/** The findings of a line, each hung from its part by a leader, each with the one action that clears it. */
import { Fragment, useLayoutEffect, useRef, useState } from "react";
import { Link } from "react-router";

import type { Finding, Patch } from "../../api/client";
import { layoutOf } from "../../drawing/layout";
import { gravest, isOpen, type Line, type Part } from "../../drawing/parts";
import type { PlanHandle } from "../../plan/usePlan";
import { Follows } from "../../ui/Findings";
import { Button, Mark, severityColour } from "../../ui/parts";

interface Props {
  line: Line;
  width: number;
  plan: PlanHandle;
  readOnly: boolean;
  /** Findings that are said elsewhere. */
  leave?: (finding: Finding) => boolean;
  onSelect: (part: string) => void;
}

interface Rung {
  part: string;
  at: number;
  /** Parts on the right hold their words to the left of their leader, so that these have room. */
  mirrored: boolean;
  finding: Finding;
}

const BUS = 28;
const HALF_MARK = 11;

/** From the inside outwards on either side: then hardly a leader runs behind another finding's words. */
function order(a: Rung, b: Rung): number {
  if (a.mirrored !== b.mirrored) return a.mirrored ? -1 : 1;
  return a.mirrored ? a.at - b.at : b.at - a.at;
}

export function Ladder({ line, width, plan, readOnly, leave, onSelect }: Props) {
  const layout = layoutOf(line, width);
  const wide = layout.width <= width + 1;
  const landings = line.parts.flatMap((part) => part.findings.filter((finding) => onLandings(part, finding)));
  const open = line.parts.flatMap((part) =>
    part.findings
      .filter((finding) => isOpen(finding) && !leave?.(finding) && !onLandings(part, finding))
      .map((finding) => ({ part: part.id, finding })),
  );
  const rungs = layout.placed.flatMap(({ part, at }) =>
    part.findings
      .filter((finding) => !isOpen(finding) && !leave?.(finding) && !onLandings(part, finding))
      .map((finding): Rung => ({ part: part.id, at, mirrored: wide && at > width * 0.55, finding })),
  );
  if (wide) rungs.sort(order);
  const list = useRef<HTMLUListElement>(null);
  const [drops, setDrops] = useState<number[]>([]);
  // Measured after every render: the rows' heights hang on their words and on the width.
  // eslint-disable-next-line react-hooks/exhaustive-deps
  useLayoutEffect(() => {
    const found = Array.from(list.current?.children ?? [], (row) => (row as HTMLElement).offsetTop);
    setDrops((old) => (old.join() === found.join() ? old : found));
  });
  if (rungs.length + landings.length + open.length === 0) return null;
  return (
    <>
      <StillToEnter rows={open} line={line} plan={plan} readOnly={readOnly} onSelect={onSelect} />
      <ul hidden={rungs.length === 0} ref={list} className="relative isolate mx-5 md:mx-7" aria-label="Findings">
        {rungs.map(({ part, at, mirrored, finding }, index) => (
          <li
            key={finding.key}
            style={
              mirrored
                ? { marginLeft: BUS, marginRight: width - at - HALF_MARK }
                : { marginLeft: wide ? Math.max(BUS, at - HALF_MARK) : BUS }
            }
            className={`flex items-start gap-3 py-2 max-md:flex-wrap ${mirrored ? "flex-row-reverse text-right" : ""}`}
          >
            {wide && <Leader x={at} drop={drops[index] ?? 0} severity={finding.severity} />}
            <span className={`z-1 bg-paper pt-0.5 ${severityColour[finding.severity]}`}>
              <Mark severity={finding.severity} />
            </span>
            <button
              type="button"
              className={`z-1 bg-paper text-balance max-md:basis-[calc(100%-3rem)] ${mirrored ? "text-right" : "text-left"}`}
              onClick={() => onSelect(part)}
            >
              <span className={`block font-semibold ${severityColour[finding.severity]}`}>{finding.message}</span>
              <span className="text-sm text-soft">
                {finding.severity}: {finding.article}
              </span>
              <Follows finding={finding} />
            </button>
            {finding.fix && !readOnly && (
              <Button
                kind={finding.severity === "note" ? "quiet" : "main"}
                className={`z-1 shrink-0 max-md:ml-9 ${mirrored ? "" : "ml-auto"} ${finding.severity === "note" ? "bg-paper" : ""}`}
                onClick={() => plan.change(finding.fix as Patch, finding.fix_label ?? "Fix")}
              >
                {finding.fix_label}
              </Button>
            )}
          </li>
        ))}
      </ul>
      {landings.length > 0 && <OfLandings rows={landings} id={plan.plan?.install.id ?? ""} />}
    </>
  );
}

interface OpenProps {
  rows: { part: string; finding: Finding }[];
  line: Line;
  plan: PlanHandle;
  readOnly: boolean;
  onSelect: (part: string) => void;
}

/** What nobody has said yet, in one line: each word a way to its field, and one action for what can be proposed. */
function StillToEnter({ rows, line, plan, readOnly, onSelect }: OpenProps) {
  const words = new Map<string, (typeof rows)[number]>();
  for (const row of rows) if (!words.has(row.finding.enter ?? "")) words.set(row.finding.enter ?? "", row);
  if (!words.size) return null;
  const [proposal, label] = line.proposal ?? [];
  return (
    <div className="mx-5 flex flex-wrap items-center gap-x-4 gap-y-1 py-2 pl-7 md:mx-7">
      <p className="min-w-0 flex-1 basis-72 text-soft" aria-label="Still to enter">
        Still to enter:{" "}
        {[...words].map(([word, { part, finding }], index) => (
          <Fragment key={word}>
            <span className="whitespace-nowrap">
              <button
                type="button"
                className="font-semibold text-ink underline decoration-ink/60 decoration-dashed underline-offset-4 hover:decoration-copper max-md:min-h-11"
                title={finding.message}
                // The field that was being typed in keeps the focus until this is pressed: saving it moves the words.
                onMouseDown={(event) => event.preventDefault()}
                onClick={() => {
                  onSelect(part);
                  focusField(finding.about);
                }}
              >
                {word}
              </button>
              {index < words.size - 1 ? "," : "."}
            </span>{" "}
          </Fragment>
        ))}
      </p>
      {proposal && !readOnly && (
        <Button className="shrink-0" onClick={() => plan.change(proposal, `${line.circuitId}: ${label ?? ""}`)}>
          {label}
        </Button>
      )}
    </div>
  );
}

/** The field that is asked for, once it is on screen; the nearest one that is there. */
function focusField(about: string) {
  requestAnimationFrame(() => {
    for (let at = about; at; at = at.slice(0, Math.max(0, at.lastIndexOf("/")))) {
      const field = document.querySelector<HTMLElement>(`[data-reason] [data-path="${CSS.escape(at)}"]`);
      if (field) {
        field.focus();
        return;
      }
    }
  });
}

/** What stands against control cables and devices is said where they are landed; here only that there is something. */
function onLandings(part: Part, finding: Finding): boolean {
  return part.kind !== "segment" && /^(cables|devices)\//.test(finding.about);
}

function OfLandings({ rows, id }: { rows: readonly Finding[]; id: string }) {
  const grave = gravest(rows);
  const counts = (["stop", "warning", "note"] as const).flatMap((severity) => {
    const count = rows.filter((row) => row.severity === severity).length;
    return count ? [`${count} ${severity}${count === 1 ? "" : "s"}`] : [];
  });
  const first = rows.find((row) => row.severity === grave)?.about.split("/") ?? [];
  const where = first[0] === "cables" ? `?cable=${first[1] ?? ""}` : `?device=${first[1] ?? ""}`;
  return (
    <p className="mx-5 flex items-center gap-3 py-2 pl-7 md:mx-7">
      {grave && (
        <span className={severityColour[grave]}>
          <Mark severity={grave} />
        </span>
      )}
      <span className={`font-semibold ${grave ? severityColour[grave] : ""}`}>
        {counts.join(", ")} on its landings.
      </span>
      <Link className="inline-flex min-h-11 items-center underline" to={`/installs/${id}/landings${where}`}>
        See them there
      </Link>
    </p>
  );
}

const STROKE: Record<Finding["severity"], string> = { stop: "bg-stop", warning: "bg-warning", note: "bg-faint" };
const RISE = 12;

/** A hairline from under the part down to its finding. */
function Leader({ x, drop, severity }: { x: number; drop: number; severity: Finding["severity"] }) {
  return (
    <span
      aria-hidden
      className={`absolute w-px ${STROKE[severity]}`}
      style={{ left: x, top: -RISE, height: drop + RISE + 10 }}
    />
  );
}
