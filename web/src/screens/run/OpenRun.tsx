import { useState } from "react";
import { useNavigate } from "react-router";
import { answer, api, editHeaders, type Schemas, writeHeaders } from "../../api/client";
import { EntryField, NumberPad } from "../../instrument/EntryField";
import { GaugeStrip } from "../../instrument/GaugeStrip";
import { KeyHint } from "../../instrument/KeyHint";
import { isPhone } from "../../shell/isPhone";
import type { KeyAction } from "../../shell/keys";
import { Page } from "../../shell/Page";
import { useWrite } from "../../shell/useWrite";
import { FoamBands } from "../tower/FoamBands";
import { DecideDialog } from "./DecideDialog";
import { InstrumentDialog } from "./InstrumentDialog";
import { LeaveDialog } from "./LeaveDialog";
import { MethodPanel } from "./MethodPanel";
import { NotPlaced } from "./NotPlaced";
import { PasteDialog } from "./PasteDialog";
import { Readings } from "./Readings";
import { RunTitle } from "./RunScreen";
import { StrikeDialog } from "./StrikeDialog";
import { useEntry } from "./useEntry";
import { VerdictBar } from "./VerdictBar";
import { WalkedDialog } from "./WalkedDialog";

type Props = { run: Schemas["RunOut"]; onEarly: () => void };
type Sheet = "apply" | "keep" | "strike" | "instrument" | "leave" | "paste" | "veto" | "walked" | null;

