import { useEffect, useState } from "react";
import { useNavigate } from "react-router";
import { answer, api, type Schemas, writeHeaders } from "../../api/client";
import { type Pickable, useBench, useRoom } from "../../api/queries";
import { store } from "../../api/storage";
import { KeyHint } from "../../instrument/KeyHint";
import { TitleBlock } from "../../instrument/TitleBlock";
import { Modal } from "../../shell/Modal";
import { Page } from "../../shell/Page";
import { Trouble, Waiting } from "../../shell/Trouble";
import { undoLast } from "../../shell/undo";
import { useWrite } from "../../shell/useWrite";
import { Chain } from "./Chain";
import {
  BeforeDialog,
  ChangeDialog,
  FindDialog,
  NoteDialog,
  PickDialog,
  ReadBackDialog,
  RemoveDialog,
  RoomDialog,
  SafetyDialog,
  TypeDialog,
} from "./laterDialogs";
import { Margin } from "./Margin";
import { Tonight } from "./Tonight";
import { useSetupOnBench } from "./useSetupOnBench";

type Step = Schemas["StepOut"]["step"];
type Asking =
  | { what: "setup" | "change" | "safety" | "room" | "remove" | "note" | "parts" }
  | { what: "type"; step: Step }
  | { what: "before"; card: Schemas["BeforeOut"] }
  | { what: "read-back"; row: Schemas["BenchReadBackOut"] }
  | { what: "pick"; part: Pickable };

const PARTS: readonly Pickable[] = ["machine", "nozzle", "surface", "filament", "purpose"];

