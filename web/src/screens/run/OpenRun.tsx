import { useRef, useState } from "react";
import { useNavigate } from "react-router";
import { answer, api, editHeaders, type Schemas, writeHeaders } from "../../api/client";
import { useMethod } from "../../api/queries";
import { Curve } from "../../instrument/Curve";
import { EntryField, NumberPad } from "../../instrument/EntryField";
import { GaugeStrip } from "../../instrument/GaugeStrip";
import { KeyHint } from "../../instrument/KeyHint";
import { isPhone } from "../../shell/isPhone";
import { Page } from "../../shell/Page";
import { useWrite } from "../../shell/useWrite";
import { FoamBands } from "../tower/FoamBands";
import { PhotosDialog } from "../tower/PhotosDialog";
import { ActionLinks } from "./ActionLinks";
import { type Doers, keyOf, keysOf } from "./actions";
import { DecideDialog } from "./DecideDialog";
import { InstrumentDialog } from "./InstrumentDialog";
import { LeaveDialog } from "./LeaveDialog";
import { MethodPanel } from "./MethodPanel";
import { NotPlaced } from "./NotPlaced";
import { PasteDialog } from "./PasteDialog";
import { Readings } from "./Readings";
import { RunTitle } from "./RunTitle";
import { SoftDialog } from "./SoftDialog";
import { Stages, stageOf, useFileTaken } from "./Stages";
import { StrikeDialog } from "./StrikeDialog";
import { useEntry } from "./useEntry";
import { VerdictBar } from "./VerdictBar";
import { WalkedDialog } from "./WalkedDialog";

type Props = { run: Schemas["RunOut"]; onEarly: () => void };
type Sheet =
  | "apply"
  | "keep"
  | "strike"
  | "instrument"
  | "leave"
  | "paste"
  | "veto"
  | "walked"
  | "soft"
  | "photos"
  | null;

