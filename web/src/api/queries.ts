import { type QueryClient, queryOptions, useQuery } from "@tanstack/react-query";
import { useSyncExternalStore } from "react";
import { answer, api, type Schemas } from "./client";
import { setupOnBench } from "./storage";

/** Keys of what is kept in the browser's cache; everything about the workshop hangs below `all`. */
export const keys = {
  all: ["ubrex"] as const,
  session: ["session"] as const,
  workshop: ["ubrex", "workshop"] as const,
  first: ["ubrex", "first"] as const,
  instruments: ["ubrex", "instruments"] as const,
  setup: (id: number) => ["ubrex", "setup", id] as const,
  bench: (id: number) => ["ubrex", "bench", id] as const,
  measure: (id: number, step: string) => ["ubrex", "measure", id, step] as const,
  piece: (id: number, asked: unknown) => ["ubrex", "piece", id, asked] as const,
  layers: (id: number) => ["ubrex", "layers", id] as const,
  history: (id: number, left?: number, right?: number) => ["ubrex", "history", id, left, right] as const,
  setups: ["ubrex", "setups"] as const,
  standings: ["ubrex", "standings"] as const,
  schools: ["ubrex", "schools"] as const,
  course: (id: number) => ["ubrex", "course", id] as const,
  checks: (id: number) => ["ubrex", "checks", id] as const,
  picks: (id: number, part: string) => ["ubrex", "picks", id, part] as const,
  machines: ["ubrex", "machines"] as const,
  tools: ["ubrex", "tools"] as const,
  filaments: ["ubrex", "filaments"] as const,
  room: ["ubrex", "room"] as const,
  limits: ["ubrex", "limits"] as const,
  counters: (id: number) => ["ubrex", "counters", id] as const,
  preflight: (id: number) => ["ubrex", "pre-flight", id] as const,
  record: (kind: string, id: number | null) => ["ubrex", "record", kind, id] as const,
  typedForm: (id: number, step: string) => ["ubrex", "typed", id, step] as const,
  preview: (id: number, kind: string, when: string) => ["ubrex", "preview", id, kind, when] as const,
  changeKinds: (id: number) => ["ubrex", "change-kinds", id] as const,
  photos: (id: number) => ["ubrex", "photos", id] as const,
  help: (id: number) => ["ubrex", "help", id] as const,
  begun: ["ubrex", "begun"] as const,
  attemptForm: (id: number) => ["ubrex", "attempt-form", id] as const,
  attemptsNow: (id: number) => ["ubrex", "attempts-now", id] as const,
  attempts: (id: number, sign: string | null) => ["ubrex", "attempts", id, sign] as const,
  faults: ["ubrex", "faults"] as const,
  guides: (id: number) => ["ubrex", "guides", id] as const,
  fault: (id: number) => ["ubrex", "fault", id] as const,
  since: (id: number, against: number | null) => ["ubrex", "since", id, against] as const,
  prints: (id: number) => ["ubrex", "prints", id] as const,
  found: (text: string) => ["ubrex", "found", text] as const,
  runs: ["ubrex", "runs"] as const,
  method: (id: number) => ["ubrex", "method", id] as const,
  run: (id: number, early: boolean) => ["ubrex", "run", id, early] as const,
};

let standing = false;

/** The page has been drawn and the browser has time; not every browser says when it has. */
const stands = new Promise<void>((then) => {
  const idle = () => {
    if ("requestIdleCallback" in globalThis) requestIdleCallback(() => then(), { timeout: 500 });
    else setTimeout(then, 100);
  };
  if (document.readyState === "complete") idle();
  else addEventListener("load", idle, { once: true });
});
void stands.then(() => {
  standing = true;
});

/** Whether the first screen stands: what is beside it is drawn after it. */
export function useStands(): boolean {
  return useSyncExternalStore(onStanding, () => standing);
}

function onStanding(changed: () => void) {
  void stands.then(changed);
  return () => undefined;
}

