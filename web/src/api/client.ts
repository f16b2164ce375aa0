import createClient from "openapi-fetch";
import type { components, paths } from "./schema";

/** The shape every error of the server has (RFC 9457). */
export type Problem = components["schemas"]["Problem"];

/** A problem as a throwable, so that queries and forms can show its words. */
export class ProblemError extends Error {
  readonly problem: Problem;
  /** Said where it was typed: nowhere else as well. */
  atField = false;
  constructor(problem: Problem) {
    super(problem.title);
    this.problem = problem;
  }
}

export const client = createClient<paths>({ baseUrl: "" });

let spoken = "";

/** From now on ask for sentences in these units, as `spokenUnits` writes them. */
export function speakIn(units: string): void {
  spoken = units;
}

/** The address of a paper with its sentences in the pilot's units. */
export function inOwnUnits(address: string): string {
  return spoken === "" ? address : `${address}${address.includes("?") ? "&" : "?"}units=${encodeURIComponent(spoken)}`;
}

client.use({
  onRequest({ request }) {
    if (spoken !== "") request.headers.set("Jinba-Units", spoken);
    return request;
  },
});

/** Unwrap an answer: the data, or a ProblemError. A server that cannot be reached is said in words. */
export async function unwrap<T>(call: Promise<{ data?: T; error?: unknown; response: Response }>): Promise<T> {
  let answer: { data?: T; error?: unknown; response: Response };
  try {
    answer = await call;
  } catch {
    throw new ProblemError(offlineProblem());
  }
  if (answer.data !== undefined) return answer.data;
  throw new ProblemError(isProblem(answer.error) ? answer.error : unexpected(answer.response.status));
}

/** The same for an answer that says nothing but that it was done. */
export async function done(call: Promise<{ error?: unknown; response: Response }>): Promise<void> {
  await unwrap(call.then((answer) => (answer.response.ok ? { data: true, response: answer.response } : answer)));
}

function isProblem(value: unknown): value is Problem {
  return typeof value === "object" && value !== null && "title" in value && "code" in value;
}

function unexpected(status: number): Problem {
  return plain(
    "unexpected",
    `The program answered in a way this page does not know (${status}). Load the page again.`,
    status,
  );
}

function offlineProblem(): Problem {
  return plain("offline", "No connection to the program. What you entered is kept here; try again.");
}

/** A problem of this page's own, in words. */
export function plain(code: string, title: string, status = 0): Problem {
  return {
    type: `urn:jinba:problem:${code}`,
    title,
    status,
    code,
    detail: "",
    instance: "",
    violations: [],
    context: {},
    trace_id: "",
  };
}

/** Whether the program did not answer at all: said once, at the top of the page. */
export function isAway(error: unknown): boolean {
  return error instanceof ProblemError && error.problem.code === "offline";
}

/** Whether trying the same again soon may help: no answer, or a program that is busy or starting. */
export function mayPass(error: unknown): boolean {
  return isAway(error) || (error instanceof ProblemError && error.problem.status === 503);
}

export type Schemas = components["schemas"];
export type ModelDetail = Schemas["ModelDetail"];
export type ShelfModel = Schemas["ShelfModel"];
export type Configuration = Schemas["Configuration"];
export type Airframe = Schemas["Airframe"];
export type Surface = Schemas["Surface"];
export type Section = Schemas["Section"];
export type Item = Schemas["Item"];
export type Control = Schemas["Control"];
export type BenchView = Schemas["BenchView"];
export type BenchAnswer = Schemas["BenchAnswer"];
export type BenchNumber = Schemas["Number"];
export type MeasuringStep = Schemas["MeasuringStep"];
export type Mission = Schemas["Mission"];
/** Bodies of the stateless computations, by name. */
export type Requests = Pick<
  Schemas,
  | "EllipseRequest"
  | "OutlineRequest"
  | "LateralRequest"
  | "HeightRequest"
  | "SwingRequest"
  | "MountRequest"
  | "ScalesRequest"
  | "HolesRequest"
  | "ShimRequest"
  | "ReversalRequest"
>;
export type WeighingRequest = Schemas["WeighingRequest"];
export type BalanceReading = Schemas["BalanceReading"];
export type Arrangements = Schemas["Arrangements"];
export type Tendency = Schemas["Tendency"];
export type Cause = Schemas["Cause"];
export type Card = Schemas["Card"];
export type Capture = Schemas["Capture"];
export type CardRecord = Schemas["CardRecord"];
export type Reading = Schemas["Reading"];
export type SortieDetail = Schemas["SortieDetail"];
export type LogLine = Schemas["LogLine"];
export type Emergency = Schemas["Emergency"];
export type Plan = Schemas["Plan"];
export type PlannedCard = Schemas["PlannedCard"];
export type WindVerdict = Schemas["WindVerdict"];
export type Rework = Schemas["Rework"];
export type WayThere = Schemas["WayThere"];
export type Kept = Schemas["Kept"];
export type Action = Schemas["Action"];
export type WorkOrder = Schemas["WorkOrder"];
export type Board = Schemas["Board"];
export type Debrief = Schemas["Debrief"];
export type SilhouetteInfo = Schemas["SilhouetteInfo"];
export type DirectionTable = Schemas["DirectionTable"];
export type ControlsView = Schemas["ControlsView"];
/** A record with every field present, as the server sends it: fields that may be left out on the way in never are on the way out. */
export type Whole<T> = T extends (infer Item)[]
  ? Whole<Item>[]
  : T extends object
    ? { [K in keyof T]-?: Whole<Exclude<T[K], undefined>> }
    : T;
export type ControlSetup = Whole<Schemas["ControlSetup"]>;
export type Fitting = Whole<Schemas["Fitting"]>;
export type Travel = Schemas["Travel"];
export type Said = Schemas["Said"];
export type HoleChoice = Schemas["HoleChoice"];
export type WalkStep = Schemas["WalkStep"];
export type SaturationMap = Schemas["SaturationMap"];
export type ControlsAnswer = Whole<Schemas["ControlsAnswer"]>;