/** Measuring: strip, entry, readings, verdict. Everything by keyboard, or by thumb. */
export function OpenRun({ run, onEarly }: Props) {
  const navigate = useNavigate();
  const [sheet, setSheet] = useState<Sheet>(null);
  const entry = useEntry(run);
  const method = useMethod(run.id).data;
  const rounds = method?.rounds ?? [];
  const [fileTaken, takeFile] = useFileTaken(run.id);
  const live = run.readings.filter((reading) => reading.struck === null);
  const path = { run_id: run.id };
  const field = useRef<HTMLInputElement>(null);
  const [listed, setListed] = useState<number[]>([]);
  const undo = useWrite((readings: number[]) =>
    answer(
      api.POST("/api/v1/runs/{run_id}/taken-back", {
        params: { path, header: writeHeaders() },
        body: { readings },
      }),
    ),
  );
  const skip = useWrite(() =>
    answer(
      api.PATCH("/api/v1/runs/{run_id}", {
        params: { path, header: editHeaders(run.version) },
        body: { skip: entry.asked?.place ?? "" },
      }),
    ),
  );
  const box = useWrite((which: "old" | "new") =>
    answer(
      api.PATCH("/api/v1/runs/{run_id}", {
        params: { path, header: editHeaders(run.version) },
        body: { box: which },
      }),
    ),
  );
  const { result, body, actions } = run;
  const last = live.at(-1);
  // What is taken back is what the screen shows as last: first what was not sent yet, then a list as it came.
  const unsent = entry.waiting.at(-1);
  const together = listed.filter((id) => live.some((reading) => reading.id === id));
  const ofList = together.length > 1 && last !== undefined && together.includes(last.id);
  const lastShown = unsent?.typed ?? (ofList ? `the list of ${together.length}` : last?.text);
  // Two quick presses take back two: the second comes before the first is off the screen.
  const goingBack = useRef(new Set<number>());
  const takeBack = () => {
    const standing = live.filter((reading) => !goingBack.current.has(reading.id));
    const newest = standing.at(-1);
    if (unsent) entry.withdraw(unsent);
    else if (newest) {
      const named = ofList && newest === last ? together : [newest.id];
      for (const id of named) goingBack.current.add(id);
      undo.mutate(named, { onError: () => goingBack.current.clear() });
    }
    field.current?.focus();
  };
  const take = () => {
    void entry.take();
    field.current?.focus();
  };
  const doers: Doers = {
    take,
    take_back: takeBack,
    band_out: () => setSheet("veto"),
    strike: () => setSheet("strike"),
    skip: () => skip.mutate(undefined),
    instrument: () => setSheet("instrument"),
    early: onEarly,
    old_box: () => box.mutate("old"),
    new_box: () => box.mutate("new"),
    apply: () => setSheet("apply"),
    keep: () => setSheet("keep"),
    walked: () => setSheet("walked"),
    soft: () => setSheet("soft"),
    list: () => setSheet("paste"),
    photos: () => setSheet("photos"),
    leave: () => setSheet("leave"),
  };
  const asked = run.entry?.asked ?? 0;
  const reads = entry.asked?.reads ?? run.entry?.reads ?? "";
  const unit = run.entry?.unit ?? "";
  const number = (run.entry?.next ?? live.length + 1) + entry.waiting.length;
  const toGo = asked - live.length;
  const takeText = entry.doubt?.confirmable ? "Take as typed" : "Take";
  const press = (key: string) => entry.change(key === "⌫" ? entry.typed.slice(0, -1) : entry.typed + key);
  return (
    <Page
      tab="Runs"
      name={`${run.name}, run ${run.id}`}
      keys={keysOf(actions, doers)}
      aside={run.setup.title}
      back="/"
      title={<RunTitle run={run} onInstrument={doers.instrument} />}
    >
      <Stages runId={run.id} stages={method?.stages ?? []} now={stageOf(run, fileTaken)} />
      {body.kind === "measured" && (
        <div className="shrink-0 border-b border-rule bg-well px-3 py-2 desk:px-6 desk:py-1">
          <GaugeStrip strip={body.strip} size="hero" />
        </div>
      )}
      <div className="order-3 grid flex-1 desk:order-none desk:min-h-0 desk:overflow-hidden desk:grid-cols-[17.25rem_minmax(0,1fr)_18.5rem] wide:grid-cols-[23rem_minmax(0,1fr)_25rem]">
        <MethodPanel run={run} spots={entry.spots} onTaken={takeFile} />
        <section
          aria-label="Entry"
          className="order-1 flex min-w-0 flex-col px-3 py-3 desk:order-none desk:overflow-y-auto desk:px-7"
        >
          <div className="mb-2 flex items-center gap-3">
            <span className="flex size-11 shrink-0 items-center justify-center bg-press text-cell font-bold text-on-press">
              {number}
            </span>
            <div className="min-w-0">
              <h1 className="text-name desk:text-cell">
                Reading {number}: {reads}
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
            onEnter={take}
            fieldRef={field}
            label={`Reading ${number}, ${reads}, ${unit}`}
            unit={unit}
            error={entry.doubt?.message}
            errorId="entry-said"
            ownPad={isPhone()}
            judged={result !== null}
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
              onClick={take}
            >
              {takeText} <KeyHint onBlue>Enter</KeyHint>
            </button>
            {entry.doubt?.suggested && (
              <button
                type="button"
                className="button min-h-15"
                onClick={() => {
                  entry.takeSuggested();
                  field.current?.focus();
                }}
              >
                Take {entry.doubt.suggested}
              </button>
            )}
            {lastShown && (
              <button type="button" className="button hidden min-h-15 desk:inline-flex" onClick={takeBack}>
                Take back {lastShown} <KeyHint>{keyOf("take_back")}</KeyHint>
              </button>
            )}
          </div>
          <div className="mt-1 flex gap-x-4 overflow-x-auto whitespace-nowrap desk:flex-wrap desk:gap-x-5">
            {lastShown && (
              <button type="button" className="link min-h-11 text-body desk:hidden" onClick={takeBack}>
                Take back {lastShown}
              </button>
            )}
            <ActionLinks
              actions={actions}
              doers={doers}
              shown={["strike", "skip", "band_out", "instrument", "soft", "list", "photos", "leave"]}
            />
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
          <NotPlaced
            parcels={entry.notPlaced}
            asked={entry.asked}
            onAgain={entry.takeAgain}
            onDrop={entry.drop}
          />
          <div className="-mx-3 mt-2 desk:hidden">
            <NumberPad onPress={press} onTake={take} takeText={takeText} />
          </div>
        </section>
        {body.kind === "rated" ? (
          <FoamBands
            run={run}
            tower={body.tower}
            band={sheet === "veto" ? (body.tower.waiting[0]?.band ?? 0) : null}
            onClose={() => setSheet(null)}
          />
        ) : (
          <Readings run={run} waiting={entry.waiting}>
            <ActionLinks actions={actions} doers={doers} shown={["walked"]} />
            {run.curve && <Curve curve={run.curve} />}
          </Readings>
        )}
      </div>
      <div className="order-2 shrink-0 desk:order-none">
        <VerdictBar run={run} doers={doers} />
      </div>
      {(sheet === "apply" || sheet === "keep") && result && (
        <DecideDialog run={run} result={result} action={sheet} onClose={() => setSheet(null)} />
      )}
      {sheet === "strike" && <StrikeDialog run={run} onClose={() => setSheet(null)} />}
      {sheet === "instrument" && <InstrumentDialog run={run} onClose={() => setSheet(null)} />}
      {sheet === "paste" && <PasteDialog run={run} onTaken={setListed} onClose={() => setSheet(null)} />}
      {sheet === "walked" && <WalkedDialog run={run} rounds={rounds} onClose={() => setSheet(null)} />}
      {sheet === "soft" && body.kind === "measured" && (
        <SoftDialog run={run} places={body.softly} onClose={() => setSheet(null)} />
      )}
      {sheet === "photos" && <PhotosDialog run={run} onClose={() => setSheet(null)} />}
      {sheet === "leave" && (
        <LeaveDialog run={run} onClose={() => setSheet(null)} onLeft={() => navigate("/")} />
      )}
    </Page>
  );
}
