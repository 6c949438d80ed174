import { newKey, type Schemas } from "../../api/client";
import { Choice, Field } from "../../shell/Field";

type Form = Schemas["AttemptFormOut"];

/** A setting that was another in an attempt, as it is typed. */
export type Trial = {
  key: string;
  kind: Schemas["Kind"];
  typed: string;
  reach: Schemas["TrialIn"]["reach"];
  from_mm: string;
  from_layer: string;
};

const REACHES = [
  { value: "all", text: "whole print" },
  { value: "first", text: "first layers" },
  { value: "above", text: "from a height up" },
  { value: "once", text: "once, at a height" },
] as const;

type TrialsProps = {
  form: Form;
  trials: Trial[];
  onTrials: (trials: Trial[]) => void;
  said: (field: string) => string | undefined;
};

/** What was another in this attempt than in the profile. */
export function Trials({ form, trials, onTrials, said }: TrialsProps) {
  const change = (place: number, part: Partial<Trial>) =>
    onTrials(trials.map((row, at) => (at === place ? { ...row, ...part } : row)));
  const first = form.settings[0];
  return (
    <fieldset>
      <legend className="mb-1 text-body font-semibold">Different this time</legend>
      {trials.map((row, place) => {
        const setting = form.settings.find((one) => one.kind === row.kind);
        return (
          <div
            key={row.key}
            className="mb-3 grid grid-cols-2 gap-3 border-b border-rule pb-3 desk:grid-cols-[2fr_1fr_1.5fr_auto]"
          >
            <div className="col-span-2 desk:col-span-1">
              <Choice
                label="Setting"
                value={row.kind}
                onChange={(kind) => change(place, { kind: kind as Trial["kind"] })}
                options={form.settings.map((one) => ({ value: one.kind as string, text: one.name }))}
              />
            </div>
            <Field
              label="Was"
              unit={setting?.unit_text ?? ""}
              decimal
              value={row.typed}
              onChange={(typed) => change(place, { typed })}
              hint={setting?.text && `${setting.text} in the profile`}
              problem={said(`trials.${place}`)}
            />
            <div>
              <Choice
                label="Where"
                value={row.reach}
                onChange={(reach) => change(place, { reach })}
                options={REACHES}
              />
              {(row.reach === "above" || row.reach === "once") && (
                <div className="grid grid-cols-2 gap-2">
                  <Field
                    label="Height"
                    unit="mm"
                    decimal
                    value={row.from_mm}
                    onChange={(from_mm) => change(place, { from_mm })}
                  />
                  <Field
                    label="or layer"
                    decimal
                    value={row.from_layer}
                    onChange={(from_layer) => change(place, { from_layer })}
                  />
                </div>
              )}
            </div>
            <button
              type="button"
              className="link min-h-11 self-end text-body"
              aria-label={`Not so: ${setting?.name ?? row.kind}`}
              onClick={() => onTrials(trials.filter((_, at) => at !== place))}
            >
              Not so
            </button>
          </div>
        );
      })}
      {first && (
        <button
          type="button"
          className="link min-h-11 text-body"
          onClick={() =>
            onTrials([
              ...trials,
              {
                key: newKey(),
                kind: next(form, trials),
                typed: "",
                reach: "all",
                from_mm: "",
                from_layer: "",
              },
            ])
          }
        >
          {trials.length === 0 ? "Something was set differently" : "Something else too"}
        </button>
      )}
    </fieldset>
  );
}

/** A setting as it is sent. */
export function sent({ kind, typed, reach, from_mm, from_layer }: Omit<Trial, "key">): Schemas["TrialIn"] {
  return { kind, typed, reach, from_mm, from_layer };
}

/** The setting that is tried most often of those not in the list: temperatures first. */
function next(form: Form, trials: readonly Trial[]): Trial["kind"] {
  const free = form.settings.filter((one) => one.text && !trials.some((row) => row.kind === one.kind));
  const found = free.find((one) => one.kind === "nozzle") ?? free[0] ?? form.settings[0];
  return (found?.kind ?? "nozzle") as Trial["kind"];
}
