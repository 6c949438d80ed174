import type { Schemas } from "../../api/client";
import { Choice, Field } from "../../shell/Field";

export type InstrumentTyped = Required<Schemas["InstrumentIn"]>;

type Props = {
  value: InstrumentTyped;
  onChange: (value: InstrumentTyped) => void;
  said: (field: string) => string | undefined;
};

const KINDS = [
  { value: "calliper", text: "Calliper" },
  { value: "micrometer", text: "Micrometer" },
  { value: "ruler", text: "Ruler" },
  { value: "scale", text: "Scale" },
  { value: "thermometer", text: "Probe thermometer" },
] as const;
const USUAL_STEP = {
  calliper: "0.01",
  micrometer: "0.001",
  ruler: "0.5",
  scale: "0.01",
  thermometer: "0.1",
} as const;

/** Kind, step and permissible error of a measuring tool. */
export function InstrumentFields({ value, onChange, said }: Props) {
  const unit = { scale: "g", thermometer: "°C", calliper: "mm", micrometer: "mm", ruler: "mm" }[value.kind];
  return (
    <>
      <Choice
        label="Kind of tool"
        value={value.kind}
        options={KINDS}
        onChange={(kind) => onChange({ ...value, kind, step: USUAL_STEP[kind] })}
      />
      <Field
        label="Its step"
        value={value.step}
        decimal
        unit={unit}
        onChange={(step) => onChange({ ...value, step })}
        problem={said("step")}
        hint="The smallest difference its display or scale shows."
      />
      <Field
        label="Permissible error, if the maker says one"
        value={value.permissible_error}
        decimal
        unit={unit}
        onChange={(permissible_error) => onChange({ ...value, permissible_error })}
        problem={said("permissible_error")}
        hint="Left empty: three steps for a calliper, two for a scale, one for a ruler."
      />
    </>
  );
}
