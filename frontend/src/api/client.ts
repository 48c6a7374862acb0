/** Talking to the server: typed by the OpenAPI schema, errors as sentences. */
import createClient, { type Middleware } from "openapi-fetch";
import type { components, paths } from "./schema";
import { t } from "../shared/words";

export type Schemas = components["schemas"];
export type BandPage = Schemas["BandPage"];
export type Chair = Schemas["Chair"];
export type StudentPage = Schemas["StudentPage"];
export type StudentFacts = Schemas["StudentInRequest"];
export type TakeSummary = Schemas["TakeSummary"];
export type BenchPage = Schemas["BenchPage"];
export type Finding = Schemas["FindingRow"];
export type Landmark = Schemas["LandmarkRow"];
export type Plan = Schemas["Plan"];
export type Phase = Schemas["PhaseRow"];
export type Reading = Schemas["ReadingRow"];
export type Series = Schemas["Series"];
export type Standard = Schemas["Standard"];

/** A refusal; `message` is the server's sentence for the teacher. */
export class Refusal extends Error {
  readonly status: number;
  /** What the page is asked to do about it; empty for nothing. */
  readonly code: string;

  constructor(message: string, status: number, code = "") {
    super(message);
    this.status = status;
    this.code = code;
  }
}

export function csrfToken(): string {
  return /(?:^|; )csrftoken=([^;]+)/.exec(document.cookie)?.[1] ?? "";
}

export function refusalOf(status: number, body: unknown): Refusal {
  const said = typeof body === "object" && body !== null ? body : {};
  const detail = "detail" in said ? String(said.detail) : "";
  return new Refusal(
    detail ||
      t("The server answered with an error ({{status}}). Try again in a moment.", { status }),
    status,
    "code" in said ? String(said.code) : "",
  );
}

const guard: Middleware = {
  onRequest({ request }) {
    if (request.method !== "GET") request.headers.set("X-CSRFToken", csrfToken());
    return request;
  },
  async onResponse({ response }) {
    if (response.ok) return undefined;
    const body: unknown = await response.json().catch(() => null);
    throw refusalOf(response.status, body);
  },
  onError() {
    return new Refusal(t("Can't reach Sulvet. Is it still running?"), 0);
  },
};

/** How often a busy server is asked again. */
const TRIES = 5;

type AskToLogIn = () => Promise<void>;
let askToLogIn: AskToLogIn | null = null;
let logging: Promise<void> | null = null;

/** Who asks for the password when a session has ended; null when the page has no such thing. */
export function whenLoggedOut(ask: AskToLogIn | null): void {
  askToLogIn = ask;
}

/** Whether an answer says that the session has ended. */
async function isLoggedOut(answer: Response): Promise<boolean> {
  if (answer.status !== 403) return false;
  const body: unknown = await answer
    .clone()
    .json()
    .catch(() => null);
  return (
    typeof body === "object" && body !== null && "code" in body && body.code === "logged-out"
  );
}

/**
 * Asks again what a busy server has not done (503): it says for how long to wait, and has
 * written nothing. When the session has ended, the password is asked for first: nothing is lost.
 */
export async function patiently(ask: () => Promise<Response>): Promise<Response> {
  for (let tried = 1; ; tried++) {
    const answer = await ask();
    if (askToLogIn && (await isLoggedOut(answer))) {
      logging ??= askToLogIn().finally(() => (logging = null));
      await logging;
      continue;
    }
    const wait = Number(answer.headers.get("Retry-After"));
    if (answer.status !== 503 || !wait || tried === TRIES) return answer;
    await new Promise((resolve) => setTimeout(resolve, wait * 1000));
  }
}

export const api = createClient<paths>({
  fetch: (request) =>
    patiently(() => {
      const copy = request.clone();
      // Another login brings another token.
      if (copy.method !== "GET") copy.headers.set("X-CSRFToken", csrfToken());
      return fetch(copy);
    }),
});
api.use(guard);

/** The data of an answer; the middleware has thrown on anything else. */
export async function data<T>(answer: Promise<{ data?: T }>): Promise<T> {
  return (await answer).data as T;
}

/** A form with a file, which the typed client does not write. */
export async function sendForm<T>(
  address: string,
  parts: Record<string, Blob | string>,
): Promise<T> {
  const form = new FormData();
  for (const [name, part] of Object.entries(parts)) form.set(name, part);
  return postForm<T>(address, form);
}

/** A form that is made already. */
export async function postForm<T>(address: string, form: FormData): Promise<T> {
  const answer = await patiently(() =>
    fetch(address, {
      method: "POST",
      headers: { "X-CSRFToken": csrfToken() },
      body: form,
    }),
  );
  const body: unknown = await answer.json().catch(() => null);
  if (!answer.ok) throw refusalOf(answer.status, body);
  return body as T;
}
