import { Radio, RadioGroup } from "@headlessui/react";
import { useState } from "react";
import { useNavigate } from "react-router";
import { answer, api, editHeaders, type Schemas, writeHeaders } from "../../api/client";
import { useMethod } from "../../api/queries";
import { Curve } from "../../instrument/Curve";
import { KeyHint } from "../../instrument/KeyHint";
import { TitleBlock } from "../../instrument/TitleBlock";
import type { KeyAction } from "../../shell/keys";
import { useOutbox } from "../../shell/OutboxProvider";
import { Page } from "../../shell/Page";
import { useWrite } from "../../shell/useWrite";
import { ActionLinks } from "../run/ActionLinks";
import { type Action, type Doers, keysOf } from "../run/actions";
import { DecideDialog } from "../run/DecideDialog";
import { LeaveDialog } from "../run/LeaveDialog";
import { NotPlaced } from "../run/NotPlaced";
import { PieceFile } from "../run/PieceFile";
import { Stages, stageOf, useFileTaken } from "../run/Stages";
import { PhoneBand } from "./PhoneBand";
import { PhotosDialog } from "./PhotosDialog";
import { PickPanel } from "./PickPanel";
import { ScalePanel } from "./ScalePanel";
import { SwapDialog, VetoDialog } from "./TowerDialogs";
import { TowerGrid } from "./TowerGrid";
import { useTower } from "./useTower";

type Props = { run: Schemas["RunOut"]; tower: Schemas["TowerOut"] };
type Sheet = "apply" | "keep" | "leave" | "veto" | "swap" | "photos" | null;

const PURPOSE_KEYS: Record<Schemas["Purpose"], string> = {
  everyday: "E",
  strength: "T",
  looks: "L",
  fit: "F",
  lightness: "G",
};
const TALL = 7;
const OTHERS: readonly Action[] = ["take_back", "band_out", "photos", "swap", "leave"];