/** What stands beside the first screen is asked for once that stands, so that it does not come between. */
async function beside<T>(ask: () => Promise<{ data?: T; error?: unknown }>): Promise<T> {
  await stands;
  return answer(ask());
}

/** After a write, everything shown is asked for again: a first answer on its way was given before it, and would stay. */
export async function refresh(queries: QueryClient) {
  await queries.cancelQueries({ queryKey: keys.all });
  await queries.invalidateQueries({ queryKey: keys.all });
}

const sessionQuery = { queryKey: keys.session, queryFn: () => answer(api.GET("/api/v1/session")) };

const workshopQuery = { queryKey: keys.workshop, queryFn: () => answer(api.GET("/api/v1/workshop")) };

export function useSession() {
  return useQuery(sessionQuery);
}

export function useWorkshop() {
  return useQuery(workshopQuery);
}

/** The fields of a first setup and its measuring tool, with what is usual in them. */
export function useFirstSetup() {
  return useQuery({ queryKey: keys.first, queryFn: () => answer(api.GET("/api/v1/first-setup")) });
}

const benchQuery = (id: number) => ({
  queryKey: keys.bench(id),
  queryFn: () => answer(api.GET("/api/v1/setups/{setup_id}/bench", { params: { path: { setup_id: id } } })),
});

export function useBench(id: number) {
  return useQuery(benchQuery(id));
}

/** Ask for what the first screen needs, before there is a page to ask for it; most of it is on its way already. */
export async function askEarly(queries: QueryClient) {
  await globalThis.ubrexEarly?.here;
  void queries.prefetchQuery(sessionQuery);
  await queries.prefetchQuery({ ...workshopQuery, retry: false });
  const first = queries.getQueryData<Schemas["WorkshopOut"]>(keys.workshop)?.first_setup_id;
  if (first && location.pathname === "/") await queries.prefetchQuery(benchQuery(setupOnBench(first)));
  // What nobody took by now would be old by the time somebody asks.
  globalThis.ubrexEarly?.answers.clear();
}

/** Cases that are fetched before anybody asks for them. */
const MOST_AHEAD = 5;

/**
 * Ask for what has to be there without a network: guides, cases that are open. `again`: also for what is shown, which was
 * answered before anything was kept.
 */
export async function askAhead(queries: QueryClient, again: boolean) {
  if (again)
    await Promise.all([keys.session, keys.all].map((key) => queries.invalidateQueries({ queryKey: key })));
  const first = queries.getQueryData<Schemas["WorkshopOut"]>(keys.workshop)?.first_setup_id;
  if (!first) return;
  const setupId = setupOnBench(first);
  void queries.prefetchQuery(guidesQuery(setupId));
  void queries.prefetchQuery(benchQuery(setupId));
  await queries.prefetchQuery(faultsQuery);
  const cases = queries.getQueryData<Schemas["FaultsOut"]>(keys.faults)?.cases ?? [];
  for (const row of cases.filter((one) => !one.closed).slice(0, MOST_AHEAD)) {
    void queries.prefetchQuery(faultQuery(row.id));
  }
}

export function useInstruments() {
  return useQuery({ queryKey: keys.instruments, queryFn: () => answer(api.GET("/api/v1/instruments")) });
}

export function useSetup(id: number) {
  return useQuery({
    queryKey: keys.setup(id),
    queryFn: () => answer(api.GET("/api/v1/setups/{setup_id}", { params: { path: { setup_id: id } } })),
  });
}

export function useStart(id: number, step: Schemas["StartOut"]["step"]) {
  return useQuery({
    queryKey: keys.measure(id, step),
    queryFn: () =>
      answer(
        api.GET("/api/v1/setups/{setup_id}/starts/{step}", { params: { path: { setup_id: id, step } } }),
      ),
  });
}

