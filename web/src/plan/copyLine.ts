/** A line of one plan copied into another. */
import type { PlanDoc } from "../api/client";
import { nextId } from "./ids";
import { KINDS } from "./kinds";

/** The patch that adds the scratch line to an install: at its source where volts and phases agree, else at a new one. */
export function copyPatch(scratch: PlanDoc, into: PlanDoc) {
  const supply = scratch.sources?.P;
  const unit = scratch.equipment?.U;
  const circuit = scratch.circuits?.Q;
  const kind = KINDS.find((entry) => entry.value === unit?.kind);
  const same = Object.entries(into.sources ?? {}).find(
    ([, source]) => source.volts === supply?.volts && source.phase === supply?.phase,
  )?.[0];
  const source = same ?? nextId("P", into.sources);
  const unitId = nextId(kind?.unit ?? "U", into.equipment);
  const circuitId = nextId(kind?.line ?? "L", into.circuits);
  return {
    ...(same ? {} : { sources: { [source]: { ...supply, kind: "panel", name: "New panel" } } }),
    equipment: { [unitId]: unit },
    circuits: { [circuitId]: { ...circuit, source, equipment: unitId } },
  };
}
