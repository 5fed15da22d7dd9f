/** The one way to the server: typed by its OpenAPI document, errors as one class. */
import createClient from "openapi-fetch";
import type { components, paths } from "./schema";

export type Schemas = components["schemas"];
export type Field = { path: string; problem: string };

/** An answer that is no success; `message` is a sentence to show as it is. */
export class ApiProblem extends Error {
  readonly status: number;
  readonly fields: readonly Field[];
  /** The same request with `confirmed` would be accepted. */
  readonly confirm: boolean;

  constructor(status: number, detail: string, fields: readonly Field[] = [], confirm = false) {
    super(detail);
    this.status = status;
    this.fields = fields;
    this.confirm = confirm;
  }
}

function csrfToken(): string {
  return /(?:^|; )csrftoken=([^;]+)/.exec(document.cookie)?.[1] ?? "";
}

export const api = createClient<paths>({
  baseUrl: window.location.origin,
  // Looked up at each call, so that a test can put a server of its own in its place.
  fetch: (request) => globalThis.fetch(request),
});

api.use({
  onRequest({ request }) {
    if (request.method !== "GET") request.headers.set("X-CSRFToken", csrfToken());
    return request;
  },
});

/**
 * Whether an answer has said that nobody is signed in (a new passcode, a long pause). Kept here, for
 * every answer comes through here, whoever asked.
 */
let signedOut = false;
const listeners = new Set<() => void>();

export function isSignedOut(): boolean {
  return signedOut;
}

export function onSignedOut(listener: () => void): () => void {
  listeners.add(listener);
  return () => listeners.delete(listener);
}

export function signedIn() {
  tell(false);
}

function tell(isOut: boolean) {
  signedOut = isOut;
  for (const listener of listeners) listener();
}

api.use({
  onResponse({ request, response }) {
    // A wrong passcode is answered so too, and signs nobody out.
    const isSigningIn = new URL(request.url).pathname === "/api/session";
    if (response.status === 401 && !isSigningIn) tell(true);
  },
});

type Answer<T> = { data?: T; error?: unknown; response: Response };

/** The data of an answer; throws ApiProblem for refusals and for a network that is down. */
export async function unwrap<T>(request: Promise<Answer<T>>): Promise<T> {
  let answer: Answer<T>;
  try {
    answer = await request;
  } catch {
    throw new ApiProblem(0, "The server cannot be reached. Check the network and try again.");
  }
  if (answer.response.ok) return answer.data as T;
  throw problemFrom(answer.response.status, answer.error);
}

function problemFrom(status: number, body: unknown): ApiProblem {
  if (typeof body === "object" && body !== null && "detail" in body) {
    const problem = body as Schemas["Problem"];
    return new ApiProblem(status, problem.detail, problem.fields ?? [], problem.confirm ?? false);
  }
  return new ApiProblem(status, `The server answered with error ${status}. Try again in a moment.`);
}
