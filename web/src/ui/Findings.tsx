/** Findings as a plain list, each with the one action that clears it. */
import type { ReactNode } from "react";

import type { Finding, Patch } from "../api/client";
import type { PlanHandle } from "../plan/usePlan";
import { Button, Mark, severityColour } from "./parts";

/** What a cause brings with it: said under it, never as facts of their own. */
export function Follows({ finding }: { finding: Finding }) {
  const { follows } = finding;
  if (follows.length === 0) return null;
  return (
    <span className="block text-sm text-soft">
      Because of this: {follows.slice(0, 3).join(" ")}
      {follows.length > 3 && ` And ${follows.length - 3} more.`}
    </span>
  );
}

interface RowProps {
  finding: Finding;
  plan: PlanHandle;
  readOnly: boolean;
  /** Its words where they are more than words: the way to its place. */
  title?: ReactNode;
}

/** One finding: its mark, its words, what follows from it, its ways and its fix. */
export function FindingRow({ finding, plan, readOnly, title }: RowProps) {
  const colour = severityColour[finding.severity];
  return (
    <li className="flex flex-wrap items-start gap-x-3 gap-y-2 border-t border-rule py-3 first:border-0">
      <span className={`pt-0.5 ${colour}`}>
        <Mark severity={finding.severity} />
      </span>
      <span className="min-w-48 flex-1">
        {title ?? <b className={`block ${colour}`}>{finding.message}</b>}
        <span className="block text-sm text-soft">
          {finding.severity}: {finding.article}
        </span>
        <Follows finding={finding} />
      </span>
      {!readOnly &&
        finding.ways?.map((way) => (
          <span key={way.label} className="flex w-full items-center gap-3 pl-9">
            <span className="flex-1">
              <b>{way.label}</b> <span className="text-soft">{way.message}</span>
            </span>
            {way.fix && (
              <Button onClick={() => plan.change(way.fix as Patch, way.label)}>
                <span className="sr-only">{way.label}: </span>do it
              </Button>
            )}
          </span>
        ))}
      {finding.fix && !readOnly && (
        <Button
          kind={finding.severity === "note" ? "quiet" : "main"}
          onClick={() => plan.change(finding.fix as Patch, finding.fix_label ?? "Fix")}
        >
          {finding.fix_label}
        </Button>
      )}
    </li>
  );
}

interface Props {
  rows: readonly Finding[];
  plan: PlanHandle;
  readOnly: boolean;
  label?: string;
}

export function Findings({ rows, plan, readOnly, label = "Findings" }: Props) {
  if (rows.length === 0) return null;
  return (
    <ul aria-label={label}>
      {rows.map((finding) => (
        <FindingRow key={finding.key} finding={finding} plan={plan} readOnly={readOnly} />
      ))}
    </ul>
  );
}
