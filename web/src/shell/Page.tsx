import { type ReactNode, useEffect, useState, useSyncExternalStore } from "react";
import { Link, useLocation, useNavigate } from "react-router";
import { lastKeptAt, onKept } from "../api/kept";
import type { Parcel } from "../api/outbox";
import { useWorkshop } from "../api/queries";
import { setupOnBench } from "../api/storage";
import { KeyHint } from "../instrument/KeyHint";
import { ChangeNow } from "../screens/attempts/Printing";
import { clockOf, dayOf } from "./dates";
import { KeyList } from "./KeyList";
import { type KeyAction, keyCap, useKeys } from "./keys";
import { laterSheet } from "./later";
import { Modal } from "./Modal";
import { useOutbox, useOutboxState } from "./OutboxProvider";
import { usePerson } from "./Person";
import { StopLink } from "./StopLink";
import { useClock } from "./useClock";

export const TABS = [
  { name: "Bench", to: "/" },
  { name: "Runs", to: "/runs" },
  { name: "Profiles", to: "/profiles" },
  { name: "Filaments", to: "/filaments" },
  { name: "Machines", to: "/machines" },
  { name: "Faults", to: "/faults" },
] as const;

type Props = {
  tab: (typeof TABS)[number]["name"];
  /** What the screen is called in the browser's own lists, where its tab does not say it. */
  name?: string;
  aside?: string;
  title?: ReactNode;
  keys: KeyAction[];
  back?: string;
  /** The setup that is looked at, where it is another than that on the bench. */
  setupId?: number;
  children: ReactNode;
};

const AttemptDialog = laterSheet(
  async () => (await import("../screens/attempts/AttemptDialog")).AttemptDialog,
);

/** When the tabs got their numbers: a screen that is drawn anew between M and its number keeps them. */
let numberedAt = 0;
const CHORD_MS = 2000;

/** The frame of every screen: head with tabs, title block, body, and the foot with the keys that act here. */
export function Page({ tab, name = tab, aside, title, keys, back, setupId, children }: Props) {
  const navigate = useNavigate();
  const here = useLocation().pathname;
  const [sheet, setSheet] = useState<"keys" | "tabs" | "attempt" | null>(null);
  const [tabNumbers, setShown] = useState(() => Date.now() - numberedAt < CHORD_MS);
  const setTabNumbers = (shown: boolean) => {
    numberedAt = shown ? Date.now() : 0;
    setShown(shown);
  };
  const first = useWorkshop().data?.first_setup_id;
  const away = back ?? (here === "/" ? undefined : "/");
  useKeys([
    ...(tabNumbers
      ? TABS.map((row, index) => ({
          key: String(index + 1),
          label: row.name,
          run: () => {
            setTabNumbers(false);
            navigate(row.to);
          },
        }))
      : []),
    ...(tabNumbers ? [{ key: "Escape", label: "close", run: () => setTabNumbers(false) }] : []),
    ...keys,
    ...(first ? [{ key: "A", label: "attempt", run: () => setSheet("attempt") }] : []),
    { key: "?", label: "all keys", run: () => setSheet("keys") },
    { key: "M", label: "tabs", run: () => setTabNumbers(!tabNumbers) },
    ...(away ? [{ key: "Escape", label: "back", run: () => navigate(away) }] : []),
  ]);
  useEffect(() => {
    document.title = [name, aside, "Ubrex"].filter(Boolean).join(" | ");
  }, [name, aside]);
  return (
    <div className="flex h-dvh flex-col">
      <button
        type="button"
        className="absolute -top-20 left-3 z-20 bg-press px-4 py-2 text-on-press focus:top-1"
        onClick={() =>
          document.querySelector<HTMLElement>("#content a, #content button, #content input")?.focus()
        }
      >
        To the content
      </button>
      <header className="flex h-11.5 shrink-0 items-end gap-2 border-b-2 border-ink bg-ground px-3 desk:gap-3 desk:px-4 wide:gap-10 wide:px-6">
        <Wordmark onPress={() => setSheet("tabs")} />
        <nav aria-label="Main" className="hidden gap-1 desk:flex">
          {TABS.map((row, index) => (
            <Link
              key={row.to}
              to={row.to}
              aria-current={row.name === tab ? "page" : undefined}
              className={`-mb-0.5 flex h-11.5 items-end`}
            >
              <span
                className={`rounded-t-control border-x border-t px-1.5 pt-1.5 text-body wide:px-4 wide:text-name ${
                  row.name === tab
                    ? "border-x-2 border-t-2 border-ink bg-sheet pb-2 font-bold"
                    : "border-edge pb-1.5 text-ink-2"
                }`}
              >
                {tabNumbers && <KeyHint>{String(index + 1)}</KeyHint>} {row.name}
              </span>
            </Link>
          ))}
        </nav>
        <HeadRight aside={aside} {...(first ? { onAttempt: () => setSheet("attempt") } : {})} />
      </header>
      <ChangeNow />
      {title && <section aria-label="What is on this screen">{title}</section>}
      <main id="content" className="flex min-h-0 flex-1 flex-col overflow-y-auto bg-sheet">
        {children}
      </main>
      <Foot keys={keys} onKeys={() => setSheet("keys")} />
      {sheet === "keys" && <KeyList keys={keys} onClose={() => setSheet(null)} />}
      {sheet === "attempt" && first && (
        <AttemptDialog setupId={setupId ?? setupOnBench(first)} onClose={() => setSheet(null)} />
      )}
      {sheet === "tabs" && <TabSheet onClose={() => setSheet(null)} onKeys={() => setSheet("keys")} />}
    </div>
  );
}

