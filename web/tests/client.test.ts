import { beforeEach, expect, test, vi } from "vitest";
import { answer, api, isProblem, newKey, problemAt, UNREACHABLE, writeHeaders } from "../src/api/client";

const PROBLEM = {
  type: "urn:ubrex:refused",
  title: "Unprocessable Content",
  status: 422,
  detail: "Some fields need another look.",
  code: "refused",
  fields: [{ field: "bore", code: "range", message: "Too wide.", suggested: null, confirmable: false }],
};

let asked: Request[];

/** Stands in for the server: every request gets this answer. */
function serverSays(status: number, body: string, type = "application/json") {
  asked = [];
  vi.stubGlobal("fetch", async (request: Request) => {
    asked.push(request);
    return new Response(body, { status, headers: { "content-type": type } });
  });
}

/** The API, addressed as a page would: a page knows its own origin, this runner does not. */
const tools = () => answer(api.GET("/api/v1/instruments", { baseUrl: "http://localhost/" }));

beforeEach(() => {
  const kept = new Map([["ubrex.person", "7"]]);
  vi.stubGlobal("localStorage", { getItem: (key: string) => kept.get(key) ?? null });
});

test("an answer is its data, and every request says who asks", async () => {
  serverSays(200, '[{"key":"pla","name":"PLA"}]');
  expect(await tools()).toEqual([{ key: "pla", name: "PLA" }]);
  expect(asked[0]?.headers.get("ubrex-person")).toBe("7");
});

test("a problem the server named is thrown as it is, and its field can be asked for", async () => {
  serverSays(422, JSON.stringify(PROBLEM), "application/problem+json");
  const thrown = await tools().catch((error: unknown) => error);
  expect(thrown).toEqual(PROBLEM);
  expect(isProblem(thrown)).toBe(true);
  expect(problemAt(thrown, "bore")?.message).toBe("Too wide.");
  expect(problemAt(thrown, "liner")).toBeUndefined();
});

test.each([
  ["a proxy's page instead of a problem", 502, "<h1>Bad gateway</h1>", "text/html"],
  ["an empty error", 500, "", "text/plain"],
])("%s is told as unreachable, never as an answer", async (_name, status, body, type) => {
  serverSays(status, body, type);
  expect(await tools().catch((error: unknown) => error)).toEqual(UNREACHABLE);
});

test("no network is told as unreachable", async () => {
  vi.stubGlobal("fetch", () => Promise.reject(new TypeError("Failed to fetch")));
  expect(await tools().catch((error: unknown) => error)).toEqual(UNREACHABLE);
});

test("keys of writes are long, differ, and need no secure page", () => {
  vi.stubGlobal("crypto", { getRandomValues: crypto.getRandomValues.bind(crypto) });
  const keys = new Set(Array.from({ length: 200 }, newKey));
  expect(keys.size).toBe(200);
  for (const key of keys) expect(key).toMatch(/^[0-9a-f]{32}$/);
});

test("a write that depends on what was seen carries the version in quotes", () => {
  expect(writeHeaders(3)["if-match" as never]).toBe('"3"');
  expect(writeHeaders()).not.toHaveProperty("if-match");
});
