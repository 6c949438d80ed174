import { answer, api, type Schemas, writeHeaders } from "../../api/client";
import { Modal } from "../../shell/Modal";
import { useWrite } from "../../shell/useWrite";

type Props = { setup: Schemas["SetupOut"]; onDone: () => void; onClose: () => void };

/** Take a setup out of use; what is recorded on it stays. */
export function RemoveDialog({ setup, onDone, onClose }: Props) {
  const remove = useWrite(
    () =>
      answer(
        api.POST("/api/v1/setups/{setup_id}/removal", {
          params: { path: { setup_id: setup.id }, header: writeHeaders(setup.version) },
        }),
      ),
    onDone,
  );
  return (
    <Modal title="Take this setup out of use?" onClose={onClose}>
      <p className="mb-4 text-reason">
        {setup.title}. Its runs and revisions are kept; nothing new can be measured on it.
      </p>
      {remove.error && (
        <p role="alert" className="mb-3 text-care font-semibold text-out">
          {remove.error.detail}
        </p>
      )}
      <div className="flex gap-3">
        <button type="button" className="button button-main" onClick={() => remove.mutate(undefined)}>
          Take out of use
        </button>
        <button type="button" autoFocus className="button" onClick={onClose}>
          Leave it in use
        </button>
      </div>
    </Modal>
  );
}
