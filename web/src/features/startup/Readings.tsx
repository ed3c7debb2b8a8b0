/** The readings of a step: a few side by side; many one at a time, those that are read folded behind. */
import { useRef } from "react";

import type { PointOut } from "../../api/client";
import type { PlanHandle } from "../../plan/usePlan";
import { MeterInHand } from "../../ui/MeterInHand";
import { Reading } from "./Reading";
import { type Course, isWithin } from "../../plan/course";

/** More than these are walked through one at a time. */
const SIDE_BY_SIDE = 6;

interface Props {
  install: string;
  points: readonly PointOut[];
  course: Course;
  plan: PlanHandle;
  disabled: boolean;
  passes: boolean;
}

export function Readings({ install, points, course, plan, disabled, passes }: Props) {
  const entered = useRef(false);
  const one = (point: PointOut, goTo = false) => (
    <Reading
      key={point.key}
      install={install}
      record={course.record}
      point={point}
      entered={course.waiting.get(point.key)?.value}
      error={plan.errors[`reading ${point.key}`]}
      waiting={course.waiting.has(point.key)}
      disabled={disabled}
      passes={passes}
      goTo={goTo}
      onRead={(body) => {
        entered.current = true;
        plan.record("readings", { key: point.key, ...body }, point.text, `reading ${point.key}`);
      }}
    />
  );
  const next = points.find((point) => !isRead(point, course));
  const unit = (next ?? points[0])?.unit ?? "V";
  const meter = unit !== "°F" && <MeterInHand unit={unit} canRecord={!disabled} />;
  if (points.length <= SIDE_BY_SIDE)
    return (
      <>
        {meter}
        <ol>{points.map((point) => one(point))}</ol>
      </>
    );
  const well = points.filter((point) => readWell(point, course));
  const wrong = points.filter((point) => !well.includes(point) && isRead(point, course));
  return (
    <>
      {meter}
      <p className="text-soft">
        <b className="text-ink">{points.filter((point) => isRead(point, course)).length}</b> of {points.length} read
      </p>
      <ol>
        {wrong.map((point) => one(point))}
        {next && one(next, entered.current)}
      </ol>
      {well.length > 0 && (
        <details>
          <summary className="min-h-11 cursor-pointer py-2 text-soft">As they should be: {well.length}</summary>
          <ol>{well.map((point) => one(point))}</ol>
        </details>
      )}
    </>
  );
}

function isRead(point: PointOut, course: Course): boolean {
  return (point.entries.length > 0 && !point.void) || course.waiting.get(point.key)?.value !== undefined;
}

function readWell(point: PointOut, course: Course): boolean {
  const here = course.waiting.get(point.key)?.value;
  if (here !== undefined) return isWithin(point, here);
  const last = point.entries.at(-1);
  return last !== undefined && !point.void && last.verdict !== "outside" && last.verdict !== "doubtful";
}
