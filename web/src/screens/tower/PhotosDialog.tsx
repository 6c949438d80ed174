import { useState } from "react";
import { answer, api, problemAt, type Schemas, writeHeaders } from "../../api/client";
import { usePhotos } from "../../api/queries";
import { Choice, Field } from "../../shell/Field";
import { Modal } from "../../shell/Modal";
import { useWrite } from "../../shell/useWrite";

type Photo = Schemas["PhotoOut"];
type Props = { run: Schemas["RunOut"]; band?: number | undefined; onClose: () => void };

const LARGEST = 12_000_000;

/** Photographs of a run and of its bands, beside those of the run before it. */
export function PhotosDialog({ run, band, onClose }: Props) {
  const photos = usePhotos(run.id);
  const [place, setPlace] = useState(band === undefined ? "" : String(band));
  const [note, setNote] = useState("");
  const [tooLarge, setTooLarge] = useState("");
  const add = useWrite<File, unknown>(
    (file) =>
      answer(
        api.POST("/api/v1/runs/{run_id}/photos", {
          params: {
            path: { run_id: run.id },
            query: { note, ...(place === "" ? {} : { band: Number(place) }) },
            header: writeHeaders(),
          },
          body: file as unknown as string,
          bodySerializer: (content) => content as unknown as Blob,
          headers: { "Content-Type": "application/octet-stream" },
        }),
      ),
    () => setNote(""),
  );
  const remove = useWrite<number, unknown>((id) =>
    answer(
      api.POST("/api/v1/photos/{photo_id}/removal", {
        params: { path: { photo_id: id }, header: writeHeaders() },
      }),
    ),
  );
  const take = (file: File | undefined) => {
    if (!file) return;
    const large = file.size > LARGEST;
    setTooLarge(
      large ? `This file has ${Math.round(file.size / 1e6)} MB; a photo may have ${LARGEST / 1e6}.` : "",
    );
    if (!large) add.mutate(file);
  };
  const said = tooLarge || problemAt(add.error, "photo")?.message || add.error?.detail;
  const tower = run.body.kind === "rated" ? run.body.tower : null;
  const bands = tower?.bands ?? [];
  return (
    <Modal title={`Photos of run ${run.id}`} onClose={onClose} wide>
      <div className="grid gap-3 desk:grid-cols-2">
        {bands.length > 0 && (
          <Choice
            label="Of"
            value={place}
            onChange={setPlace}
            options={[
              { value: "", text: "the whole tower" },
              ...bands.map((row) => ({
                value: String(row.index),
                text: `${row.text} ${tower?.unit ?? ""}`,
              })),
            ]}
          />
        )}
        <Field label="What it shows" value={note} onChange={setNote} />
      </div>
      <label className="button button-main mt-3 inline-flex">
        Choose a photo
        <input
          type="file"
          accept="image/png,image/jpeg,image/webp"
          className="sr-only"
          onChange={(event) => {
            take(event.target.files?.[0]);
            event.target.value = "";
          }}
        />
      </label>
      <p className="mt-1 text-small text-ink-2">
        PNG, JPEG or WebP, up to 12 MB. Kept smaller, and without the place, day and camera that stand in it.
      </p>
      {said && (
        <p role="alert" className="text-care font-semibold text-out">
          {said}
        </p>
      )}
      {add.error?.status === 0 && add.variables && (
        <button type="button" className="button mt-1" onClick={() => take(add.variables)}>
          Send {add.variables.name} again
        </button>
      )}
      <div className="mt-3 grid grid-cols-2 gap-4">
        <Column title="This run" photos={photos.data?.photos ?? []} onRemove={(id) => remove.mutate(id)} />
        <Column
          title={
            photos.data?.before_run_id
              ? `Run ${photos.data.before_run_id}, before it`
              : "No earlier run has any"
          }
          photos={photos.data?.before ?? []}
        />
      </div>
    </Modal>
  );
}

function Column({
  title,
  photos,
  onRemove,
}: {
  title: string;
  photos: Photo[];
  onRemove?: (id: number) => void;
}) {
  return (
    <section>
      <h3 className="mb-1 text-name">{title}</h3>
      <ul className="space-y-3">
        {photos.map((photo) => (
          <li key={photo.id}>
            <img
              src={`/api/v1/photos/${photo.id}`}
              alt={`${photo.band_text || "Whole tower"}. ${photo.note}`}
              width={photo.width}
              height={photo.height}
              className="h-auto w-full border border-edge"
            />
            <p className="text-small text-ink-2">
              <strong>{photo.band_text || "whole"}</strong> {photo.note} {photo.person}
              {onRemove && (
                <button type="button" className="link ml-2 min-h-11" onClick={() => onRemove(photo.id)}>
                  Take it off
                </button>
              )}
            </p>
          </li>
        ))}
      </ul>
    </section>
  );
}
