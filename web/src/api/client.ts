/** The one way to the server: typed by its schema, every write with the session's token. */
import createClient from "openapi-fetch";

import type { components, paths } from "./schema";

type Schemas = components["schemas"];
export type PlanOut = Schemas["PlanOut"];
type Answered = PlanOut["document"];
export type Segment = Answered["circuits"][string]["run"][string];
export type Unit = Answered["equipment"][string];
type AnsweredSource = Answered["sources"][string];
export type Source = Omit<AnsweredSource, "existing" | "calls"> & {
  existing?: AnsweredSource["existing"];
  calls?: AnsweredSource["calls"];
};
/** The groups that the server always fills in may still be absent in a change that it has not answered yet. */
export type Circuit = Omit<Answered["circuits"][string], "run"> & { run?: Record<string, Segment> };
export type Question = Answered["questions"][string];
export type AmendmentOrId = Answered["amendments"][string];
export type Device = Partial<Answered["devices"][string]>;
type AnsweredCable = Answered["cables"][string];
export type Conductor = Partial<AnsweredCable["conductors"][string]>;
export type RouteSegment = AnsweredCable["route"][string];
export type Joint = AnsweredCable["joints"][string];
export type Cable = Omit<AnsweredCable, "conductors" | "route" | "joints"> & {
  conductors?: Record<string, Conductor>;
  route?: Record<string, RouteSegment>;
  joints?: Record<string, Joint>;
};
export type PlanDoc = Omit<
  Answered,
  "circuits" | "equipment" | "sources" | "questions" | "amendments" | "devices" | "device_types" | "cables" | "work"
> & {
  work?: Answered["work"];
  devices?: Record<string, Device>;
  device_types?: Answered["device_types"];
  cables?: Record<string, Cable>;
  circuits?: Record<string, Circuit>;
  equipment?: Record<string, Unit>;
  sources?: Record<string, Source>;
  questions?: Record<string, Question>;
  amendments?: Record<string, AmendmentOrId>;
};
export type WorkList = Schemas["WorkListOut"];
export type WeekOut = Schemas["WeekOut"];
export type WeekPart = Schemas["WeekPart"];
export type WeekWishes = WeekOut["wishes"];
export type StartOut = Schemas["StartOut"];
export type TriedOut = Schemas["TriedOut"];
export type SupplyAt = Schemas["SupplyAt"];
export type LockOut = Schemas["LockOut"];
export type TrialOut = Schemas["TrialOut"];
export type TrendOut = Schemas["TrendOut"];
export type LogOut = Schemas["LogOut"];
export type LogColumn = Schemas["LogColumn"];
export type StartPicture = Schemas["Picture"];
export type StationAt = Schemas["StationAt"];
export type PlanResult = PlanOut["result"];
export type DrawnLine = Schemas["DrawnLine"];
export type PartOfLine = Schemas["PartOfLine"];
export type WiringResult = Schemas["WiringResult"];
export type DeviceView = Schemas["DeviceView"];
export type CableView = Schemas["CableView"];
export type ConductorView = Schemas["ConductorView"];
export type TerminalView = Schemas["TerminalView"];
export type Landed = Schemas["Landed"];
export type Move = Schemas["Move"];
export type WiringChoices = Schemas["WiringChoices"];
export type Proof = Schemas["Proof"];
export type DeviceChoice = Schemas["DeviceChoice"];
export type PanelResult = Schemas["PanelResult"];
export type Answer = Schemas["Answer"];
export type ScheduleOut = Schemas["ScheduleOut"];
export type Comparison = Schemas["Comparison"];
export type Amendment = Schemas["Amendment"];
export type School = Schemas["School"];
export type RulebookOut = Schemas["RulebookOut"];
export type TableOut = Schemas["TableOut"];
export type CatalogueModel = Schemas["ModelOut"];
export type Nameplate = Schemas["Nameplate"];
export type ReaderLinkOut = Schemas["ReaderLinkOut"];
export type PracticeOut = Schemas["PracticeOut"];
export type PracticeRound = Schemas["Round"];
export type PracticeTold = Schemas["Told"];
export type PracticeVerdict = Omit<Schemas["VerdictOut"], "again">;
export type SharedPractice = Schemas["SharedOut"];
export type CheckOut = Schemas["CheckOut"];
export type CircuitResult = Schemas["CircuitResult"];
export type SegmentResult = Schemas["SegmentResult"];
export type Finding = Schemas["Finding"];
export type Step = Schemas["Step"];
export type Alternative = Schemas["Alternative"];
export type RecordOut = Schemas["RecordOut"];
export type NewsOut = Schemas["NewsOut"];
export type StepOut = Schemas["StepOut"];
export type PhaseOfWork = Schemas["PhaseOfWork"];
export type Meaning = Schemas["Meaning"];
export type MeterOut = Schemas["MeterOut"];
export type Packing = Schemas["Packing"];
export type PointOut = Schemas["PointOut"];
export type Board = Schemas["Board"];
export type InstallOut = Schemas["InstallOut"];
export type Person = Schemas["Person"];
export type PeopleOut = Schemas["PeopleOut"];
export type MadeLink = Schemas["MadeLink"];
export type Account = Schemas["Account"];
export type NewCode = Schemas["NewCode"];
export type Session = Schemas["Session"];
export type History = Schemas["History"];
export type BenchOverview = Schemas["Overview"];
export type TestOut = Schemas["TestOut"];
export type SettingOut = Schemas["SettingOut"];
export type BenchSystem = Schemas["SystemShown"];
export type BenchRun = Schemas["BenchRun"];
export type Rail = Schemas["Rail"];
export type Rung = Schemas["Rung"];
export type Lane = Schemas["Lane"];
export type WayStep = Schemas["StepOf"];
export type Frame = Schemas["FrameShown"];
export type SignalShown = Schemas["SignalShown"];
export type CellShown = Schemas["CellShown"];
export type BudgetShown = Schemas["BudgetShown"];
export type Analysis = Schemas["AnalysisOut"];
export type Report = Schemas["Report"];
export type MistakeShown = Schemas["MistakeShown"];
export type BeforeShown = Schemas["BeforeShown"];
export type TestShown = Schemas["TestShown"];
export type FoundReading = Schemas["FoundReading"];
export type PatternOut = Schemas["PatternOut"];
export type Photo = Schemas["PhotoOut"];
export type Offer = Schemas["OfferOut"];
export type Patch = Record<string, unknown>;

