/** The findings of a line, each hung from its part by a leader, each with the one action that clears it. */
import { useLayoutEffect, useRef, useState } from "react";

import type { Finding } from "../../api/client";
import { layoutOf } from "../../drawing/layout";
import { type Line } from "../../drawing/parts";
import type { PlanHandle } from "../../plan/usePlan";
import { Button, Mark, severityColour } from "../../ui/parts";

const TEXT = 470;

interface Props {
  line: Line;
  width: number;
  plan: PlanHandle;
  readOnly: boolean;
  onSelect: (part: string) => void;
}

export function Ladder({ line, width, plan, readOnly, onSelect }: Props) {
  const layout = layoutOf(line, width);
  const wide = layout.width <= width + 1;
  // Rightmost part first: then no leader runs through another finding's words.
  const rows = layout.placed
    .flatMap(({ part, at }) => part.findings.map((finding) => ({ part: part.id, at, finding })))
    .sort((a, b) => (wide ? b.at - a.at : 0));
  const list = useRef<HTMLUListElement>(null);
  const [drops, setDrops] = useState<number[]>([]);
  // Measured after every render: the rows' heights hang on their words and on the width.
  // eslint-disable-next-line react-hooks/exhaustive-deps
  useLayoutEffect(() => {
    const found = Array.from(list.current?.children ?? [], (row) => (row as HTMLElement).offsetTop + 21);
    setDrops((old) => (old.join() === found.join() ? old : found));
  });
  if (rows.length === 0) return null;
  return (
    <ul ref={list} className="relative mx-5 md:mx-7" aria-label="Findings">
      {rows.map(({ part, at, finding }, index) => {
        const left = wide ? Math.max(28, Math.min(at - 11, width - TEXT)) : 28;
        return (
          <li key={`${finding.code} ${finding.about}`} style={{ marginLeft: left }} className="relative flex items-start gap-3 py-2">
            {wide && <Leader x={at - left} drop={drops[index] ?? 0} finding={finding} to={at - left > 22 ? 22 : 0} />}
            <span className={`relative bg-paper pt-0.5 ${severityColour[finding.severity]}`}>
              <Mark severity={finding.severity} />
            </span>
            <button type="button" className="relative grow bg-paper text-left" onClick={() => onSelect(part)}>
              <span className={`block font-semibold ${severityColour[finding.severity]}`}>{finding.message}</span>
              <span className="text-sm text-soft">
                {finding.severity}: {finding.article}
              </span>
            </button>
            {finding.fix && !readOnly && (
              <Button
                kind={finding.severity === "note" ? "quiet" : "main"}
                className="relative shrink-0"
                onClick={() => plan.change(finding.fix as Record<string, unknown>, finding.fix_label ?? "Fix")}
              >
                {finding.fix_label}
              </Button>
            )}
          </li>
        );
      })}
    </ul>
  );
}

const STROKE: Record<Finding["severity"], string> = { stop: "bg-stop", warning: "bg-warning", note: "bg-faint" };

/** A hairline from the part down to its finding, and over to it where the part lies further right. */
function Leader({ x, drop, finding, to }: { x: number; drop: number; finding: Finding; to: number }) {
  const reach = 12;
  return (
    <>
      <span aria-hidden className={`absolute w-px ${STROKE[finding.severity]}`} style={{ left: x, top: -drop - reach + 21, height: drop + reach }} />
      {to > 0 && <span aria-hidden className={`absolute h-px ${STROKE[finding.severity]}`} style={{ left: to, width: x - to, top: 21 }} />}
    </>
  );
}
