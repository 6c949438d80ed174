import { useState } from "react";
import type { Schemas } from "../../api/client";
import { readStored, store } from "../../api/storage";
import { useWait } from "../../shell/useWait";
import { WaitButton } from "../../shell/Wait";

type Props = { runId: number; stages: Schemas["MethodOut"]["stages"]; now: string };

/** What is done in turn with a printed piece, in one line, the present one marked; where it cools, how long. */
export function Stages({ runId, stages, now }: Props) {
  const [left, begin] = useWait(`run.${runId}.cool`);
  const printing = now === "print" || now === "file";
  const key = printing && left !== null ? "cool" : now;
  const present = stages.findIndex((stage) => stage.key === key);
  if (present < 0) return null;
  return (
    <ol
      aria-label="Stages"
      className="flex shrink-0 items-center gap-x-1 overflow-hidden border-b border-rule bg-sheet px-3 text-body whitespace-nowrap desk:px-6"
    >
      {stages.map((stage, index) => (
        <li
          key={stage.key}
          aria-current={index === present ? "step" : undefined}
          className={`min-h-8 items-center ${index === present || index === present + 1 ? "flex" : "hidden desk:flex"} ${index === present ? "font-bold" : "text-ink-2"} ${index < present ? "line-through decoration-1" : ""}`}
        >
          {index > 0 && <span aria-hidden className="mr-1 inline-block h-px w-6 bg-ink-3" />}
          <span className={index === present ? "border-b-3 border-mark px-1" : "px-1"}>{stage.name}</span>
          {stage.wait_s > 0 && printing && index <= present + 1 && (
            <WaitButton
              left={left}
              seconds={stage.wait_s}
              begin={begin}
              className="link min-h-11 px-1 font-semibold desk:min-h-8"
            />
          )}
        </li>
      ))}
    </ol>
  );
}

/** The stage a run is in; whether its file was taken is known to this page only. */
export function stageOf(run: Schemas["RunOut"], fileTaken: boolean): string {
  if (run.state !== "open") return "";
  if (run.result) return "decide";
  if (run.readings.some((reading) => reading.struck === null)) return "read";
  return fileTaken ? "print" : "file";
}

/** Whether the file of a run was taken in this browser, and what is called when it is. */
export function useFileTaken(runId: number): readonly [boolean, () => void] {
  const key = `ubrex.taken.${runId}`;
  const [taken, setTaken] = useState(() => readStored(key) !== null);
  const take = () => {
    store(key, "yes");
    setTaken(true);
  };
  return [taken, take];
}