/** One thing wrong with what was entered. */
export interface FieldProblem {
  field: string;
  value?: unknown;
  message: string;
  remedy: string;
}

/** The body of every refusal (problem+json). */
export interface Problem {
  status: number;
  code: string;
  title: string;
  detail: string;
  errors?: FieldProblem[];
}

/** What a 409 brings: both versions. */
export interface Conflict extends Problem {
  elements: string[];
  yours: Patch;
  choices: { what: string; yours: string; stands: string }[];
  theirs: History["revisions"];
  plan: PlanOut;
}

let token = "";

export function setToken(fresh: string): void {
  token = fresh;
}

export const api = createClient<paths>({ baseUrl: "/", credentials: "same-origin" });
api.use({
  onRequest({ request }) {
    if (request.method !== "GET") request.headers.set("X-CSRFToken", token);
    return request;
  },
});

/** A refusal by the server, thrown to React Query. */
export class Refusal extends Error {
  constructor(readonly problem: Problem) {
    super(problem.detail);
  }
}

/** The data of an answer, or the refusal as an error. */
export function data<T>(answer: { data?: T; error?: unknown }): T {
  if (answer.data === undefined) throw new Refusal(answer.error as Problem);
  return answer.data;
}

export type Sent<T> = { kind: "done"; body: T } | { kind: "refused"; problem: Problem } | { kind: "unreachable" };

/** Send one write. A server that fails or cannot be reached is one and the same: try again later, with the same key. */
export async function post<T>(path: string, key: string, body: unknown): Promise<Sent<T>> {
  let answer: Response;
  try {
    answer = await fetch(path, {
      method: "POST",
      credentials: "same-origin",
      headers: { "Content-Type": "application/json", "X-CSRFToken": token, "Idempotency-Key": key },
      body: JSON.stringify(body),
    });
  } catch {
    return { kind: "unreachable" };
  }
  if (answer.status >= 500) return { kind: "unreachable" };
  try {
    const read: unknown = await answer.json();
    return answer.ok ? { kind: "done", body: read as T } : { kind: "refused", problem: read as Problem };
  } catch {
    return { kind: "unreachable" };
  }
}

/** A fresh key for a write. */
export function freshKey(): string {
  const bytes = crypto.getRandomValues(new Uint8Array(16));
  return Array.from(bytes, (byte) => byte.toString(16).padStart(2, "0")).join("");
}
