import createClient from "openapi-fetch";
import { noteKept } from "./kept";
import type { components, paths } from "./schema.gen";
import { readStored } from "./storage";

export type Schemas = components["schemas"];
export type Problem = Schemas["ProblemOut"];
export type FieldProblem = Schemas["FieldProblemOut"];

declare global {
  /** Answers that `first.js` asked for, by path; `here`: when all of them have begun to come. */
  var ubrexEarly: { answers: Map<string, Promise<Response>>; here: Promise<unknown> } | undefined;
}

/** An answer that was asked for before this script was there; each is taken once. */
function askedEarly({ method, url }: Request): Promise<Response> | undefined {
  const { pathname, search } = new URL(url);
  const answers = method === "GET" && !search ? globalThis.ubrexEarly?.answers : undefined;
  const found = answers?.get(pathname);
  answers?.delete(pathname);
  return found;
}

/** The one place that knows the address. `fetch` is looked up at each call, so that a test can stand in for it. */
export const api = createClient<paths>({
  baseUrl: "/",
  fetch: (request: Request) => askedEarly(request) ?? fetch(request),
});

api.use({
  onRequest({ request }) {
    const person = readStored("ubrex.person");
    if (person) request.headers.set("Ubrex-Person", person);
    return request;
  },
  onResponse({ response }) {
    noteKept(response);
  },
});

/** A key for a write that may be repeated. Works on plain HTTP, where `crypto.randomUUID` does not exist. */
export function newKey(): string {
  const bytes = crypto.getRandomValues(new Uint8Array(16));
  return Array.from(bytes, (byte) => byte.toString(16).padStart(2, "0")).join("");
}

/** Headers of a create; `version` where it also depends on what was seen. */
export function writeHeaders(version?: number, key = newKey()) {
  return { "idempotency-key": key, ...(version === undefined ? {} : editHeaders(version)) };
}

/** Headers of an edit made from `version`. */
export function editHeaders(version: number) {
  return { "if-match": `"${version}"` };
}

/** No answer came: the server is off, or the network is gone. */
export const UNREACHABLE: Problem = {
  type: "urn:ubrex:unreachable",
  title: "Unreachable",
  status: 0,
  detail: "Ubrex does not answer. Is it running, and is this device in its network?",
  code: "unreachable",
  fields: [],
};

/** The answer's data; throws the server's problem, or `UNREACHABLE`. */
export async function answer<T>(call: Promise<{ data?: T; error?: unknown }>): Promise<T> {
  const { data, error } = await call.catch(() => ({ data: undefined, error: UNREACHABLE }));
  if (data === undefined || error !== undefined) throw isProblem(error) ? error : UNREACHABLE;
  return data;
}

/** Whether something thrown is a problem the server named. */
export function isProblem(error: unknown): error is Problem {
  return typeof error === "object" && error !== null && "code" in error && "detail" in error;
}

/** What a problem says about one field, if anything. */
export function problemAt(problem: unknown, field: string): FieldProblem | undefined {
  return isProblem(problem) ? problem.fields.find((row) => row.field === field) : undefined;
}