/** Can I print tonight, with which numbers; where the setup stands, what is next, and why. */
export function BenchScreen({ first }: { first: number }) {
  const [setupId, putOnBench] = useSetupOnBench(first);
  const [asking, setAsking] = useState<Asking | null>(null);
  const [opened, setOpened] = useState<Step | null>(null);
  const bench = useBench(setupId);
  const navigate = useNavigate();
  const rows = bench.data?.steps ?? [];
  const untold = rows.find((one) => ["stale", "re_enter", "out", "never"].includes(one.standing));
  const open = opened ?? bench.data?.next.row ?? untold?.step ?? null;
  const row = rows.find((one) => one.step === open);
  const held = (bench.data?.dangers.length ?? 0) > 0;
  const start = row?.open_run_id ? `/runs/${row.open_run_id}` : `/setups/${setupId}/measure/${row?.step}`;
  const gone = bench.data?.setup.removed ?? false;
  const unread = bench.data?.read_backs[0];
  const assume = useWrite(({ values }: Schemas["AssumeOut"]) =>
    answer(
      api.POST("/api/v1/setups/{setup_id}/values", {
        params: { path: { setup_id: setupId }, header: writeHeaders() },
        body: { origin: "typed", note: "", values },
      }),
    ),
  );
  const ownUnread = bench.data?.read_backs.find((one) => one.step === row?.step);
  const type = (step: Step) => setAsking({ what: "type", step });
  const move = (by: number) => {
    const at = rows.findIndex((one) => one.step === open);
    const next = rows[Math.min(Math.max(at + by, 0), rows.length - 1)];
    if (next) setOpened(next.step);
  };
  const measured = row?.can_run && !row.type_first;
  const enter = () => {
    if (held) setAsking({ what: "safety" });
    else if (ownUnread && row?.unverified) setAsking({ what: "read-back", row: ownUnread });
    else if (measured) navigate(start);
    else if (row) type(row.step);
  };
  const enterWord = held
    ? "safety card"
    : ownUnread && row?.unverified
      ? "read back"
      : row?.open_run_id
        ? "go on"
        : measured
          ? "start"
          : "type it in";
  const keys = [
    ...(gone
      ? []
      : [
          { key: "ArrowUp", label: "", run: () => move(-1), quiet: true },
          { key: "ArrowDown", label: "choose a row", run: () => move(1) },
          {
            key: "Enter",
            label: enterWord,
            run: enter,
          },
          { key: "T", label: "type it in", run: () => row && type(row.step) },
          { key: "S", label: "safety card", run: () => setAsking({ what: "safety" }), quiet: true },
          { key: "F", label: "pre-flight", run: () => navigate(`/setups/${setupId}/pre-flight`) },
          { key: "O", label: "check a file", run: () => navigate(`/setups/${setupId}/file-check`) },
          {
            key: "K",
            label: "check the machine",
            run: () => navigate(`/setups/${setupId}/checks`),
            quiet: true,
          },
          { key: "G", label: "guides", run: () => navigate(`/setups/${setupId}/guides`), quiet: true },
          { key: "C", label: "log a change", run: () => setAsking({ what: "change" }) },
          { key: "N", label: "note", run: () => setAsking({ what: "note" }) },
          ...(row?.assume
            ? [
                {
                  key: "D",
                  label: "take the display as true",
                  run: () => row.assume && assume.mutate(row.assume),
                },
              ]
            : []),
          ...(unread
            ? [{ key: "B", label: "read back", run: () => setAsking({ what: "read-back", row: unread }) }]
            : []),
          ...PARTS.map((part, index) => ({
            key: String(index + 1),
            label: `another ${part}`,
            run: () => setAsking({ what: "pick", part }),
            quiet: true,
          })),
          { key: "6", label: "the room", run: () => setAsking({ what: "room" }), quiet: true },
        ]),
    { key: "Ctrl+Z", label: "undo", run: undoLast, quiet: true },
    { key: "W", label: "which setup tonight", run: () => navigate("/setups"), quiet: true },
    { key: "/", label: "find", run: () => setAsking({ what: "setup" }) },
    { key: "H", label: "history", run: () => navigate("/profiles") },
  ];
  // biome-ignore lint/correctness/useExhaustiveDependencies: another setup begins at its own next row.
  useEffect(() => setOpened(null), [setupId]);
  const close = () => setAsking(null);
  return (
    <Page
      tab="Bench"
      keys={keys}
      setupId={setupId}
      title={
        bench.data && (
          <SetupBlock
            setup={bench.data.setup}
            onPick={(part) => setAsking({ what: "pick", part })}
            onRoom={() => setAsking({ what: "room" })}
            onParts={() => setAsking({ what: "parts" })}
          />
        )
      }
    >
      {bench.isError && !bench.data && (
        <Trouble
          error={bench.error}
          onAgain={() => (setupId === first ? bench.refetch() : putOnBench(first))}
        />
      )}
      {bench.isPending && <Waiting />}
      {bench.data && (
        <div className="flex min-h-0 flex-1 flex-col wide:flex-row">
          {!gone && <Tonight bench={bench.data} onType={type} />}
          {/* On a phone what is next comes first. */}
          <div className="order-first min-w-0 flex-1 desk:order-none wide:overflow-y-auto">
            <Next
              bench={bench.data}
              onSafety={() => setAsking({ what: "safety" })}
              onBefore={(card) => setAsking({ what: "before", card })}
            />
            {gone ? (
              <p className="border-y-2 border-ink bg-well p-6 text-reason">
                This setup was removed from the workshop. Its record is kept under Profiles. Put another one
                on the bench.
              </p>
            ) : (
              <Chain
                bench={bench.data}
                open={held ? opened : open}
                onOpen={setOpened}
                onType={type}
                onAssume={assume.mutate}
                onReadBack={ownUnread && (() => setAsking({ what: "read-back", row: ownUnread }))}
                to={start}
              />
            )}
          </div>
          <Margin
            bench={bench.data}
            onLog={() => setAsking({ what: "change" })}
            onNote={() => setAsking({ what: "note" })}
            onRemove={() => setAsking({ what: "remove" })}
            onReadBack={(row) => setAsking({ what: "read-back", row })}
          />
        </div>
      )}
      {asking?.what === "change" && (
        <ChangeDialog
          setupId={setupId}
          onLogged={(part) => setAsking(part ? { what: "pick", part } : null)}
          onClose={close}
        />
      )}
      {asking?.what === "note" && <NoteDialog setupId={setupId} onClose={close} />}
      {asking?.what === "type" && <TypeDialog setupId={setupId} step={asking.step} onClose={close} />}
      {asking?.what === "before" && bench.data && (
        <BeforeDialog bench={bench.data} card={asking.card} onClose={close} />
      )}
      {asking?.what === "safety" && bench.data && <SafetyDialog bench={bench.data} onClose={close} />}
      {asking?.what === "read-back" && <ReadBackDialog setupId={setupId} row={asking.row} onClose={close} />}
      {asking?.what === "parts" && bench.data && (
        <PartsSheet
          setup={bench.data.setup}
          onPick={(part) => setAsking({ what: "pick", part })}
          onRoom={() => setAsking({ what: "room" })}
          onFind={() => setAsking({ what: "setup" })}
          onClose={close}
        />
      )}
      {asking?.what === "room" && <RoomDialog onClose={close} />}
      {asking?.what === "remove" && bench.data && (
        <RemoveDialog
          setup={bench.data.setup}
          onClose={close}
          onDone={() => {
            store("ubrex.setup", null);
            putOnBench(first);
            close();
          }}
        />
      )}
      {asking?.what === "pick" && (
        <PickDialog
          setupId={setupId}
          part={asking.part}
          onClose={close}
          onDone={(id) => {
            putOnBench(id);
            close();
          }}
        />
      )}
      {asking?.what === "setup" && (
        <FindDialog
          current={setupId}
          onClose={close}
          onChosen={(found) => {
            if (found.setup_id !== null) putOnBench(found.setup_id);
            close();
            navigate(found.to);
          }}
        />
      )}
    </Page>
  );
}

