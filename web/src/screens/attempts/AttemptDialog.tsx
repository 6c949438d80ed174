import { type FormEvent, type ReactNode, useEffect, useState } from "react";
import { answer, api, isProblem, newKey, problemAt, type Schemas, writeHeaders } from "../../api/client";
import { worthRetrying } from "../../api/outbox";
import { keptPhoto, sendPhoto } from "../../api/photos";
import { useAttemptForm } from "../../api/queries";
import { BandDrawing } from "../../instrument/BandDrawing";
import { clockOf, dayOf } from "../../shell/dates";
import { Choice, Field, useRefused } from "../../shell/Field";
import { FormFoot } from "../../shell/FormFoot";
import { Modal } from "../../shell/Modal";
import { useOutbox } from "../../shell/OutboxProvider";
import { Trouble, Waiting } from "../../shell/Trouble";
import { useWrite } from "../../shell/useWrite";
import { sent, type Trial, Trials } from "./Trials";

type Form = Schemas["AttemptFormOut"];

const OUTCOMES = [
  { value: "good", text: "Good" },
  { value: "bad", text: "Not good" },
  { value: "stopped", text: "Stopped early" },
] as const;

const LOOKS = [
  { value: "", text: "Not said" },
  { value: "good", text: "It looks good" },
  { value: "bad", text: "It looks bad" },
] as const;

const FITS = [
  { value: "", text: "Not tried" },
  { value: "free", text: "Runs free" },
  { value: "snug", text: "Snug" },
  { value: "filing", text: "Needs filing" },
  { value: "no", text: "Does not go" },
] as const;

/** Fields that few fill in, and that are folded away. */
const FOLDED = /^(hours|grams|look_again|look_in_days|photo|counts\..*)$/;

/** A sign that is pressed is this bad until somebody says how bad. */
const WENT_WRONG = 1;

/** Write an attempt down: the part, what went wrong or that it is good, done. All else is taken by itself, or if you like. */
export function AttemptDialog({ setupId, onClose }: { setupId: number; onClose: () => void }) {
  const form = useAttemptForm(setupId);
  return (
    <Modal title="Attempt" onClose={onClose} wide>
      {form.isPending && <Waiting />}
      {form.isError && !form.data && <Trouble error={form.error} onAgain={() => form.refetch()} />}
      {form.data && <Filling form={form.data} onClose={onClose} />}
    </Modal>
  );
}

