import type { PracticeOut } from "../../api/client";

type Level = PracticeOut["due"][number]["level"];

export const LEVELS: Record<Level, string> = {
  size: "Read a plate and size",
  land: "Land a cable",
  runs: "What runs on this call",
  fault: "Find the fault",
  dead: "Prove dead",
  order: "Order the start-up",
};

/** Minutes that a round takes, as a rule. */
export const MINUTES: Record<Level, number> = { size: 1, land: 1, runs: 1, fault: 3, dead: 1, order: 1 };
