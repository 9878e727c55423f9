import { t } from "@lingui/core/macro";
import createClient, { type Middleware } from "openapi-fetch";
import type { components, paths } from "./schema";
import { keepUnsent, waiting } from "./unsent";

type Schemas = components["schemas"];
export type Drawing = Schemas["Drawing"];
export type SiteShape = Schemas["SiteShape"];
export type View = Schemas["View"];
export type Orientation = Schemas["Orientation"];
export type Case = Schemas["Case"];
export type JobDetail = Schemas["JobDetail"];
export type LearnedCard = Schemas["LearnedCard"];
export type Shelf = Schemas["Shelf"];
export type ShelfGroup = Schemas["ShelfGroup"];
export type ShelfJob = Schemas["ShelfJob"];
export type Located = Schemas["Located"];
export type Explanation = Schemas["Explanation"];
export type Run = Schemas["Run"];
export type BoardModel = Schemas["BoardModel"];
export type Person = Schemas["Person"];
export type Marked = Schemas["MarkedRequest"];
export type Tried = Schemas["Tried"];
export type BoardDetail = Schemas["BoardModelDetail"];
export type Draft = Schemas["Draft"];
export type Placement = Schemas["Placement"];
export type Family = Schemas["Family"];
export type Recipe = Schemas["Recipe"];
export type Package = Schemas["Package"];
export type Planned = Schemas["Planned"];
export type Habits = Schemas["Habits"];
export type Kinds = Schemas["Kinds"];
export type JobRecipe = Schemas["JobRecipe"];
export type Hypothesis = Schemas["Hypothesis"];
export type Owed = Schemas["Owed"];
export type Practice = Schemas["Practice"];
export type AtTheBench = Schemas["AtTheBench"];
export type Debrief = Schemas["Debrief"];
export type JobTeardown = Schemas["JobTeardown"];
export type TeardownStep = Schemas["Step"];
export type ExpectedParcel = Schemas["ExpectedParcel"];
export type Ohms = Schemas["Ohms"];
export type Shorts = Schemas["Shorts"];
export type Chips = Schemas["Chips"];
export type BallMapData = Schemas["BallMap"];
export type Slot = Schemas["Slot"];
export type Volts = Schemas["Volts"];
export type MapNode = Schemas["MapNode"];
export type BesideCards = Schemas["Beside"];
export type ReferenceCard = Schemas["ReferenceCard"];
export type JobTime = Schemas["JobTime"];
export type TimelineEvent = Schemas["Event"];
export type Resume = Schemas["Resume"];
export type KnownReading = Schemas["KnownReading"];
export type Arrive = Schemas["Arrive"];
export type Look = Schemas["Look"];
export type LookRegion = Look["regions"][number];
export type JobPhotograph = Look["photographs"][number];
export type Overlay = Schemas["Overlay"];
export type Picture = Schemas["Picture"];
export type LiveAnswer = Schemas["Live"];
export type ReadLine = Schemas["ReadLine"];
export type Reader = Schemas["Reader"];

/** What the server says when it cannot: application/problem+json with facts beside the sentence. */
export class Problem extends Error {
  constructor(
    readonly status: number,
    readonly code: string,
    readonly detail: string,
    readonly facts: Record<string, unknown>,
  ) {
    super(detail);
  }
}

let csrf = "";
let signedIn = "";

/** What every change must carry, and in whose name what is unsent is kept. */
export function keepCsrf(token: string, username: string) {
  csrf = token;
  signedIn = username;
}

export function csrfHeader(): Record<string, string> {
  return { "X-CSRFToken": csrf };
}

export function problemFrom(status: number, body: unknown): Problem {
  const facts = (typeof body === "object" && body !== null ? body : {}) as Record<string, unknown>;
  const detail = typeof facts.detail === "string" ? facts.detail : t`The server answered ${status}.`;
  return new Problem(status, typeof facts.code === "string" ? facts.code : "unknown", detail, facts);
}

export const AWAY = new Problem(
  0,
  "away",
  t`The server does not answer. What you entered is kept here; try again.`,
  {},
);

/** The entry is kept in the browser and goes by itself once the server answers: for the screen it is entered. */
const KEPT = new Problem(
  0,
  "kept",
  t`The server does not answer. Your entry is kept in this browser and is sent when it is back.`,
  {},
);

export function isKept(error: unknown): boolean {
  return error === KEPT;
}

let changed = () => {};

/** Call `told` after every change that the server took: what other screens hold is then of before it. */
export function whenChanged(told: () => void) {
  changed = told;
}

// numbers of the changes that this page made itself, the latest
const own: string[] = [];
const MOST_OWN = 200;

/** Whether a change, by the number of its request, was made by this page: it has its answer already. */
export function isOwnRequest(number: string): boolean {
  return own.includes(number);
}

// what each request sends, told before the sending takes it away
const bodies = new WeakMap<Request, Promise<string>>();

async function kept(request: Request): Promise<boolean> {
  if (request.method !== "POST") return false;
  return keepUnsent(new URL(request.url).pathname, (await bodies.get(request)) ?? "", signedIn);
}

const guard: Middleware = {
  async onRequest({ request }) {
    if (request.method !== "GET") request.headers.set("X-CSRFToken", csrf);
    if (request.method === "POST") {
      bodies.set(request, request.clone().text());
      // what was typed first goes first: a later entry waits behind those that are still unsent
      if ((await waiting(signedIn, csrfHeader)) && (await kept(request))) throw KEPT;
    }
    return request;
  },
  async onResponse({ request, response }) {
    if (response.ok) {
      if (request.method !== "GET") {
        own.push(response.headers.get("X-Request-ID") ?? "");
        own.splice(0, own.length - MOST_OWN);
        changed();
      }
      return response;
    }
    if (response.status === 503 && (await kept(request))) throw KEPT;
    throw problemFrom(response.status, await response.json().catch(() => ({})));
  },
  async onError({ request }) {
    return (await kept(request)) ? KEPT : AWAY;
  },
};

const client = createClient<paths>({ baseUrl: "/" });
client.use(guard);
export const api = client;

/** The data of an answer; the guard has thrown on anything else. */
export function data<T>(answer: { data?: T }): T {
  return answer.data as T;
}

/** A version-4 UUID; `crypto.randomUUID` is missing where the page comes over plain http on a network. */
export function newId(): string {
  const bytes = crypto.getRandomValues(new Uint8Array(16));
  bytes[6] = ((bytes[6] ?? 0) & 0x0f) | 0x40;
  bytes[8] = ((bytes[8] ?? 0) & 0x3f) | 0x80;
  const hex = Array.from(bytes, (byte) => byte.toString(16).padStart(2, "0")).join("");
  return [hex.slice(0, 8), hex.slice(8, 12), hex.slice(12, 16), hex.slice(16, 20), hex.slice(20)].join("-");
}
