import type { Schemas } from "../../api/client";
import { Wait } from "../../shell/Wait";
import { CopyButton } from "./CopyButton";

type Props = { rows: Schemas["InstructionOut"][]; name: string };

/** What to do at the machine in turn: what to send letter by letter, and how long to wait. ``name``: of its waits. */
export function Instructions({ rows, name }: Props) {
  return (
    <ol className="list-decimal space-y-2 pl-6 text-care">
      {rows.map(({ text, send, wait_s: seconds }) => (
        <li key={text}>
          {text}{" "}
          {send && (
            <>
              <code className="bg-well px-2 py-1 font-sans text-cell font-bold">{send}</code>{" "}
              <CopyButton text={send} />
            </>
          )}
          {seconds > 0 && (
            <Wait
              name={`${name}.${seconds}`}
              seconds={seconds}
              className="link min-h-11 font-semibold desk:min-h-8"
            />
          )}
        </li>
      ))}
    </ol>
  );
}