/** A piece as it would be printed with these numbers; the last one stays until the next is worked out. */
export function usePiece(id: number, asked: Schemas["PieceIn"], prints: boolean) {
  return useQuery({
    queryKey: keys.piece(id, asked),
    queryFn: () =>
      answer(
        api.POST("/api/v1/setups/{setup_id}/pieces", { params: { path: { setup_id: id } }, body: asked }),
      ),
    enabled: prints,
    retry: false,
    placeholderData: (before) => before,
  });
}

export function useLayers(id: number) {
  return useQuery({
    queryKey: keys.layers(id),
    queryFn: () => answer(api.GET("/api/v1/runs/{run_id}/layers", { params: { path: { run_id: id } } })),
    retry: false,
  });
}

export function useChangeKinds(id: number) {
  return useQuery({
    queryKey: keys.changeKinds(id),
    queryFn: () =>
      answer(api.GET("/api/v1/setups/{setup_id}/change-kinds", { params: { path: { setup_id: id } } })),
  });
}

/** What logging a change will make of each setup; asked anew for each kind and moment. */
export function useChangePreview(id: number, kind: Schemas["Change"] | null, when: string) {
  return useQuery({
    queryKey: keys.preview(id, kind ?? "", when),
    enabled: kind !== null,
    queryFn: () =>
      answer(
        api.GET("/api/v1/setups/{setup_id}/change-preview", {
          params: {
            path: { setup_id: id },
            query: {
              kind: kind ?? "nozzle_same",
              happened_at: when ? new Date(when).toISOString() : undefined,
            },
          },
        }),
      ),
  });
}

export type Pickable = "machine" | "nozzle" | "surface" | "filament" | "purpose";

/** What can be chosen for one part of a setup, and what each choice results in. */
export function usePicks(id: number, part: Pickable) {
  return useQuery({
    queryKey: keys.picks(id, part),
    queryFn: () =>
      answer(api.GET("/api/v1/setups/{setup_id}/picks/{part}", { params: { path: { setup_id: id, part } } })),
  });
}

export function useMachines() {
  return useQuery({ queryKey: keys.machines, queryFn: () => answer(api.GET("/api/v1/machines")) });
}

export function useTools() {
  return useQuery({ queryKey: keys.tools, queryFn: () => answer(api.GET("/api/v1/tools")) });
}

export function useFilaments() {
  return useQuery({ queryKey: keys.filaments, queryFn: () => answer(api.GET("/api/v1/filaments")) });
}

export function useRoom() {
  return useQuery({ queryKey: keys.room, queryFn: () => beside(() => api.GET("/api/v1/room")) });
}

export function useLimits() {
  return useQuery({ queryKey: keys.limits, queryFn: () => answer(api.GET("/api/v1/limits")) });
}

/** The values of two setups side by side; nothing until the other one is chosen. */
export function useBeside(id: number, other: number | null) {
  return useQuery({
    queryKey: ["ubrex", "beside", id, other],
    enabled: other !== null,
    queryFn: () =>
      answer(
        api.GET("/api/v1/setups/{setup_id}/beside/{other_id}", {
          params: { path: { setup_id: id, other_id: other ?? 0 } },
        }),
      ),
  });
}

/** Counters of a setup's parts that have something to say. */
const countersOf = (id: number) => ({
  queryKey: keys.counters(id),
  queryFn: () =>
    beside(() => api.GET("/api/v1/setups/{setup_id}/counters", { params: { path: { setup_id: id } } })),
});

/** How much each part was used since it was last seen to, and before. */
export function useCounters(id: number) {
  return useQuery(countersOf(id));
}

export function useDueCounters(id: number) {
  return useQuery({ ...countersOf(id), select: (found) => found.counters.filter((row) => row.due) });
}

export function usePreflight(id: number) {
  return useQuery({
    queryKey: keys.preflight(id),
    queryFn: () =>
      answer(api.GET("/api/v1/setups/{setup_id}/pre-flight", { params: { path: { setup_id: id } } })),
  });
}

