import { type FormEvent, useState } from "react";
import { answer, api, problemAt, type Schemas } from "../../api/client";
import { useLimits } from "../../api/queries";
import { Doubted } from "../../shell/FormFields";
import { useAsTyped } from "../../shell/useAsTyped";
import { useWrite } from "../../shell/useWrite";

/** After how many days a value, and after how much use a part, is worth a look. */
export function Limits() {
  const limits = useLimits();
  return (
    <details className="mt-6">
      <summary className="min-h-11 cursor-pointer border-b-2 border-ink pb-1 text-cell font-[650]">
        When to look again
      </summary>
      <ul className="gap-x-12 desk:columns-2">
        {limits.data?.map((row) => (
          <LimitRow key={row.key} limit={row} />
        ))}
      </ul>
    </details>
  );
}

function LimitRow({ limit }: { limit: Schemas["LimitOut"] }) {
  const [value, setValue] = useState<string | null>(null);
  const typed = value ?? limit.value;
  const { asTyped, confirm } = useAsTyped({ value: typed });
  const save = useWrite(
    (meant: string[]) =>
      answer(
        api.PUT("/api/v1/limits/{key}", {
          params: { path: { key: limit.key } },
          body: { value: typed, as_typed: meant },
        }),
      ),
    () => setValue(null),
  );
  const submit = (event: FormEvent) => {
    event.preventDefault();
    save.mutate(asTyped);
  };
  const problem = problemAt(save.error, "value");
  return (
    <li className="break-inside-avoid border-b border-rule py-1">
      <form onSubmit={submit} className="flex items-center gap-3">
        <label className="flex min-h-11 flex-1 items-center gap-3 text-body">
          <span className="flex-1">{limit.name}</span>
          <input
            className="field max-w-24 text-right"
            inputMode="decimal"
            value={typed}
            aria-invalid={problem !== undefined}
            onChange={(event) => setValue(event.target.value)}
          />
        </label>
        <span className="w-14 text-small text-ink-2">{limit.unit}</span>
        <button type="submit" className="link min-h-11 text-body" disabled={value === null}>
          Save<span className="sr-only"> {limit.name}</span>
        </button>
      </form>
      {problem && (
        <div className="pb-2">
          <p className="text-care font-semibold text-out">{problem.message}</p>
          <Doubted problem={problem} onUse={setValue} onConfirm={() => save.mutate(confirm("value"))} />
        </div>
      )}
      {limit.usual !== limit.value && <p className="text-small text-ink-2">usual: {limit.usual}</p>}
    </li>
  );
}
