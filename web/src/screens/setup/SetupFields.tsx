import type { ReactNode } from "react";
import type { Schemas } from "../../api/client";
import { useFamilies } from "../../api/queries";
import { Choice, Field } from "../../shell/Field";
import { LINERS, RUNAWAY } from "./choices";

export type SetupTyped = Required<Schemas["SetupIn"]>;

type Props = {
  value: SetupTyped;
  onChange: (value: SetupTyped) => void;
  said: (field: string) => string | undefined;
  autoFocus?: boolean;
  /** What else stands in the short column of the filament. */
  below?: ReactNode;
};

export const EMPTY_SETUP: SetupTyped = {
  machine: "",
  feed_path: "direct",
  keeps_setting: "command_pair",
  setting_places: 2,
  runaway: "unknown",
  liner: "unknown",
  hotend_max: "",
  bore: "0.4",
  nozzle_material: "brass",
  surface: "",
  filament: "",
  family: "pla",
};

const FEED_PATHS = [
  { value: "direct", text: "Direct: on the hotend" },
  { value: "remote", text: "Remote: through a tube" },
] as const;
const KEEPING = [
  { value: "command_pair", text: "By command, then saved" },
  { value: "turn_in_file", text: "In a file, mm per motor turn" },
  { value: "menu", text: "Only in its own menu" },
] as const;
const MATERIALS = (["brass", "plated", "steel", "hardened", "other"] as const).map((value) => ({
  value,
  text: value,
}));
const PLACES = [0, 1, 2, 3, 4].map((places) => ({
  value: String(places),
  text: places === 0 ? "none" : String(places),
}));

/** Machine, hotend, nozzle and filament of a setup. */
export function SetupFields({ value, onChange, said, autoFocus, below }: Props) {
  const families = useFamilies();
  const set = (change: Partial<SetupTyped>) => onChange({ ...value, ...change });
  return (
    <>
      <fieldset className="min-w-0 space-y-3">
        <legend className="mb-2 text-cell font-[650]">Machine</legend>
        <Field
          label="What you call it"
          value={value.machine}
          onChange={(machine) => set({ machine })}
          problem={said("machine")}
          autoFocus={autoFocus}
        />
        <Choice
          label="How filament is fed"
          value={value.feed_path}
          options={FEED_PATHS}
          onChange={(feed_path) => set({ feed_path })}
        />
        <Choice
          label="How it keeps its e-steps"
          value={value.keeps_setting}
          options={KEEPING}
          onChange={(keeps_setting) => set({ keeps_setting, setting_places: USUAL_PLACES[keeps_setting] })}
          hint="Decides what you are told to type. The machine's manual says it."
        />
        <Choice
          label="Decimals it keeps"
          value={String(value.setting_places)}
          options={PLACES}
          onChange={(places) => set({ setting_places: Number(places) })}
          hint="Values are rounded to what the machine can hold."
        />
        <Choice
          label="If its temperature sensor fails, does it stop heating?"
          value={value.runaway}
          options={RUNAWAY}
          onChange={(runaway) => set({ runaway })}
          hint="While nobody knows, nothing that heats is offered."
        />
      </fieldset>
      <fieldset className="min-w-0 space-y-3">
        <legend className="mb-2 text-cell font-[650]">Hotend and nozzle</legend>
        <Choice
          label="Where the hotend's liner ends"
          value={value.liner}
          options={LINERS}
          onChange={(liner) => set({ liner })}
          problem={said("liner")}
          hint="One that reaches into the hot zone: never above 240 °C."
        />
        <Field
          label="Maker's limit of the hotend, if you know it"
          value={value.hotend_max}
          decimal
          unit="°C"
          onChange={(hotend_max) => set({ hotend_max })}
          problem={said("hotend_max")}
        />
        <Field
          label="Nozzle bore"
          value={value.bore}
          decimal
          unit="mm"
          onChange={(bore) => set({ bore })}
          problem={said("bore")}
          hint="0.4 is what most machines come with."
        />
        <Choice
          label="Nozzle material"
          value={value.nozzle_material}
          options={MATERIALS}
          onChange={(nozzle_material) => set({ nozzle_material })}
        />
        <Field
          label="Build surface, if you like"
          value={value.surface}
          onChange={(surface) => set({ surface })}
          problem={said("surface")}
          hint="Z-offset and bed temperature belong to it."
        />
      </fieldset>
      <div className="space-y-6">
        <fieldset className="min-w-0 space-y-3">
          <legend className="mb-2 text-cell font-[650]">Filament</legend>
          <Field
            label="Maker, kind and colour"
            value={value.filament}
            onChange={(filament) => set({ filament })}
            problem={said("filament")}
          />
          <Choice
            label="Family"
            value={value.family}
            onChange={(family) => set({ family })}
            problem={said("family")}
            options={(families.data ?? [{ key: value.family, name: value.family }]).map((row) => ({
              value: row.key,
              text: row.name,
            }))}
            hint="Gives the temperature for feeding; the spool's label wins."
          />
        </fieldset>
        {below}
      </div>
    </>
  );
}

const USUAL_PLACES = { command_pair: 2, turn_in_file: 3, menu: 1 } as const;
