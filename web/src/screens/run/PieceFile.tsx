import { useState } from "react";
import { Link } from "react-router";
import { answer, api, isProblem, type Schemas, UNREACHABLE } from "../../api/client";
import { saveFile } from "../../shell/saveFile";

type File = Schemas["MethodOut"]["files"][number];
type Props = { run: Schemas["RunOut"]; method: Schemas["MethodOut"]; drawn?: boolean; onTaken?: () => void };

/** The files of a run: take them to the machine, or look at what is printed layer by layer. */
export function PieceFile({ run, method, drawn, onTaken }: Props) {
  const [trouble, setTrouble] = useState("");
  const { files, piece } = method;
  const take = async (file: File) => {
    try {
      const content = await answer(
        api.GET("/api/v1/runs/{run_id}/files/{key}", {
          params: { path: { run_id: run.id, key: file.key } },
          parseAs: "blob",
        }),
      );
      saveFile(file.name, content as Blob);
      onTaken?.();
      setTrouble("");
    } catch (error) {
      setTrouble(isProblem(error) ? error.detail : UNREACHABLE.detail);
    }
  };
  if (files.length === 0 && !piece) return null;
  return (
    <div className="mb-2">
      {method.body_note && <p className="mb-1 text-body">{method.body_note}</p>}
      <div className="flex flex-wrap items-center gap-x-5 gap-y-1">
        {files.map((file) => (
          <button key={file.key} type="button" className="button" onClick={() => take(file)}>
            {file.label}
          </button>
        ))}
        {!drawn && files.some((file) => file.drawn) && (
          <Link className="link flex min-h-11 items-center text-body" to={`/runs/${run.id}/layers`}>
            Look at it
          </Link>
        )}
        {!drawn && piece && run.state === "open" && (
          <Link className="link flex min-h-11 items-center text-body" to={`/runs/${run.id}/sheet`}>
            On paper
          </Link>
        )}
      </div>
      {piece && (
        <p className="text-small text-ink-2">
          {piece.grams}, {piece.minutes}
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
