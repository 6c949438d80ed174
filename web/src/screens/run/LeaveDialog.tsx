import { answer, api, type Schemas, writeHeaders } from "../../api/client";
import { KeyHint } from "../../instrument/KeyHint";
import { Modal } from "../../shell/Modal";
import { useWrite } from "../../shell/useWrite";

type Props = { run: Schemas["RunOut"]; onClose: () => void; onLeft: () => void };

/** Leave a run undecided. */
export function LeaveDialog({ run, onClose, onLeft }: Props) {
  const leave = useWrite(
    () =>
      answer(
        api.POST("/api/v1/runs/{run_id}/leave", {
          params: { path: { run_id: run.id }, header: writeHeaders(run.version) },
        }),
      ),
    onLeft,
  );
  return (
    <Modal title={`Leave run ${run.id}?`} onClose={onClose}>
      <p className="mb-3 text-reason">
        Its readings stay on record and count for nothing. To go on later, close this screen instead: an open
        run waits.
      </p>
      {leave.error && (
        <p role="alert" className="mb-3 text-care font-semibold text-out">
          {leave.error.detail}
        </p>
      )}
      <div className="flex gap-3">
        <button
          type="button"
          autoFocus
          className="button button-main"
          onClick={() => leave.mutate(undefined)}
        >
          Leave it <KeyHint onBlue>Enter</KeyHint>
        </button>
        <button type="button" className="button" onClick={onClose}>
          Stay
        </button>
      </div>
    </Modal>
  );
}
