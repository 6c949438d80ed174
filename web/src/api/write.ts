import { answer, api, writeHeaders } from "./client";
import type { Write } from "./outbox";

/** Send a write whose path and body are at hand. */
export function sendWrite(key: string, { path, body }: Write): Promise<object> {
  const post = api.POST as (path: string, given: object) => Promise<{ data?: object; error?: unknown }>;
  return answer(post(path, { params: { header: writeHeaders(undefined, key) }, body }));
}