/** Rating a tower: one key a cell, the drawing made from it, and what it says as soon as it can. */
export function TowerRun({ run, tower }: Props) {
  const navigate = useNavigate();
  const [sheet, setSheet] = useState<Sheet>(null);
  const hand = useTower(run, tower);
  const method = useMethod(run.id);
  const [fileTaken, takeFile] = useFileTaken(run.id);
  const outbox = useOutbox();
  // What a tower is rated for depends on nothing that was seen: ratings still on their way are no reason to refuse it.
  const purpose = useWrite<Schemas["Purpose"], unknown>(async (chosen) => {
    await outbox.flush();
    const path = { run_id: run.id };
    const now = await answer(api.GET("/api/v1/runs/{run_id}", { params: { path } }));
    const header = editHeaders(now.version);
    return answer(
      api.PATCH("/api/v1/runs/{run_id}", { params: { path, header }, body: { purpose: chosen } }),
    );
  });
  const undo = useWrite(async () => {
    await outbox.flush();
    return answer(
      api.POST("/api/v1/runs/{run_id}/taken-back", {
        params: { path: { run_id: run.id }, header: writeHeaders() },
      }),
    );
  });
  const band = tower.bands.find((row) => row.index === hand.at?.band) ?? tower.bands[0];
  const live = run.readings.filter((row) => row.struck === null).length;
  const close = () => setSheet(null);
  const doers: Doers = {
    take_back: () => undo.mutate(undefined),
    band_out: () => setSheet("veto"),
    apply: () => setSheet("apply"),
    keep: () => setSheet("keep"),
    photos: () => setSheet("photos"),
    swap: () => setSheet("swap"),
    leave: () => setSheet("leave"),
  };
  const step = (rows: number, columns: number) => () => hand.happen({ kind: "step", rows, columns });
  const rating: KeyAction[] = [
    { key: "0", label: "to 4: rate", run: () => hand.happen({ kind: "digit", figure: 0 }) },
    ...[1, 2, 3, 4, 5, 6, 7, 8, 9].map((figure) => ({
      key: String(figure),
      label: `rate ${figure}`,
      run: () => hand.happen({ kind: "digit", figure }),
      quiet: true,
    })),
    { key: "Enter", label: "as above", run: () => hand.happen({ kind: "enter" }) },
    { key: "Backspace", label: "clear", run: () => hand.happen({ kind: "clear" }) },
    { key: "ArrowUp", label: "band above", run: step(-1, 0), quiet: true },
    { key: "ArrowDown", label: "band below", run: step(1, 0), quiet: true },
    { key: "ArrowLeft", label: "criterion before", run: step(0, -1), quiet: true },
    { key: "ArrowRight", label: "next criterion", run: step(0, 1), quiet: true },
    ...tower.purposes.map((row) => ({
      key: PURPOSE_KEYS[row.purpose],
      label: row.name.toLowerCase(),
      run: () => purpose.mutate(row.purpose),
      quiet: true,
    })),
  ];
  const keys = [...rating, ...keysOf(run.actions, doers, rating)];
  return (
    <Page
      tab="Runs"
      name={`${run.name}, run ${run.id}`}
      keys={keys}
      aside={run.setup.title}
      back="/"
      title={
        <TitleBlock
          folded={`Run ${run.id}, ${run.name}: ${tower.left}`}
          cells={[
            { label: `Run ${run.id}, ${run.setup.machine}`, value: run.name, detail: run.method_name },
            ...run.cells,
            {
              label: "Ratings",
              value: `${live} in`,
              detail: hand.notSent ? `${hand.notSent} not sent yet` : tower.left,
            },
          ]}
        />
      }
    >
      <h1 className="sr-only">
        {run.name}, {run.method_name}
      </h1>
      <Stages runId={run.id} stages={method.data?.stages ?? []} now={stageOf(run, fileTaken)} />
      <div
        className="flex flex-1 flex-col desk:min-h-0 desk:flex-row desk:overflow-hidden"
        style={{ "--row": tower.bands.length > TALL ? "50px" : "60px" } as React.CSSProperties}
      >
        <div className="hidden min-w-0 flex-1 desk:block desk:overflow-y-auto">
          {tower.purposes.length > 0 && (
            <Purposes tower={tower} onChoose={(chosen) => purpose.mutate(chosen)} />
          )}
          <p className="px-3 pt-1 text-small leading-4 text-ink-2">{tower.facts.join("; ")}</p>
          <div className="px-3 pb-4">
            <TowerGrid tower={tower} hand={hand} />
            {run.curve && (
              <details className="mt-2">
                <summary className="min-h-8 cursor-pointer text-body">As a curve</summary>
                <Curve curve={run.curve} />
              </details>
            )}
            {run.finding && (
              <p role="status" className="mt-2 text-care font-semibold text-stale">
                {run.finding}
              </p>
            )}
            <NotPlaced
              parcels={hand.notPlaced}
              asked={null}
              onAgain={(parcel) => hand.drop(parcel.key)}
              onDrop={(parcel) => hand.drop(parcel.key)}
            />
            <div className="mt-3 flex flex-wrap items-start gap-x-6 gap-y-1">
              {method.data && <PieceFile run={run} method={method.data} onTaken={takeFile} />}
              <ActionLinks actions={run.actions} doers={doers} shown={OTHERS} />
            </div>
          </div>
        </div>
        {band && (
          <div className="desk:hidden">
            <PhoneBand run={run} tower={tower} hand={hand} band={band} onVeto={() => setSheet("veto")} />
          </div>
        )}
        <aside className="shrink-0 border-rule bg-well desk:w-76 desk:overflow-y-auto desk:border-l wide:w-90">
          <PickPanel
            run={run}
            tower={tower}
            onApply={() => setSheet("apply")}
            onKeep={() => setSheet("keep")}
          />
          <div className="hidden border-t-2 border-ink px-5 py-3 desk:block">
            {band && <ScalePanel hand={hand} bandText={band.text} unit={tower.unit} />}
          </div>
          <div className="px-3 pb-4 desk:hidden">
            {run.finding && <p className="text-care font-semibold text-stale">{run.finding}</p>}
            <NotPlaced
              parcels={hand.notPlaced}
              asked={null}
              onAgain={(parcel) => hand.drop(parcel.key)}
              onDrop={(parcel) => hand.drop(parcel.key)}
            />
            {tower.purposes.length > 0 && (
              <Purposes tower={tower} onChoose={(chosen) => purpose.mutate(chosen)} />
            )}
            {method.data && <PieceFile run={run} method={method.data} onTaken={takeFile} />}
            <ActionLinks actions={run.actions} doers={doers} shown={OTHERS} />
          </div>
        </aside>
      </div>
      {(sheet === "apply" || sheet === "keep") && run.result && (
        <DecideDialog run={run} result={run.result} action={sheet} onClose={close} />
      )}
      {sheet === "leave" && <LeaveDialog run={run} onClose={close} onLeft={() => navigate("/")} />}
      {sheet === "veto" && band && <VetoDialog tower={tower} band={band.index} hand={hand} onClose={close} />}
      {sheet === "swap" && <SwapDialog run={run} tower={tower} onClose={close} />}
      {sheet === "photos" && <PhotosDialog run={run} band={hand.at?.band} onClose={close} />}
    </Page>
  );
}

type PurposesProps = { tower: Schemas["TowerOut"]; onChoose: (purpose: Schemas["Purpose"]) => void };

/** What the part is for: it moves how much each criterion counts. */
function Purposes({ tower, onChoose }: PurposesProps) {
  const chosen = tower.purposes.find((row) => row.purpose === tower.purpose);
  return (
    <div className="flex flex-wrap items-center gap-x-4 gap-y-1 border-b border-rule bg-sheet px-3 py-1.5">
      <span className="text-small text-ink-2">Rated for</span>
      <RadioGroup
        value={tower.purpose ?? undefined}
        onChange={onChoose}
        aria-label="Rated for"
        className="flex flex-wrap border border-ink"
      >
        {tower.purposes.map((row) => (
          <Radio
            as="div"
            key={row.purpose}
            value={row.purpose}
            className="flex min-h-11 cursor-pointer items-center gap-2 border-r border-rule px-4 text-body font-semibold last:border-r-0 data-checked:bg-ink data-checked:text-sheet desk:min-h-9"
          >
            {row.name} <KeyHint>{PURPOSE_KEYS[row.purpose]}</KeyHint>
          </Radio>
        ))}
      </RadioGroup>
      <span className="text-small text-ink-2">{chosen?.why}</span>
    </div>
  );
}
