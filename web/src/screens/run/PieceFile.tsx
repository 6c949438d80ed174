import { useState } from "react";
import { Link } from "react-router";
import { answer, api, type Schemas } from "../../api/client";
import { saveFile } from "../../shell/saveFile";

/** The file of a run: take it to the machine, or look at it layer by layer. */
export function PieceFile({ run, drawn }: { run: Schemas["RunOut"]; drawn?: boolean }) {
  const [trouble, setTrouble] = useState("");
  const take = async (pad: boolean) => {
    try {
      const text = await answer(
        api.GET("/api/v1/runs/{run_id}/file", {
          params: { path: { run_id: run.id }, query: { pad } },
          parseAs: "text",
        }),
      );
      saveFile(pad ? `pad-${run.file_name}` : run.file_name, text as string);
      setTrouble("");
    } catch (error) {
      setTrouble((error as Schemas["ProblemOut"]).detail);
    }
  };
  const takeBody = async (form: "stl" | "3mf") => {
    try {
      const content = await answer(
        api.GET("/api/v1/runs/{run_id}/body", {
          params: { path: { run_id: run.id }, query: { form } },
          parseAs: "blob",
        }),
      );
      saveFile(`hollow-box-${run.id}.${form}`, content as Blob);
      setTrouble("");
    } catch (error) {
      setTrouble((error as Schemas["ProblemOut"]).detail);
    }
  };
  return (
    <div className="mb-2">
      {run.sliced && <p className="mb-1 text-body">{run.sliced}</p>}
      <div className="flex flex-wrap items-center gap-x-5">
        {run.file_name && (
          <button type="button" className="button" onClick={() => take(false)}>
            Take the file
          </button>
        )}
        {run.sliced && (
          <>
            <button type="button" className="button" onClick={() => takeBody("stl")}>
              Take it as STL
            </button>
            <button type="button" className="button" onClick={() => takeBody("3mf")}>
              as 3MF
            </button>
          </>
        )}
        {run.step === "z_offset" && !drawn && (
          <button type="button" className="link min-h-11 text-body" onClick={() => take(true)}>
            The pad first
          </button>
        )}
        {!drawn && run.piece && run.file_name && (
          <Link className="link flex min-h-11 items-center text-body" to={`/runs/${run.id}/layers`}>
            Look at it
          </Link>
        )}
        {!drawn && run.piece && run.state === "open" && (
          <Link className="link flex min-h-11 items-center text-body" to={`/runs/${run.id}/sheet`}>
            On paper
          </Link>
        )}
      </div>
      {run.piece && (
        <p className="text-small text-ink-2">
          {run.piece.grams}, {run.piece.minutes}
        </p>
      )}
      {trouble && (
        <p role="alert" className="text-care font-semibold text-out">
          {trouble}
        </p>
      )}
    </div>
  );
}
