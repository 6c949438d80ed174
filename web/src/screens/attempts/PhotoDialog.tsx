import { answer, api, problemAt, type Schemas, writeHeaders } from "../../api/client";
import { sendPhoto } from "../../api/photos";
import { Modal } from "../../shell/Modal";
import { useWrite } from "../../shell/useWrite";

type Props = { attempt: Schemas["AttemptOut"]; onClose: () => void };

/** Photographs of one attempt. */
export function PhotoDialog({ attempt, onClose }: Props) {
  const add = useWrite((file: File) => sendPhoto(attempt.id, file));
  const remove = useWrite((id: number) =>
    answer(
      api.POST("/api/v1/print-photos/{photo_id}/removal", {
        params: { path: { photo_id: id }, header: writeHeaders() },
      }),
    ),
  );
  const said = problemAt(add.error, "photo")?.message ?? add.error?.detail;
  return (
    <Modal title={`Photos of attempt ${attempt.number}`} onClose={onClose} wide>
      <label className="button button-main inline-flex">
        Choose a photo
        <input
          type="file"
          accept="image/png,image/jpeg,image/webp"
          className="sr-only"
          onChange={(event) => {
            const file = event.target.files?.[0];
            if (file) add.mutate(file);
            event.target.value = "";
          }}
        />
      </label>
      {said && (
        <p role="alert" className="text-care font-semibold text-out">
          {said}
        </p>
      )}
      <ul className="mt-3 space-y-3">
        {attempt.photos.map((photo) => (
          <li key={photo.id}>
            <img
              src={`/api/v1/print-photos/${photo.id}`}
              alt={photo.note || `Attempt ${attempt.number}`}
              width={photo.width}
              height={photo.height}
              className="h-auto w-full border border-edge"
            />
            <p className="text-small text-ink-2">
              {photo.person}
              <button type="button" className="link ml-2 min-h-11" onClick={() => remove.mutate(photo.id)}>
                Take it off
              </button>
            </p>
          </li>
        ))}
      </ul>
    </Modal>
  );
}