/** The form of a record; what is typed into it stays while others change theirs. */
export function useRecordForm(kind: Schemas["RecordKind"], id: number | null) {
  return useQuery({
    queryKey: keys.record(kind, id),
    queryFn: () =>
      answer<Schemas["FormOut"]>(
        id === null
          ? api.GET("/api/v1/forms/{kind}", { params: { path: { kind } } })
          : api.GET("/api/v1/records/{kind}/{record_id}", { params: { path: { kind, record_id: id } } }),
      ),
  });
}

export function useSetups() {
  return useQuery({ queryKey: keys.setups, queryFn: () => answer(api.GET("/api/v1/setups")) });
}

export function useTypedForm(id: number, step: Schemas["Step"]) {
  return useQuery({
    queryKey: keys.typedForm(id, step),
    queryFn: () =>
      answer(
        api.GET("/api/v1/setups/{setup_id}/values/{step}", { params: { path: { setup_id: id, step } } }),
      ),
  });
}

/** The values of a setup over time. */
export function useCourse(setupId: number) {
  return useQuery({
    queryKey: keys.course(setupId),
    queryFn: () =>
      answer(api.GET("/api/v1/setups/{setup_id}/course", { params: { path: { setup_id: setupId } } })),
  });
}

/** What can be checked on the machine of a setup, and what was. */
export function useChecks(setupId: number) {
  return useQuery({
    queryKey: keys.checks(setupId),
    queryFn: () =>
      answer(api.GET("/api/v1/setups/{setup_id}/checks", { params: { path: { setup_id: setupId } } })),
  });
}

/** Where practitioners disagree, and whom this person follows. */
export function useSchools() {
  return useQuery({ queryKey: keys.schools, queryFn: () => answer(api.GET("/api/v1/schools")) });
}

/** All setups side by side. */
export function useStandings() {
  return useQuery({ queryKey: keys.standings, queryFn: () => answer(api.GET("/api/v1/standings")) });
}

/** Words that can be pressed; they do not change while the page is open. */
export function useWords() {
  return useQuery({
    queryKey: ["words"],
    queryFn: () => beside(() => api.GET("/api/v1/words")),
    staleTime: Number.POSITIVE_INFINITY,
  });
}

/** Cases of faults, and what can be seen. */
const faultsQuery = queryOptions({
  queryKey: keys.faults,
  queryFn: () => beside(() => api.GET("/api/v1/faults")),
});

export function useFaults() {
  return useQuery(faultsQuery);
}

/** Guides through work at the machine of a setup. */
export function useGuides(id: number) {
  return useQuery(guidesQuery(id));
}

const guidesQuery = (id: number) =>
  queryOptions({
    queryKey: keys.guides(id),
    queryFn: () =>
      answer(api.GET("/api/v1/setups/{setup_id}/guides", { params: { path: { setup_id: id } } })),
  });

/** One case as it stands. */
export function useFault(id: number) {
  return useQuery(faultQuery(id));
}

const faultQuery = (id: number) =>
  queryOptions({
    queryKey: keys.fault(id),
    queryFn: () => answer(api.GET("/api/v1/faults/{fault_id}", { params: { path: { fault_id: id } } })),
  });

/** A case for somebody elsewhere. */
export function useHelp(id: number) {
  return useQuery({
    queryKey: keys.help(id),
    queryFn: () => answer(api.GET("/api/v1/faults/{fault_id}/help", { params: { path: { fault_id: id } } })),
  });
}

/** What an attempt on a setup is written down with. */
export function useAttemptForm(id: number) {
  return useQuery({
    queryKey: keys.attemptForm(id),
    queryFn: () =>
      beside(() => api.GET("/api/v1/setups/{setup_id}/attempt-form", { params: { path: { setup_id: id } } })),
  });
}

/** What prints now, on all setups; asked again when something is to be changed on the way. */
export function useBegun() {
  return useQuery({
    queryKey: keys.begun,
    queryFn: () => beside(() => api.GET("/api/v1/begun")),
    refetchInterval: (query) => untilNext(query.state.data?.begun ?? []),
  });
}

