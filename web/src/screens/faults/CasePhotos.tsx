import { useRef } from "react";
import { answer, api, newKey, problemAt, type Schemas, writeHeaders } from "../../api/client";
import { useWrite } from "../../shell/useWrite";

type Props = { sheet: Schemas["FaultSheetOut"] };

/** Photographs of a case: for whoever looks at it next, here or elsewhere. */
export function CasePhotos({ sheet }: Props) {
  const input = useRef<HTMLInputElement>(null);
  const add = useWrite((photo: File) =>
    answer(
      api.POST("/api/v1/faults/{fault_id}/photos", {
        params: { path: { fault_id: sheet.id }, header: writeHeaders(undefined, newKey()) },
        body: photo as unknown as string,
        bodySerializer: (content) => content as unknown as Blob,
        headers: { "Content-Type": "application/octet-stream" },
      }),
    ),
  );
  const remove = useWrite((id: number) =>
    answer(
      api.POST("/api/v1/fault-photos/{photo_id}/removal", {
        params: { path: { photo_id: id }, header: writeHeaders() },
      }),
    ),
  );
  return (
    <section className="mt-3">
      <h2 className="text-name">Photos</h2>
      <ul className="flex flex-wrap gap-2">
        {sheet.photos.map((photo) => (
          <li key={photo.id} className="w-32">
            <a href={`/api/v1/fault-photos/${photo.id}`} target="_blank" rel="noreferrer">
              <img
                src={`/api/v1/fault-photos/${photo.id}?small=true`}
                alt={photo.note || `Photo by ${photo.person}`}
                className="h-24 w-32 border border-edge object-cover"
              />
            </a>
            {!sheet.closed && (
              <button
                type="button"
                className="link min-h-11 text-small"
                onClick={() => remove.mutate(photo.id)}
              >
                Take it off
              </button>
            )}
          </li>
        ))}
      </ul>
      {!sheet.closed && (
        <label className="button mt-1 inline-flex cursor-pointer focus-within:outline-3 focus-within:outline-mark">
          Add a photo
          <input
            ref={input}
            type="file"
            className="sr-only"
            accept="image/png,image/jpeg,image/webp"
            onChange={(event) => {
              const [photo] = event.target.files ?? [];
              if (photo) add.mutate(photo);
              event.target.value = "";
            }}
          />
        </label>
      )}
      {add.error && (
        <p role="alert" className="text-care font-semibold text-out">
          {problemAt(add.error, "photo")?.message ?? add.error.detail}
        </p>
      )}
    </section>
  );
}
