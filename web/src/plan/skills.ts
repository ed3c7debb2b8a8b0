import type { WeekOut } from "../api/client";

export type Skill = WeekOut["wishes"]["people"][number]["skills"][number];

/** What hands can be asked for. */
export const SKILLS: readonly Skill[] = ["licensed", "installer", "apprentice"];