const [SOONEST_MS, LATEST_MS] = [1000, 60_000];

/** Time in ms until the next change on the way is due; a clock that goes wrong is asked again within a minute. */
function untilNext(begun: readonly Schemas["BegunOut"][]): number | false {
  const waiting = begun.flatMap((row) => (row.remind_at && !row.due ? [Date.parse(row.remind_at)] : []));
  if (waiting.length === 0) return false;
  return Math.min(Math.max(Math.min(...waiting) - Date.now(), SOONEST_MS), LATEST_MS);
}

/** What of attempts is open on a setup. */
export function useAttemptsNow(id: number) {
  return useQuery({
    queryKey: keys.attemptsNow(id),
    queryFn: () =>
      beside(() => api.GET("/api/v1/setups/{setup_id}/attempts-now", { params: { path: { setup_id: id } } })),
  });
}

/** All attempts at the part of one of them, judged by a sign; null: by the one looked at most. */
export function useAttempts(printId: number, sign: string | null) {
  return useQuery({
    queryKey: keys.attempts(printId, sign),
    queryFn: () =>
      answer(
        api.GET("/api/v1/prints/{print_id}/part", {
          params: { path: { print_id: printId }, query: sign === null ? {} : { sign } },
        }),
      ),
    placeholderData: (before) => before,
  });
}

/** What changed since the same part was printed last; asked for only where somebody looks. */
export function useSince(printId: number, against: number | null) {
  return useQuery({
    queryKey: keys.since(printId, against),
    queryFn: () =>
      answer(
        api.GET("/api/v1/prints/{print_id}/since", {
          params: { path: { print_id: printId }, query: against === null ? {} : { against } },
        }),
      ),
  });
}

export function usePrints(id: number) {
  return useQuery({
    queryKey: keys.prints(id),
    queryFn: () =>
      answer(api.GET("/api/v1/setups/{setup_id}/prints", { params: { path: { setup_id: id } } })),
  });
}

/** What is found by some words; nothing is asked for until there are two letters. */
export function useFound(text: string) {
  return useQuery({
    queryKey: keys.found(text),
    queryFn: () => answer(api.GET("/api/v1/found", { params: { query: { text } } })),
    enabled: text.trim().length > 1,
    placeholderData: (before) => before,
  });
}

export function useRuns(cursor: number | undefined) {
  return useQuery({
    queryKey: [...keys.runs, cursor],
    queryFn: () => answer(api.GET("/api/v1/runs", { params: { query: { cursor } } })),
  });
}

/** How often an open run is looked at again: somebody may measure with another screen. */
const WATCHED_MS = 4000;

export function useRun(id: number, early: boolean) {
  return useQuery({
    queryKey: keys.run(id, early),
    queryFn: () =>
      answer(api.GET("/api/v1/runs/{run_id}", { params: { path: { run_id: id }, query: { early } } })),
    refetchInterval: (query) => (query.state.data?.state === "open" ? WATCHED_MS : false),
  });
}

/** What of a run does not change while it goes on: how it goes, what can hurt, its piece and its files. */
export function useMethod(id: number) {
  return useQuery({
    queryKey: keys.method(id),
    queryFn: () => answer(api.GET("/api/v1/runs/{run_id}/method", { params: { path: { run_id: id } } })),
  });
}

export function usePhotos(id: number) {
  return useQuery({
    queryKey: keys.photos(id),
    queryFn: () => answer(api.GET("/api/v1/runs/{run_id}/photos", { params: { path: { run_id: id } } })),
  });
}

export function useHistory(id: number, left: number | undefined, right: number | undefined) {
  return useQuery({
    queryKey: keys.history(id, left, right),
    queryFn: () =>
      answer(
        api.GET("/api/v1/setups/{setup_id}/history", {
          params: { path: { setup_id: id }, query: { left, right } },
        }),
      ),
    placeholderData: (before) => before,
  });
}