function Filling({ form, onClose }: { form: Form; onClose: () => void }) {
  const [what, setWhat] = useState(form.begun?.what ?? form.what);
  // Another part is another attempt: what prints goes on printing.
  const begun = form.begun?.what === what ? form.begun : null;
  const [revision, setRevision] = useState(form.begun?.revision ?? form.revision);
  const [outcome, setOutcome] = useState<Schemas["PrintIn"]["outcome"] | null>(null);
  const [signs, setSigns] = useState<Record<string, number>>({});
  const [planned, setPlanned] = useState(true);
  const plan = planned && what === form.what ? form.planned : null;
  const [own, setOwn] = useState<Trial[]>(() =>
    form.begun
      ? form.begun.trials.map((row) => ({ key: newKey(), ...row }))
      : form.trials.map((row) => ({
          key: `trial ${row.id}`,
          kind: row.kind,
          typed: row.number_text,
          reach: row.reach,
          from_mm: row.from_mm === null ? "" : String(row.from_mm),
          from_layer: "",
        })),
  );
  const [fileId, setFileId] = useState(
    form.begun?.file_id ?? form.files.find((row) => row.likely)?.id ?? null,
  );
  const trials = plan
    ? plan.settings.map((row) => ({ ...row, reach: "all" as const, from_mm: "", from_layer: "" }))
    : own;
  const [more, setMore] = useState<Record<string, string>>({});
  const [counts, setCounts] = useState<Record<string, string>>({});
  const [looks, setLooks] = useState<(typeof LOOKS)[number]["value"]>("");
  const [fit, setFit] = useState<(typeof FITS)[number]["value"]>("");
  const [note, setNote] = useState("");
  const [open, setOpen] = useState(false);
  const [photo, setPhoto] = useState<File | null>(null);
  const outbox = useOutbox();
  const save = useWrite(async (given: { grams: string; again: boolean }) => {
    const body: Schemas["PrintIn"] = {
      what,
      revision,
      outcome: outcome ?? "bad",
      looks: looks || null,
      signs,
      counts,
      fit: fit || null,
      trials: trials.map(sent),
      plan_id: plan?.plan_id ?? null,
      plan_place: plan?.place ?? null,
      stopped_layer: more.layer ?? "",
      stopped_mm: more.mm ?? "",
      hours: more.hours ?? "",
      grams: given.grams,
      look_again: more.look ?? "",
      look_in_days: more.days ?? "",
      file_id: fileId,
      begun_id: begun?.id ?? null,
      note,
      happened_at: new Date().toISOString(),
      // What was asked about and is sent again as it was is meant so.
      as_typed: given.again ? ["grams"] : [],
    };
    const key = newKey();
    try {
      const made = await answer(
        api.POST("/api/v1/setups/{setup_id}/prints", {
          params: { path: { setup_id: form.setup.id }, header: writeHeaders(undefined, key) },
          body,
        }),
      );
      if (photo) await sendPhoto(made.id, photo, `${key}-photo`);
    } catch (problem) {
      if (!isProblem(problem) || !worthRetrying(problem)) throw problem;
      outbox.add({
        key,
        attempt: { setupId: form.setup.id, body, photo: photo && (await keptPhoto(photo)) },
        runId: 0,
        typed: what,
        takenAt: body.happened_at ?? "",
        asTyped: null,
        refusal: null,
      });
    }
  }, onClose);
  const begin = useWrite(
    () =>
      answer(
        api.POST("/api/v1/setups/{setup_id}/begun", {
          params: { path: { setup_id: form.setup.id }, header: writeHeaders() },
          body: {
            what,
            revision,
            trials: trials.map(sent),
            file_id: fileId,
            remind_in_min: more.remind ?? "",
          },
        }),
      ),
    onClose,
  );
  const error = save.error ?? begin.error;
  // What is wrong with a field that is folded away has to be seen.
  const folded = error?.fields.some((row) => FOLDED.test(row.field)) ?? false;
  useEffect(() => {
    if (folded) setOpen(true);
  }, [folded]);
  const ref = useRefused(error);
  const said = (field: string) => problemAt(error, field)?.message;
  const grams = more.grams ?? "";
  const submit = (event: FormEvent) => {
    event.preventDefault();
    begin.reset();
    const asked = problemAt(save.error, "grams")?.confirmable === true;
    save.mutate({ grams, again: asked && save.variables?.grams === grams });
  };
  const press = (key: string) => {
    const { [key]: there, ...rest } = signs;
    setSigns(there === undefined ? { ...signs, [key]: WENT_WRONG } : rest);
    if (there === undefined && outcome === null) setOutcome("bad");
  };
  const typeMore = (key: string) => (value: string) => setMore({ ...more, [key]: value });
  const stopped = outcome === "stopped";
  const onTheWay = trials.some((row) => row.reach === "above" || row.reach === "once");
  return (
    <form ref={ref} onSubmit={submit} className="space-y-4">
      {begun && (
        <p className="border-l-4 border-mark bg-well px-3 py-2 text-body">
          Printing since {clockOf(begun.started_at)}, {dayOf(begun.started_at)}. How did it come out?
        </p>
      )}
      <div className="grid grid-cols-[minmax(0,2fr)_minmax(0,1fr)] gap-3">
        <Field
          label="Part"
          value={what}
          onChange={setWhat}
          problem={said("what")}
          known={form.parts}
          autoFocus={!what}
        />
        <Field label="Its revision" value={revision} onChange={setRevision} problem={said("revision")} />
      </div>
      <fieldset>
        <legend className="mb-1 text-body font-semibold">How did it come out?</legend>
        <div className="grid grid-cols-3 gap-2">
          {OUTCOMES.map((row) => (
            <Press key={row.value} on={outcome === row.value} onPress={() => setOutcome(row.value)}>
              {row.text}
            </Press>
          ))}
        </div>
      </fieldset>
      {stopped && (
        <div className="grid grid-cols-2 gap-3">
          <Field
            label="At layer"
            decimal
            value={more.layer ?? ""}
            onChange={typeMore("layer")}
            problem={said("stopped_layer")}
          />
          <Field
            label="or at"
            unit="mm"
            decimal
            value={more.mm ?? ""}
            onChange={typeMore("mm")}
            problem={said("stopped_mm")}
          />
        </div>
      )}
      <fieldset>
        <legend className="mb-1 text-body font-semibold">What went wrong, or was looked at?</legend>
        <div className="grid grid-cols-3 gap-2 desk:grid-cols-5">
          {form.signs.map((sign) => (
            <Press key={sign.key} on={sign.key in signs} onPress={() => press(sign.key)}>
              {sign.name}
            </Press>
          ))}
        </div>
        {form.signs
          .filter((sign) => sign.key in signs)
          .map((sign) => (
            <Scale
              key={sign.key}
              sign={sign}
              rating={signs[sign.key] ?? WENT_WRONG}
              onRate={(rating) => setSigns({ ...signs, [sign.key]: rating })}
            />
          ))}
        {said("signs") && <p className="text-care font-semibold text-out">{said("signs")}</p>}
      </fieldset>
      {form.planned && what === form.what && (
        <label className="flex min-h-11 items-center gap-3 text-body">
          <input
            type="checkbox"
            className="size-5"
            checked={planned}
            onChange={(event) => setPlanned(event.target.checked)}
          />
          {form.planned.said}
        </label>
      )}
      {!plan && <Trials form={form} trials={own} onTrials={setOwn} said={said} />}
      {said("plan_place") && <p className="text-care font-semibold text-out">{said("plan_place")}</p>}
      <FileOf files={form.files} fileId={fileId} onFile={setFileId} said={said("file_id")} />
      {!begun && (
        <div className="flex flex-wrap items-end gap-x-4 gap-y-2">
          <button
            type="button"
            className="button"
            disabled={begin.isPending || what === ""}
            onClick={() => {
              save.reset();
              begin.mutate(undefined);
            }}
          >
            It is printing now
          </button>
          {onTheWay && (
            <div className="w-44">
              <Field
                label="Remind me in"
                unit="min"
                decimal
                value={more.remind ?? ""}
                onChange={typeMore("remind")}
                problem={said("remind_in_min")}
              />
            </div>
          )}
          {onTheWay && fileId !== null && (
            <span className="text-small text-ink-2">Left empty: by the file&apos;s time and height.</span>
          )}
        </div>
      )}
      <Field label="Note" value={note} onChange={setNote} problem={said("note")} />
      <details open={open} onToggle={(event) => setOpen(event.currentTarget.open)}>
        <summary className="min-h-11 cursor-pointer py-2 text-body font-semibold">
          Photo, fit, counts, time, look again
        </summary>
        <div className="grid grid-cols-2 gap-4">
          <label className="col-span-2 block text-body">
            <span className="mb-1 block font-semibold">Photo</span>
            <input
              type="file"
              className="picker"
              accept="image/png,image/jpeg,image/webp"
              onChange={(event) => setPhoto(event.target.files?.[0] ?? null)}
            />
            {said("photo") && <span className="block text-care font-semibold text-out">{said("photo")}</span>}
          </label>
          <Choice label="How does it look?" value={looks} onChange={setLooks} options={LOOKS} />
          <Choice label="How does it go?" value={fit} onChange={setFit} options={FITS} />
          {form.counts.map((row) => (
            <Field
              key={row.key}
              label={row.name}
              unit={row.unit_text || "counted"}
              decimal
              value={counts[row.key] ?? ""}
              onChange={(value) => setCounts({ ...counts, [row.key]: value })}
              problem={said(`counts.${row.key}`)}
            />
          ))}
          <Field
            label="Took"
            unit="h"
            hint="3.2, 3:12 or 3h12"
            value={more.hours ?? ""}
            onChange={typeMore("hours")}
            problem={said("hours")}
          />
          <Field
            label="Used"
            unit="g"
            decimal
            value={grams}
            onChange={typeMore("grams")}
            problem={said("grams")}
          />
          <Field
            label="Look again at"
            hint="stains on raw wood"
            value={more.look ?? ""}
            onChange={typeMore("look")}
            problem={said("look_again")}
          />
          <Field
            label="in"
            unit="days"
            decimal
            value={more.days ?? ""}
            onChange={typeMore("days")}
            problem={said("look_in_days")}
          />
        </div>
      </details>
      <div className="sticky -bottom-6 -mx-6 -mb-4 border-t border-rule bg-sheet px-6 pb-3">
        <FormFoot
          label="Write it down"
          pending={save.isPending || (outcome === null && what === "")}
          error={error}
          onClose={onClose}
        />
      </div>
    </form>
  );
}

