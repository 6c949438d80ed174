import { useState } from "react";
import { Link } from "react-router";
import { answer, api, type Schemas, writeHeaders } from "../../api/client";
import { OriginGlyph } from "../../instrument/Glyph";
import { KeyHint } from "../../instrument/KeyHint";
import { remember } from "../../shell/undo";
import { useCopy } from "../../shell/useCopy";
import { useKeptWrite } from "../../shell/useKeptWrite";
import { useWrite } from "../../shell/useWrite";
import { WORD_COLOUR } from "./wordColour";

type Props = { bench: Schemas["BenchOut"]; onType: (step: Schemas["Step"]) => void };

/** What to type into the slicing program, in order, and for which parts that is good enough: before all homework. */
export function Tonight({ bench, onType }: Props) {
  const { tonight, good_for: goodFor, minds } = bench;
  return (
    <section
      aria-label="Tonight's numbers"
      className="shrink-0 border-b-2 border-ink bg-sheet px-3 py-3 desk:px-6 wide:w-84 wide:overflow-y-auto wide:border-r wide:border-b-0 wide:border-ink wide:pr-4"
    >
      <h1 className="mb-1 text-cell">Good enough for</h1>
      <ul className="mb-3 border-b border-rule pb-3">
        {goodFor.map((row) => (
          <li key={row.purpose} className="text-body leading-6">
            <span className={row.chosen ? "font-bold" : "font-semibold"}>{row.name}</span>{" "}
            <span className={row.good ? "font-semibold text-asked" : "text-ink-2"}>{row.why}</span>
          </li>
        ))}
      </ul>
      {minds.length > 0 && (
        <ul aria-label="Mind" className="mb-3 border-b border-rule pb-3">
          {minds.map((said) => (
            <li key={said} className="text-body leading-5">
              <strong className="text-stale">Mind:</strong> {said}.
            </li>
          ))}
        </ul>
      )}
      <h2 className="text-cell">Tonight's numbers</h2>
      <p className="mb-1 text-small text-ink-2">
        Tick what is typed into the slicing program; press a number to copy it. A pencil or a tag in front of
        it: never measured here.
      </p>
      <ul>
        {tonight.map((line) => (
          <TonightLine
            key={line.kind}
            line={line}
            setupId={bench.setup.id}
            onType={() => onType(line.step)}
          />
        ))}
      </ul>
      <Link
        className="link flex min-h-11 items-center gap-2 text-body"
        to={`/setups/${bench.setup.id}/pre-flight`}
      >
        Before the print: eight ticks <KeyHint>F</KeyHint>
      </Link>
      <Link
        className="link flex min-h-11 items-center gap-2 text-body"
        to={`/setups/${bench.setup.id}/file-check`}
      >
        Check a sliced file <KeyHint>O</KeyHint>
      </Link>
    </section>
  );
}

type LineProps = { line: Schemas["TonightLineOut"]; setupId: number; onType: () => void };

function TonightLine({ line, setupId, onType }: LineProps) {
  const [clicked, setClicked] = useState<boolean | null>(null);
  const tick = useKeptWrite((ticked: boolean) => ({
    path: `/api/v1/values/${line.value?.id ?? 0}/ticks`,
    body: { ticked },
    what: `The tick of ${line.name}`,
    to: "/",
  }));
  const { said, copy } = useCopy(line.text);
  const set = (ticked: boolean) => {
    setClicked(ticked);
    // One that waits to be sent stands as it was ticked.
    tick.mutate(ticked, { onSettled: (waits) => !waits && setClicked(null) });
  };
  const told = !["fresh", "ageing", "assumed"].includes(line.standing) || line.remark;
  const shaky = line.standing === "stale" || line.standing === "hold" || line.standing === "out";
  return (
    <li className="border-b border-rule py-0.5 last:border-b-0">
      <div className="flex min-h-11 items-center gap-2 desk:min-h-9">
        <label className="flex min-h-11 min-w-0 flex-1 items-center gap-2 desk:min-h-9">
          <input
            type="checkbox"
            className="size-5 shrink-0"
            aria-label={`${line.name} is typed in`}
            disabled={!line.value}
            checked={clicked ?? line.typed_in}
            onChange={(event) => {
              const ticked = event.target.checked;
              set(ticked);
              const said = `${line.name} ${ticked ? "ticked" : "no longer ticked"}`;
              remember({ said, undo: () => set(!ticked) });
            }}
          />
          <span className="min-w-0 flex-1 text-body leading-5">{line.name}</span>
        </label>
        {line.value ? (
          <span className="shrink-0 text-right whitespace-nowrap">
            <span className="mr-1 text-ink-2">
              <OriginGlyph origin={line.value.provenance.origin} />
              <span className="sr-only">{line.value.provenance.sentence}, </span>
            </span>
            <button
              type="button"
              className={`min-h-9 cursor-pointer ${shaky ? "text-body text-ink-2" : "text-name font-[650]"}`}
              title="Copy"
              aria-label={`Copy ${line.name}, ${line.text}`}
              onClick={copy}
            >
              {said ?? line.text}
            </button>
            <span className="text-small text-ink-2">
              {line.half_width_text && ` ${line.half_width_text}`} {line.unit_text}
            </span>
          </span>
        ) : (
          <button type="button" className="link min-h-9 shrink-0 text-small" onClick={onType}>
            {line.standing_word}: type it in
          </button>
        )}
      </div>
      {(told || !line.value) && (
        <p className="pb-1 pl-7 text-small leading-4 text-ink-2">
          {line.value ? (
            <>
              <span className={WORD_COLOUR[line.standing]}>{line.standing_word}</span>
              {line.remark && `: ${line.remark}`}
            </>
          ) : (
            <>
              {line.usual} {line.offer && <TakeUsual line={line} setupId={setupId} />}
            </>
          )}
        </p>
      )}
      {line.sum && <p className="pb-1 pl-7 text-small leading-4 text-ink-2">{line.sum}</p>}
    </li>
  );
}

/** What is usual, set by one press where nothing is set; it stands as assumed. */
function TakeUsual({ line, setupId }: { line: Schemas["TonightLineOut"]; setupId: number }) {
  const take = useWrite(() =>
    answer(
      api.POST("/api/v1/setups/{setup_id}/values", {
        params: { path: { setup_id: setupId }, header: writeHeaders() },
        body: { origin: "family", note: "", values: { [line.kind]: line.offer } },
      }),
    ),
  );
  return (
    <>
      <button
        type="button"
        className="link min-h-11 text-small desk:min-h-6"
        aria-label={`Take ${line.offer} for ${line.name}`}
        disabled={take.isPending}
        onClick={() => take.mutate(undefined)}
      >
        Take {line.offer}
      </button>
      {take.error && (
        <span role="alert" className="block font-semibold text-out">
          {take.error.fields[0]?.message ?? take.error.detail}
        </span>
      )}
    </>
  );
}
