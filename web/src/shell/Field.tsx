import { type KeyboardEvent, type ReactNode, Suspense, useEffect, useId, useRef, useState } from "react";
import type { FinderProps } from "./Finder";
import { later } from "./later";

type Props = {
  label: string;
  value: string;
  onChange: (value: string) => void;
  hint?: ReactNode;
  problem?: string;
  unit?: string;
  type?: "text" | "password" | "datetime-local";
  decimal?: boolean;
  autoFocus?: boolean;
  explain?: ReactNode;
  extra?: ReactNode;
  known?: readonly string[] | undefined;
};

/** A labelled field with its hint, its unit, and what is wrong with it right below. */
export function Field({
  label,
  value,
  onChange,
  hint,
  problem,
  unit,
  type = "text",
  decimal,
  autoFocus,
  explain,
  extra,
  known,
}: Props) {
  const id = useId();
  return (
    <div className="w-full min-w-0">
      <div className="mb-1 text-body">
        <label htmlFor={id} className="font-semibold">
          {label}
        </label>
        {explain}
      </div>
      <div className="flex items-center gap-2">
        <input
          id={id}
          type={type}
          className="field"
          value={value}
          onChange={(event) => onChange(event.target.value)}
          aria-invalid={problem !== undefined}
          aria-describedby={`${id}-said`}
          inputMode={decimal ? "decimal" : undefined}
          autoComplete="off"
          autoFocus={autoFocus}
          list={known ? `${id}-known` : undefined}
        />
        {known && (
          <datalist id={`${id}-known`}>
            {known.map((name) => (
              <option key={name} value={name} />
            ))}
          </datalist>
        )}
        {unit && <span className="shrink-0 text-body text-ink-2">{unit}</span>}
      </div>
      <div id={`${id}-said`} aria-live="polite">
        {problem && <p className="mt-1 text-care font-semibold text-out">{problem}</p>}
        {extra}
        {hint && !problem && <p className="mt-1 text-small text-ink-2">{hint}</p>}
      </div>
    </div>
  );
}

type ChoiceProps<T extends string> = {
  label: string;
  value: T;
  onChange: (value: T) => void;
  options: readonly { value: T; text: string }[];
  hint?: string;
  problem?: string;
  autoFocus?: boolean;
  explain?: ReactNode;
};

/** More than this are looked up, not scrolled through. */
const FEW = 8;

const Finder = later<FinderProps<string>>(async () => (await import("./Finder")).Finder);

/** A labelled choice: among a few a list, among many a field that finds them. */
export function Choice<T extends string>(props: ChoiceProps<T>) {
  const { label, value, onChange, options, hint, problem, autoFocus, explain } = props;
  const id = useId();
  const [reached, setReached] = useState(false);
  // Until the finding field is there, what stands in its place is stepped to like any field, and hands the focus on.
  const place = (
    <input
      id={id}
      className="field"
      readOnly
      value={options.find((option) => option.value === value)?.text ?? ""}
      onFocus={() => setReached(true)}
      onBlur={() => setReached(false)}
    />
  );
  return (
    <div className="w-full min-w-0">
      <div className="mb-1 text-body">
        <label htmlFor={id} className="font-semibold">
          {label}
        </label>
        {explain}
      </div>
      {options.length > FEW ? (
        <Suspense fallback={place}>
          <Finder
            id={id}
            value={value}
            onChange={(chosen) => onChange(chosen as T)}
            options={options}
            invalid={problem !== undefined}
            describedBy={`${id}-said`}
            autoFocus={autoFocus || reached}
          />
        </Suspense>
      ) : (
        <select
          id={id}
          className="field"
          autoFocus={autoFocus}
          value={value}
          aria-invalid={problem !== undefined}
          aria-describedby={`${id}-said`}
          onChange={(event) => onChange(event.target.value as T)}
          onKeyDown={sendOnEnter}
        >
          {options.map((option) => (
            <option key={option.value} value={option.value}>
              {option.text}
            </option>
          ))}
        </select>
      )}
      <div id={`${id}-said`}>
        {problem && <p className="mt-1 text-care font-semibold text-out">{problem}</p>}
        {hint && !problem && <p className="mt-1 text-small text-ink-2">{hint}</p>}
      </div>
    </div>
  );
}

/** Enter in a choice sends its form, as it does in a field. */
function sendOnEnter(event: KeyboardEvent<HTMLSelectElement>) {
  if (event.key !== "Enter" || !event.currentTarget.form) return;
  event.preventDefault();
  event.currentTarget.form.requestSubmit();
}

/** A form that puts the focus on its first field with something wrong, whenever it was refused. */
export function useRefused(problem: unknown) {
  const form = useRef<HTMLFormElement>(null);
  useEffect(() => {
    if (problem) form.current?.querySelector<HTMLElement>('[aria-invalid="true"]')?.focus();
  }, [problem]);
  return form;
}
