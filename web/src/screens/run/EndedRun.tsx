import { useState } from "react";
import { Link, useNavigate } from "react-router";
import { answer, api, editHeaders, type Schemas, writeHeaders } from "../../api/client";
import { Curve } from "../../instrument/Curve";
import { GaugeStrip } from "../../instrument/GaugeStrip";
import { Page } from "../../shell/Page";
import { useWrite } from "../../shell/useWrite";
import { PhotosDialog } from "../tower/PhotosDialog";
import { Further } from "../tower/PickPanel";
import { TowerGrid } from "../tower/TowerGrid";
import { AtTheMachine } from "./AtTheMachine";
import { NotPlaced } from "./NotPlaced";
import { Readings } from "./Readings";
import { RunTitle } from "./RunTitle";
import { useEntry } from "./useEntry";

/** A run that ended: what was decided on what, and what is left to do at the machine. */
export function EndedRun({ run }: { run: Schemas["RunOut"] }) {
  const navigate = useNavigate();
  const [photos, setPhotos] = useState(false);
  const entry = useEntry(run);
  const { body, decision, result } = run;
  const again = useWrite(
    () =>
      answer(
        api.POST("/api/v1/runs/{run_id}/reprints", {
          params: { path: { run_id: run.id }, header: writeHeaders() },
        }),
      ),
    (made) => navigate(`/runs/${made.id}`),
  );
  return (
    <Page
      tab="Runs"
      name={`${run.name}, run ${run.id}`}
      aside={run.setup.title}
      back="/"
      title={<RunTitle run={run} />}
      keys={[{ key: "H", label: "history", run: () => navigate("/profiles") }]}
    >
      {body.kind === "measured" && (
        <div className="shrink-0 border-b border-rule bg-well px-3 py-3 desk:px-6">
          <GaugeStrip strip={body.strip} size="hero" />
        </div>
      )}
      <div className="grid flex-1 desk:grid-cols-[minmax(0,1fr)_18.5rem] wide:grid-cols-[minmax(0,1fr)_25rem]">
        <div className="min-w-0 px-3 py-4 desk:px-6">
          <h1 className="text-verdict">{decision ? decision.sentence : "Left undecided."}</h1>
          {result && (
            <p className="mt-1 text-reason text-ink-2">
              <strong className="text-ink">{result.title}.</strong>{" "}
              {[result.sentence, ...result.remarks].join(" ")}
            </p>
          )}
          {result && <Further run={run} result={result} />}
          {decision?.note && (
            <p className="note mt-1">
              {decision.note} <span className="text-ink-2">{decision.person}</span>
            </p>
          )}
          {run.setup.removed && (
            <p className="mt-2 text-reason text-stale">This setup was removed since. The record is kept.</p>
          )}
          {decision?.to_set.map((row) =>
            row.instructions.length > 0 || row.read_back ? (
              <AtTheMachine key={row.value.id} setupId={run.setup.id} row={row} />
            ) : (
              <p key={row.value.id} className="mt-2 text-reason">
                {row.superseded || row.sentence}
              </p>
            ),
          )}
          {decision?.back && <TakeBack setupId={run.setup.id} back={decision.back} />}
          {run.reprint && (
            <div className="mt-4">
              <h2 className="text-cell">Print it again</h2>
              <p className="mb-2 text-reason">{run.reprint.sentence}</p>
              <button type="button" className="button button-main" onClick={() => again.mutate(undefined)}>
                {run.reprint.label}
              </button>
              {again.error && (
                <p role="alert" className="mt-2 text-care font-semibold text-out">
                  {again.error.detail}
                </p>
              )}
            </div>
          )}
          {run.curve && (
            <div className="mt-4 max-w-180">
              <Curve curve={run.curve} />
            </div>
          )}
          {body.kind === "rated" && (
            <div className="mt-4 overflow-x-auto" style={{ "--row": "44px" } as React.CSSProperties}>
              <TowerGrid tower={body.tower} />
              <button type="button" className="link min-h-11 text-body" onClick={() => setPhotos(true)}>
                Photos
              </button>
            </div>
          )}
          <NotPlaced
            parcels={entry.notPlaced}
            asked={entry.asked}
            onAgain={entry.takeAgain}
            onDrop={entry.drop}
          />
        </div>
        <div className="order-3 min-w-0 border-rule desk:order-none desk:border-l [&>section]:border-l-0">
          <nav aria-label="On from here" className="flex flex-wrap gap-3 px-3 pt-3 desk:px-5">
            <Link to="/" className="button">
              To the bench
            </Link>
            <Link to="/profiles" className="button">
              History
            </Link>
          </nav>
          <Readings run={run} waiting={[]} />
        </div>
      </div>
      {photos && <PhotosDialog run={run} onClose={() => setPhotos(false)} />}
    </Page>
  );
}

type BackProps = { setupId: number; back: NonNullable<Schemas["DecisionOut"]["back"]> };

/** A decision that was not meant: the values of before are set again, and both stay on record. */
function TakeBack({ setupId, back }: BackProps) {
  const restore = useWrite(() =>
    answer(
      api.POST("/api/v1/setups/{setup_id}/restorations", {
        params: { path: { setup_id: setupId }, header: { ...editHeaders(back.newest) } },
        body: { number: back.number, note: back.note },
      }),
    ),
  );
  return (
    <div className="mt-2">
      <button type="button" className="link min-h-11 text-body" onClick={() => restore.mutate(undefined)}>
        Take it back: set what stood before, of revision {back.number}
      </button>
      {restore.error && (
        <p role="alert" className="text-care font-semibold text-out">
          {restore.error.detail}
        </p>
      )}
    </div>
  );
}
