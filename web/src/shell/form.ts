import type { Schemas } from "../api/client";

export type FormField = Schemas["FieldOut"];
export type Values = Readonly<Record<string, string>>;

/** What a form holds: what was typed, else what stands in its fields. */
export function valuesOf(fields: readonly FormField[], typed: Values): Record<string, string> {
  return Object.fromEntries(fields.map((field) => [field.name, typed[field.name] ?? field.value]));
}

/** Whether a field is asked for, by what another one holds: this very value, or anything at all. */
export function isShown({ when }: FormField, values: Values): boolean {
  if (!when) return true;
  return when.value === null ? Boolean(values[when.field]) : values[when.field] === when.value;
}

/** What was typed after one more answer; a choice may bring what is usual with it into other fields. */
export function answered(typed: Values, field: FormField, value: string): Values {
  const brings = field.options.find((option) => option.value === value)?.sets ?? {};
  return { ...typed, ...brings, [field.name]: value };
}

/** A moment as a person typed it, in the time of this browser, as the workshop reads it. */
function moment(typed: string): string {
  const at = new Date(typed);
  return Number.isNaN(at.getTime()) ? typed : at.toISOString();
}

/** The values as they are sent. */
export function sent(fields: readonly FormField[], values: Values): Record<string, string> {
  return Object.fromEntries(
    fields.map(({ name, kind }) => [
      name,
      kind === "moment" ? moment(values[name] ?? "") : (values[name] ?? ""),
    ]),
  );
}