/** Measuring: strip, entry, readings, verdict. Everything by keyboard, or by thumb. */
export function OpenRun({ run, onEarly }: Props) {
  const navigate = useNavigate();
  const [sheet, setSheet] = useState<Sheet>(null);
  const entry = useEntry(run.id);
  const live = run.readings.filter((reading) => reading.struck === null);
  const path = { run_id: run.id };
  const undo = useWrite(() =>
    answer(api.POST("/api/v1/runs/{run_id}/taken-back", { params: { path, header: writeHeaders() } })),
  );
  const skip = useWrite(() =>
    answer(
      api.PATCH("/api/v1/runs/{run_id}", {
        params: { path, header: editHeaders(run.version) },
        body: { skip: run.entry.place },
      }),
    ),
  );
  const { result } = run;
  const last = live.at(-1);
  const walls = run.method === "box";
  const few = live.length > 0 && result === null;
  const keys: KeyAction[] = [
    { key: "Enter", label: "take", run: entry.take },
    ...(live.length > 0
      ? [
          { key: "U", label: "take back", run: () => undo.mutate(undefined) },
          { key: run.tower ? "R" : "X", label: "strike out", run: () => setSheet("strike") },
        ]
      : []),
    { key: "Ctrl+Z", label: "take back", run: () => undo.mutate(undefined), quiet: true },
    ...(run.entry.place && run.step !== "z_offset" && run.piece
      ? [{ key: "S", label: "pass it over", run: () => skip.mutate(undefined) }]
      : []),
    ...(run.tower ? [{ key: "X", label: "band out", run: () => setSheet("veto") }] : []),
    { key: "I", label: "other tool", run: () => setSheet("instrument") },
    ...(few ? [{ key: "E", label: "show the result early", run: onEarly }] : []),
    ...(result?.can_apply ? [{ key: "A", label: "apply", run: () => setSheet("apply") }] : []),
    ...(result?.can_keep ? [{ key: "K", label: "keep", run: () => setSheet("keep") }] : []),
    ...(walls && last
      ? [{ key: "W", label: "other order", run: () => setSheet("walked"), quiet: true }]
      : []),
    { key: "V", label: "a list", run: () => setSheet("paste"), quiet: true },
    { key: "L", label: "leave the run", run: () => setSheet("leave") },
  ];
  const toGo = run.entry.asked - live.length;
  const takeText = entry.doubt?.confirmable ? "Take as typed" : "Take";
  const press = (key: string) => entry.change(key === "⌫" ? entry.typed.slice(0, -1) : entry.typed + key);
  return (
    <Page
      tab="Runs"
      keys={keys}
      aside={run.setup.title}
      back="/"
      title={<RunTitle run={run} onInstrument={() => setSheet("instrument")} />}
    >
      {!run.tower && (
        <div className="shrink-0 border-b border-rule bg-well px-3 py-2 desk:px-6 desk:py-3">
          <GaugeStrip strip={run.strip} size="hero" />
        </div>
      )}
      <div className="order-3 grid flex-1 desk:order-none desk:min-h-0 desk:overflow-hidden desk:grid-cols-[17.25rem_minmax(0,1fr)_18.5rem] wide:grid-cols-[23rem_minmax(0,1fr)_25rem]">
        <MethodPanel run={run} />
        <section
          aria-label="Entry"
          className="order-1 flex min-w-0 flex-col px-3 py-3 desk:order-none desk:overflow-y-auto desk:px-7"
        >
          <div className="mb-2 flex items-center gap-3">
            <span className="flex size-11 shrink-0 items-center justify-center bg-press text-cell font-bold text-on-press">
              {run.entry.next + entry.waiting.length}
            </span>
            <div className="min-w-0">
              <h1 className="text-name desk:text-cell">
                Reading {run.entry.next + entry.waiting.length}: {run.entry.reads}
              </h1>
              <p className="text-body text-ink-2">
                <span role="status">
                  {last &&
                    entry.taken === last.text &&
                    `taken ${last.text}${toGo > 0 ? `, ${toGo} to go` : ""}; `}
                </span>
                <span className="hidden desk:inline">Enter takes it</span>
              </p>
            </div>
          </div>
          <EntryField
            value={entry.typed}
            onChange={entry.change}
            onEnter={entry.take}
            label={`Reading ${run.entry.next}, ${run.entry.reads}, ${run.entry.unit}`}
            unit={run.entry.unit}
            error={entry.doubt?.message}
            errorId="entry-said"
            ownPad={isPhone()}
          />
          <div
            id="entry-said"
            aria-live="assertive"
            className="pt-1 text-care desk:min-h-6 font-semibold text-out"
          >
            {entry.doubt && <p>{entry.doubt.message}</p>}
          </div>
          <div className="mt-1 flex flex-wrap gap-3 desk:mt-2">
            <button
              type="button"
              className="button button-main hidden min-h-15 desk:inline-flex"
              onClick={entry.take}
            >
              {takeText} <KeyHint onBlue>Enter</KeyHint>
            </button>
            {entry.doubt?.suggested && (
              <button type="button" className="button min-h-15" onClick={entry.takeSuggested}>
                Take {entry.doubt.suggested}
              </button>
            )}
            {last && (
              <button
                type="button"
                className="button hidden min-h-15 desk:inline-flex"
                onClick={() => undo.mutate(undefined)}
              >
                Take back {last.text} <KeyHint>U</KeyHint>
              </button>
            )}
          </div>
          <div className="mt-1 flex gap-x-4 overflow-x-auto whitespace-nowrap desk:flex-wrap desk:gap-x-5">
            {last && (
              <button
                type="button"
                className="link min-h-11 text-body desk:hidden"
                onClick={() => undo.mutate(undefined)}
              >
                Take back {last.text}
              </button>
            )}
            {last && (
              <button type="button" className="link min-h-11 text-body" onClick={() => setSheet("strike")}>
                Strike out
              </button>
            )}
            {run.entry.place && run.step === "flow" && run.piece && (
              <button
                type="button"
                className="link min-h-11 text-body"
                onClick={() => skip.mutate(undefined)}
              >
                Pass it over
              </button>
            )}
            <button type="button" className="link min-h-11 text-body" onClick={() => setSheet("instrument")}>
              Other tool
            </button>
            <button type="button" className="link min-h-11 text-body" onClick={() => setSheet("paste")}>
              From a list
            </button>
            <button type="button" className="link min-h-11 text-body" onClick={() => setSheet("leave")}>
              Leave
            </button>
          </div>
          {run.finding && (
            <p role="status" className="mt-2 text-care font-semibold text-stale">
              {run.finding}
            </p>
          )}
          {skip.error && (
            <p role="alert" className="mt-2 text-care font-semibold text-out">
              {skip.error.detail}
            </p>
          )}
          {undo.error && (
            <p role="alert" className="mt-2 text-care font-semibold text-out">
              {undo.error.detail}
            </p>
          )}
          <NotPlaced parcels={entry.notPlaced} onAgain={entry.takeAgain} onDrop={entry.drop} />
          <div className="-mx-3 mt-2 desk:hidden">
            <NumberPad onPress={press} onTake={entry.take} takeText={takeText} />
          </div>
        </section>
        {run.tower ? (
          <FoamBands
            run={run}
            tower={run.tower}
            band={sheet === "veto" ? (run.tower.waiting[0]?.band ?? 0) : null}
            onClose={() => setSheet(null)}
          />
        ) : (
          <Readings
            run={run}
            waiting={entry.waiting}
            onOrder={walls && last ? () => setSheet("walked") : undefined}
          />
        )}
      </div>
      <div className="order-2 shrink-0 desk:order-none">
        <VerdictBar
          run={run}
          few={few}
          onEarly={onEarly}
          onApply={() => setSheet("apply")}
          onKeep={() => setSheet("keep")}
        />
      </div>
      {(sheet === "apply" || sheet === "keep") && result && (
        <DecideDialog run={run} result={result} action={sheet} onClose={() => setSheet(null)} />
      )}
      {sheet === "strike" && <StrikeDialog run={run} onClose={() => setSheet(null)} />}
      {sheet === "instrument" && <InstrumentDialog run={run} onClose={() => setSheet(null)} />}
      {sheet === "paste" && <PasteDialog run={run} onClose={() => setSheet(null)} />}
      {sheet === "walked" && <WalkedDialog run={run} onClose={() => setSheet(null)} />}
      {sheet === "leave" && (
        <LeaveDialog run={run} onClose={() => setSheet(null)} onLeft={() => navigate("/")} />
      )}
    </Page>
  );
}