function Wordmark({ onPress }: { onPress: () => void }) {
  const drawn = (
    <>
      <svg viewBox="0 0 24 24" width="24" height="24" aria-hidden="true" fill="none">
        <path d="M8.5 3H4v10a8 8 0 0 0 16 0V3h-4.5" stroke="currentColor" strokeWidth="3" />
        <path d="M12 2v10" stroke="var(--mark)" strokeWidth="2.5" />
      </svg>
      <span className="text-verdict font-bold">Ubrex</span>
    </>
  );
  return (
    <>
      <button
        type="button"
        onClick={onPress}
        className="flex min-h-11 cursor-pointer items-center gap-2 desk:hidden"
      >
        {drawn}
        <span className="text-body text-ink-2">Menu</span>
      </button>
      <Link to="/" aria-label="Ubrex, to the bench" className="hidden h-11.5 items-center gap-2.5 desk:flex">
        {drawn}
      </Link>
    </>
  );
}

function HeadRight({ aside, onAttempt }: { aside?: string; onAttempt?: () => void }) {
  const { person, change } = usePerson();
  const clock = useClock();
  return (
    <div className="ml-auto flex h-11.5 min-w-0 items-center gap-3 text-body text-ink-2">
      <span className="hidden truncate wide:inline">{aside}</span>
      <StopLink />
      {onAttempt && (
        <button
          type="button"
          onClick={onAttempt}
          className="link min-h-11 text-ink -outline-offset-3 desk:hidden"
        >
          Attempt
        </button>
      )}
      <button
        type="button"
        onClick={change}
        className="link min-h-11 min-w-11 truncate text-ink -outline-offset-3"
      >
        {person ? person.name : "Who?"}
      </button>
      <span className="hidden text-name font-bold text-ink wide:inline">{clock}</span>
    </div>
  );
}

function Foot({ keys, onKeys }: { keys: KeyAction[]; onKeys: () => void }) {
  const { waiting, refused, where } = useOutboxState();
  const keptAt = useSyncExternalStore(onKept, lastKeptAt);
  return (
    <footer
      className={`${waiting || refused || keptAt ? "flex" : "hidden desk:flex"} min-h-8 shrink-0 items-center gap-6 overflow-hidden border-t border-rule bg-ground px-3 desk:px-6`}
    >
      {refused && <Refused parcel={refused} />}
      {waiting ? (
        <p role="status" className="text-body font-semibold text-stale">
          Kept on this {where}, {waiting} not sent. Trying again.
        </p>
      ) : keptAt ? (
        <p role="status" className="text-body font-semibold text-stale">
          Ubrex does not answer. Shown as it was at {clockOf(keptAt)}, {dayOf(keptAt)}.
        </p>
      ) : (
        <div className="hidden min-w-0 items-center gap-5 overflow-hidden whitespace-nowrap desk:flex">
          {keys
            .filter((row) => !row.quiet)
            .map((row) => (
              <span key={row.key} className="text-small text-ink-2">
                <KeyHint>{keyCap(row.key)}</KeyHint> {row.label}
              </span>
            ))}
        </div>
      )}
      <button
        type="button"
        onClick={onKeys}
        className="ml-auto flex min-h-8 cursor-pointer items-center gap-2 text-small text-ink-2"
      >
        <KeyHint>?</KeyHint> <span>All keys and settings</span>
      </button>
    </footer>
  );
}

/** Something that waited to be sent and was refused: where it is looked at, or let go. */
function Refused({ parcel }: { parcel: Parcel }) {
  const outbox = useOutbox();
  const { attempt, write, typed, runId, refusal } = parcel;
  const style = "link shrink-0 text-body font-semibold text-out";
  if (attempt) {
    return (
      <Link to={`/setups/${attempt.setupId}/prints`} className={style}>
        An attempt at {typed} was not taken
      </Link>
    );
  }
  if (!write) {
    return (
      <Link to={`/runs/${runId}`} className={style}>
        A reading of run {runId} was not placed
      </Link>
    );
  }
  return (
    <>
      <Link to={write.to} className={style}>
        {write.what} was not taken: {refusal?.reason}
      </Link>
      <button type="button" className="link shrink-0 text-body" onClick={() => outbox.drop(parcel.key)}>
        Let it go
      </button>
    </>
  );
}

function TabSheet({ onClose, onKeys }: { onClose: () => void; onKeys: () => void }) {
  return (
    <Modal title="Go to" onClose={onClose}>
      {TABS.map((row) => (
        <Link key={row.to} to={row.to} onClick={onClose} className="button mb-2 w-full justify-start">
          {row.name}
        </Link>
      ))}
      <button type="button" className="button w-full justify-start" onClick={onKeys}>
        Keys and settings
      </button>
    </Modal>
  );
}