type FileOfProps = {
  files: Form["files"];
  fileId: number | null;
  onFile: (id: number | null) => void;
  said: string | undefined;
};

/** The checked file it is printed from: what that sets wins over what somebody remembers. */
function FileOf({ files, fileId, onFile, said }: FileOfProps) {
  const chosen = files.find((row) => row.id === fileId);
  if (files.length === 0) return null;
  return (
    <div>
      <Choice
        label="Its file"
        value={fileId === null ? "" : String(fileId)}
        onChange={(id) => onFile(id === "" ? null : Number(id))}
        options={[
          { value: "", text: "Not said" },
          ...files.map((row) => ({
            value: String(row.id),
            text: `${row.name}, checked ${clockOf(row.at)}, ${dayOf(row.at)}`,
          })),
        ]}
      />
      {chosen && chosen.differs.length > 0 && (
        <p className="mt-1 text-body">
          <strong>What the file says counts.</strong> {chosen.differs.join("; ")}.
        </p>
      )}
      {said && <p className="text-care font-semibold text-out">{said}</p>}
    </div>
  );
}

type PressProps = { on: boolean; onPress: () => void; children: ReactNode };

function Press({ on, onPress, children }: PressProps) {
  return (
    <button
      type="button"
      aria-pressed={on}
      onClick={onPress}
      className={`min-h-12 cursor-pointer rounded-control border px-1 text-body leading-tight font-semibold ${
        on ? "border-2 border-mark bg-well" : "border-edge"
      }`}
    >
      {children}
    </button>
  );
}

type ScaleProps = { sign: Schemas["ScaleOut"]; rating: number; onRate: (rating: number) => void };

/** The five words of a sign, worst first, each with its drawing. */
function Scale({ sign, rating, onRate }: ScaleProps) {
  return (
    <fieldset className="mt-2">
      <legend className="text-small text-ink-2">
        {sign.name}: {sign.look}
      </legend>
      <div className="grid grid-cols-5 gap-1">
        {sign.words.map((word, place) => (
          <Press key={word} on={rating === place} onPress={() => onRate(place)}>
            <BandDrawing
              ratings={{ [sign.key]: place }}
              has={[sign.key]}
              className="mx-auto my-1 h-9 w-full max-w-20"
            />
            {`${place} ${word}`}
          </Press>
        ))}
      </div>
    </fieldset>
  );
}
