import type { ReactNode } from "react";
import type { FieldProblem } from "../api/client";
import { Choice, Field } from "./Field";
import { answered, type FormField, isShown, type Values, valuesOf } from "./form";
import { Word } from "./Word";

type Props = {
  fields: readonly FormField[];
  typed: Values;
  onTyped: (typed: Values) => void;
  problemOf: (field: string) => FieldProblem | undefined;
  /** A doubtful answer is meant as it stands; the form is sent again with it. */
  onConfirm?: (field: string) => void;
  autoFocus?: boolean;
};

/** The fields of a form as the workshop says them; those that hang on another answer come and go with it. */
export function FormFields({ fields, typed, onTyped, problemOf, onConfirm, autoFocus }: Props) {
  const values = valuesOf(fields, typed);
  const shown = fields.filter((field) => isShown(field, values));
  return shown.map((field, index) => (
    <FormRow
      key={field.name}
      field={field}
      value={values[field.name] ?? ""}
      onChange={(value) => onTyped(answered(typed, field, value))}
      problem={problemOf(field.name)}
      onConfirm={onConfirm}
      autoFocus={autoFocus === true && index === 0}
    />
  ));
}

/** Letters of a hint beyond which its field takes the whole width. */
const LONG = 90;
/** Letters of a choice that half the width shows whole. */
const SHORT = 14;
/** Letters of an answer that half the width shows whole. */
const SHORT_TEXT = 10;

type RowProps = {
  field: FormField;
  value: string;
  onChange: (value: string) => void;
  problem: FieldProblem | undefined;
  onConfirm: Props["onConfirm"];
  autoFocus: boolean;
};

function FormRow({ field, value, onChange, problem, onConfirm, autoFocus }: RowProps) {
  const hint = [field.hint, field.usual].filter(Boolean).join(" ");
  const explain = field.word && <Explained of={field.word} />;
  const confirmed = onConfirm && (() => onConfirm(field.name));
  const asked = { label: field.label, value, onChange, hint, problem: problem?.message, autoFocus, explain };
  if (field.kind === "choice") {
    return (
      <Grouped field={field}>
        <div className={field.options.some((one) => one.text.length > SHORT) ? "col-span-full" : ""}>
          <Choice {...asked} options={field.options} />
        </div>
      </Grouped>
    );
  }
  if (field.kind === "check") {
    return (
      <Grouped field={field}>
        <label className="flex min-h-12 items-center gap-3 self-end text-body font-semibold">
          <input
            type="checkbox"
            className="size-5"
            checked={value === "yes"}
            onChange={(event) => onChange(event.target.checked ? "yes" : "")}
          />
          {field.label}
        </label>
      </Grouped>
    );
  }
  if (field.kind === "several") {
    return (
      <Grouped field={field}>
        <Several field={field} value={value} onChange={onChange} hint={hint} />
      </Grouped>
    );
  }
  if (field.kind === "lines") {
    return (
      <Grouped field={field}>
        <label className="block text-body desk:col-span-2">
          <span className="mb-1 block font-semibold">{field.label}</span>
          <textarea
            className="field min-h-24 py-2"
            spellCheck={false}
            value={value}
            onChange={(event) => onChange(event.target.value)}
          />
          {problem && <span className="mt-1 block text-care font-semibold text-out">{problem.message}</span>}
          {hint && !problem && <span className="mt-1 block text-small text-ink-2">{hint}</span>}
        </label>
      </Grouped>
    );
  }
  const filledIn = field.kind !== "number" && field.value.length > SHORT_TEXT;
  const wide = hint.length > LONG || filledIn || problem?.confirmable || problem?.suggested;
  return (
    <Grouped field={field}>
      <div className={wide ? "min-w-0 col-span-full" : "min-w-0"}>
        <Field
          {...asked}
          unit={field.unit}
          decimal={field.kind === "number"}
          type={field.kind === "moment" ? "datetime-local" : "text"}
          extra={problem && <Doubted problem={problem} onUse={onChange} onConfirm={confirmed} />}
        />
      </div>
    </Grouped>
  );
}

function Explained({ of }: { of: string }) {
  return (
    <span className="ml-3 text-body text-ink-2">
      <Word of={of} aside>
        What is this?
      </Word>
    </span>
  );
}

function Grouped({ field, children }: { field: FormField; children: ReactNode }) {
  return (
    <>
      {field.group && <h3 className="border-b border-rule pt-2 text-name desk:col-span-2">{field.group}</h3>}
      {children}
    </>
  );
}

type SeveralProps = { field: FormField; value: string; onChange: (value: string) => void; hint: string };

function Several({ field, value, onChange, hint }: SeveralProps) {
  const on = value.split(",").filter(Boolean);
  const chosenOf = (one: string, chosen: boolean) =>
    chosen ? [...on, one] : on.filter((other) => other !== one);
  return (
    <fieldset className="desk:col-span-2">
      <legend className="mb-1 text-body font-semibold">{field.label}</legend>
      <div className="flex flex-wrap gap-x-6">
        {field.options.map((option) => (
          <label key={option.value} className="flex min-h-11 items-center gap-2 text-body">
            <input
              type="checkbox"
              className="size-5"
              checked={on.includes(option.value)}
              onChange={(event) => onChange(chosenOf(option.value, event.target.checked).join(","))}
            />
            {option.text}
          </label>
        ))}
      </div>
      {hint && <p className="text-small text-ink-2">{hint}</p>}
    </fieldset>
  );
}

type DoubtedProps = {
  problem: FieldProblem;
  onUse: (text: string) => void;
  onConfirm?: (() => void) | undefined;
};

/** The ways on from a doubtful answer: what was probably meant, or that it is meant so. */
export function Doubted({ problem, onUse, onConfirm }: DoubtedProps) {
  const { suggested } = problem;
  if (suggested === null && !problem.confirmable) return null;
  return (
    <div className="mt-2 flex flex-wrap gap-3">
      {suggested !== null && (
        <button type="button" className="button" onClick={() => onUse(suggested)}>
          Use {suggested}
        </button>
      )}
      {problem.confirmable && onConfirm && (
        <button type="button" className="button" onClick={onConfirm}>
          It is right as typed
        </button>
      )}
    </div>
  );
}