type NextProps = {
  bench: Schemas["BenchOut"];
  onSafety: () => void;
  onBefore: (card: Schemas["BeforeOut"]) => void;
};

/** One line before the rows: the cards that come before the numbers, what is next, and what all of it would take. */
function Next({ bench, onSafety, onBefore }: NextProps) {
  const { safety, before, dangers, next, plan } = bench;
  // Cards that ask for nothing stay out of the way: nine rows are to be seen at once.
  const open = before.filter((card) => !card.good);
  return (
    <div className="border-b border-rule px-3 py-0.5 desk:px-6">
      <div className="flex flex-wrap items-baseline gap-x-4">
        <h2 className="text-cell">Calibration chain</h2>
        <span className="text-body text-ink-2">left to do: {plan.total}</span>
        {open.length > 0 && <span className="basis-full" />}
        <button
          type="button"
          className={`link min-h-11 text-body ${open.length > 0 ? "-my-2.5" : "ml-auto"}`}
          onClick={onSafety}
          title={safety.cause}
        >
          Safe to tune: {safety.standing_word.toLowerCase()}
        </button>
        {open.map((card) => (
          <button
            key={card.key}
            type="button"
            className="link -my-2.5 min-h-11 text-body"
            onClick={() => onBefore(card)}
          >
            {card.said}
          </button>
        ))}
      </div>
      {dangers.map((row) => (
        <p key={row.danger} className="mb-1 border-l-6 border-stale bg-well px-3 py-2 text-care">
          <strong>Hold.</strong> {row.sentence}
        </p>
      ))}
      {dangers.length > 0 && (
        <button type="button" className="button button-main my-2" onClick={onSafety}>
          Go through the safety card <KeyHint onBlue>Enter</KeyHint>
        </button>
      )}
      {dangers.length === 0 && next.step === null && <p className="text-reason">{next.sentence}</p>}
    </div>
  );
}

type PartsProps = {
  setup: Schemas["SetupOut"];
  onPick: (part: Pickable) => void;
  onRoom: () => void;
  onFind: () => void;
  onClose: () => void;
};

/** The six cells of the title block as a phone shows them: what is on the bench, each to be changed. */
function PartsSheet({ setup, onPick, onRoom, onFind, onClose }: PartsProps) {
  const room = useRoom();
  const rows: readonly (readonly [label: string, value: string, go: () => void])[] = [
    ["Machine", setup.machine, () => onPick("machine")],
    ["Nozzle", setup.nozzle, () => onPick("nozzle")],
    ["Surface", setup.surface, () => onPick("surface")],
    ["Filament", setup.filament, () => onPick("filament")],
    ["Tuned for", setup.purpose_name, () => onPick("purpose")],
    [
      "Room",
      room.data?.temperature
        ? [`${room.data.temperature} °C`, room.data.detail].filter(Boolean).join(", ")
        : "not read",
      onRoom,
    ],
  ];
  return (
    <Modal title="On the bench" onClose={onClose}>
      {rows.map(([label, value, go]) => (
        <button key={label} type="button" className="button mb-2 w-full justify-between" onClick={go}>
          <span className="text-body text-ink-2">{label}</span> {value}
        </button>
      ))}
      <button type="button" className="button button-main w-full" onClick={onFind}>
        Another setup
      </button>
    </Modal>
  );
}

type BlockProps = {
  setup: Schemas["SetupOut"];
  onPick: (part: Pickable) => void;
  onRoom: () => void;
  onParts: () => void;
};

function SetupBlock({ setup, onPick, onRoom, onParts }: BlockProps) {
  const room = useRoom();
  const cell = (label: string, value: string, detail: string, part: Pickable) => ({
    label,
    value,
    detail,
    keyHint: String(PARTS.indexOf(part) + 1),
    onPress: () => onPick(part),
  });
  return (
    <TitleBlock
      folded={setup.title}
      onFolded={onParts}
      cells={[
        cell("Machine", setup.machine, `${setup.hotend}, ${setup.hotend_detail}`, "machine"),
        cell("Nozzle", setup.nozzle, "bore in mm, material", "nozzle"),
        cell("Surface", setup.surface, setup.surface_detail, "surface"),
        { ...cell("Filament", setup.filament, setup.filament_detail, "filament"), wide: true },
        cell("Tuned for", setup.purpose_name, "sways choices, no measured value", "purpose"),
        {
          label: "Room",
          value: room.data?.temperature ? `${room.data.temperature} °C` : "not read",
          detail: room.data?.detail ?? "",
          keyHint: "6",
          onPress: onRoom,
        },
      ]}
    />
  );
}
