import { useQueryClient } from "@tanstack/react-query";
import { type DragEvent, useRef, useState } from "react";
import { useParams } from "react-router";
import { answer, api, type Problem, type Schemas, writeHeaders } from "../../api/client";
import { keys as queryKeys, useSetup } from "../../api/queries";
import { KeyHint } from "../../instrument/KeyHint";
import { LayerView } from "../../instrument/LayerView";
import { Field } from "../../shell/Field";
import { Finder } from "../../shell/Finder";
import { Page } from "../../shell/Page";
import { useWrite } from "../../shell/useWrite";
import { AttemptDialog } from "../bench/laterDialogs";

type Check = Schemas["FileCheckOut"];
type Taken = { name: string; text: string; check: Check };
type Difference = Schemas["FileDifferenceOut"];

const LARGEST = 60_000_000;
const LONGEST_NAME = 200;

/** A sliced file held against the setup: what would go wrong, whether it matches tonight's numbers, how another differs. */
export function FileCheckScreen() {
  const setupId = Number(useParams().setupId);
  const setup = useSetup(setupId);
  const [taken, setTaken] = useState<Taken | null>(null);
  const [other, setOther] = useState<{ name: string; rows: Difference[] } | null>(null);
  const [writing, setWriting] = useState(false);
  const client = useQueryClient();
  const [busy, setBusy] = useState<Busy | null>(null);
  const [trouble, setTrouble] = useState("");
  const input = useRef<HTMLInputElement>(null);
  const second = useRef<HTMLInputElement>(null);

  const stop = useRef<AbortController | null>(null);

  const attempt = async (name: string, act: (reading: Reading) => Promise<void>) => {
    stop.current?.abort();
    const mine = new AbortController();
    stop.current = mine;
    setBusy({ name, share: 0 });
    setTrouble("");
    const told = (share: number) => !mine.signal.aborted && setBusy({ name, share });
    try {
      await act({ signal: mine.signal, told });
    } catch (error) {
      if (!mine.signal.aborted) {
        setTrouble((error as Problem).fields?.[0]?.message ?? (error as Problem).detail);
      }
    }
    if (stop.current === mine) setBusy(null);
  };
  const take = (file: File) =>
    attempt(file.name, async (reading) => {
      const text = await read(file, reading);
      const check = await answer(
        api.POST("/api/v1/setups/{setup_id}/file-checks", {
          params: { path: { setup_id: setupId }, query: { name: file.name.slice(0, LONGEST_NAME) } },
          body: text,
          bodySerializer: (body) => body,
          headers: { "content-type": "text/plain" },
          signal: reading.signal,
        }),
      );
      // The form of an attempt offers it at once.
      void client.invalidateQueries({ queryKey: queryKeys.attemptForm(setupId), refetchType: "all" });
      setTaken({ name: file.name, text, check });
      setOther(null);
    });
  const compare = (file: File) =>
    attempt(file.name, async (reading) => {
      if (!taken) return;
      const rows = await answer(
        api.POST("/api/v1/setups/{setup_id}/file-comparisons", {
          params: { path: { setup_id: setupId } },
          body: { left: taken.text, right: await read(file, reading) },
          signal: reading.signal,
        }),
      );
      setOther({ name: file.name, rows });
    });
  const dropped = (event: DragEvent) => {
    event.preventDefault();
    const [file, another] = event.dataTransfer.files;
    if (file) void take(file).then(() => another && compare(another));
  };
  const keys = [
    ...(busy ? [{ key: "Escape", label: "stop reading", run: () => stop.current?.abort() }] : []),
    { key: "O", label: "another file", run: () => input.current?.click() },
    ...(taken ? [{ key: "B", label: "beside a second file", run: () => second.current?.click() }] : []),
  ];
  return (
    <Page tab="Bench" name="File check" keys={keys} back="/" aside={setup.data?.title} setupId={setupId}>
      {/* biome-ignore lint/a11y/noStaticElementInteractions: dropping is a second way; the button is the first. */}
      <div
        className="min-h-0 flex-1 overflow-y-auto px-3 py-4 desk:px-6"
        onDragOver={(event) => event.preventDefault()}
        onDrop={dropped}
      >
        <div className="mb-3 flex flex-wrap items-center gap-x-5 gap-y-2">
          <h1 className="text-verdict">{taken ? taken.name : "Check a sliced file"}</h1>
          <Picker
            label={taken ? "Another file" : "Choose a file"}
            main={!taken}
            input={input}
            onFile={take}
          />
          {taken && <Picker label="Beside a second file" input={second} onFile={compare} />}
          {taken && !taken.check.harmful && (
            <button type="button" className="button" onClick={() => setWriting(true)}>
              Attempt with it <KeyHint>A</KeyHint>
            </button>
          )}
        </div>
        {!taken && (
          <p className="max-w-160 text-reason">
            Drop it anywhere here, or choose it. It is held against this setup&apos;s limits and
            tonight&apos;s numbers, line by line. The file stays on this page and nothing is sent to the
            machine; its name and numbers are kept for the attempt that is printed from it (A).
          </p>
        )}
        {trouble && (
          <p role="alert" className="my-2 text-care font-semibold text-out">
            {trouble}
          </p>
        )}
        {busy && <Progress busy={busy} onCancel={() => stop.current?.abort()} />}
        {taken && <Checked check={taken.check} />}
        {other && <Beside left={taken?.name ?? ""} right={other.name} rows={other.rows} />}
        {taken && <Settings key={taken.name} setupId={setupId} check={taken.check} />}
      </div>
      {writing && <AttemptDialog setupId={setupId} onClose={() => setWriting(false)} />}
    </Page>
  );
}

type Busy = { name: string; share: number };
type Reading = { signal: AbortSignal; told: (share: number) => void };

/** A long file is read in pieces, so that it can be seen how far it is, and stopped. */
async function read(file: File, { signal, told }: Reading): Promise<string> {
  if (file.size > LARGEST) {
    const detail = `${file.name} has ${Math.round(file.size / 1e6)} MB; up to 60 MB are read.`;
    throw { code: "too_large", detail, fields: [] };
  }
  const reader = file.stream().getReader();
  const decoder = new TextDecoder();
  const parts: string[] = [];
  for (let done = 0; ; ) {
    signal.throwIfAborted();
    const { value, done: ended } = await reader.read();
    if (ended) break;
    parts.push(decoder.decode(value, { stream: true }));
    done += value.length;
    told(file.size ? done / file.size : 1);
  }
  return parts.join("") + decoder.decode();
}

/** How far a file was read; what it is held against takes a moment more. */
function Progress({ busy, onCancel }: { busy: Busy; onCancel: () => void }) {
  const percent = Math.round(100 * busy.share);
  return (
    <div role="status" className="my-3 flex max-w-160 flex-wrap items-center gap-4">
      <span className="text-body">
        {percent < 100 ? `Reading ${busy.name}: ${percent} %` : `Holding ${busy.name} against the setup …`}
      </span>
      <progress className="h-3 flex-1" max={100} value={percent} aria-label={`Reading ${busy.name}`} />
      <button type="button" className="button" onClick={onCancel}>
        Stop <KeyHint>Esc</KeyHint>
      </button>
    </div>
  );
}

type PickerProps = {
  label: string;
  main?: boolean;
  input: React.RefObject<HTMLInputElement | null>;
  onFile: (file: File) => void;
};

function Picker({ label, main, input, onFile }: PickerProps) {
  return (
    <label
      className={`button cursor-pointer focus-within:outline-3 focus-within:outline-mark ${main ? "button-main" : ""}`}
    >
      {label}
      <input
        ref={input}
        type="file"
        className="sr-only"
        aria-label={label}
        onChange={(event) => {
          const [file] = event.target.files ?? [];
          if (file) onFile(file);
          event.target.value = "";
        }}
      />
    </label>
  );
}

const COLOURS = { harm: "text-out", look: "text-stale", untold: "text-ink", fine: "text-asked" } as const;

function Checked({ check }: { check: Check }) {
  return (
    <div className="grid grid-cols-[minmax(0,1fr)] gap-x-8 gap-y-4 wide:grid-cols-[minmax(0,1fr)_minmax(0,1fr)]">
      <div>
        <h2 className={`text-verdict font-bold ${COLOURS[check.end]}`} role="status">
          {check.verdict}
        </h2>
        <p className="mb-2 text-body text-ink-2">{check.remarks.join("; ")}</p>
        <ul className="border-t-2 border-ink">
          {check.findings.map((row) => (
            <li key={row.code} className="border-b border-rule py-2 text-care">
              <strong className={row.harmful ? "text-out" : "text-stale"}>{row.lead}</strong> {row.text}
              {row.where && <span className="block text-small text-ink-2">{row.where}</span>}
            </li>
          ))}
        </ul>
        <table className="mt-4 w-full text-left">
          <caption className="mb-1 text-left text-name font-[650]">
            Tonight&apos;s numbers, and the file
          </caption>
          <thead className="border-b-2 border-ink text-small text-ink-2">
            <tr>
              <th className="font-normal">Number</th>
              <th className="font-normal">Tonight</th>
              <th className="font-normal">In the file</th>
            </tr>
          </thead>
          <tbody>
            {check.matches.map((row) => (
              <tr key={row.kind} className="border-b border-rule">
                <td className="py-1.5 pr-2 text-body">{row.name}</td>
                <td className="py-1.5 pr-2 text-name">{row.tonight}</td>
                <td className="py-1.5 text-name">
                  {row.file}{" "}
                  {row.known && (
                    <span className={`text-body font-semibold ${row.same ? "text-asked" : "text-stale"}`}>
                      {row.same ? "the same" : "differs"}
                    </span>
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <LayerView view={check.view} />
    </div>
  );
}

function Beside({ left, right, rows }: { left: string; right: string; rows: readonly Difference[] }) {
  return (
    <table className="mt-5 w-full text-left">
      <caption className="mb-1 text-left text-name font-[650]">
        {rows.length === 0 ? `${left} and ${right} agree in every setting` : `${rows.length} settings differ`}
      </caption>
      {rows.length > 0 && (
        <>
          <thead className="border-b-2 border-ink text-small text-ink-2">
            <tr>
              <th className="font-normal">Setting</th>
              <th className="font-normal">{left}</th>
              <th className="font-normal">{right}</th>
            </tr>
          </thead>
          <tbody>
            {rows.map((row) => (
              <tr key={`${row.by}${row.name}`} className="border-b border-rule align-top">
                <td className="py-1.5 pr-3 text-body">{row.name}</td>
                <td className="py-1.5 pr-3 text-body break-all">{row.left || "not there"}</td>
                <td className="py-1.5 text-body break-all">{row.right || "not there"}</td>
              </tr>
            ))}
          </tbody>
        </>
      )}
    </table>
  );
}

type SettingsProps = { setupId: number; check: Check };

/** What the remarks say; a person says once what a setting means, and takes its value along as read from a file. */
function Settings({ setupId, check }: SettingsProps) {
  const [chosen, setChosen] = useState<Record<string, string>>(() =>
    Object.fromEntries(check.settings.flatMap((row) => (row.kind ? [[row.name, row.kind]] : []))),
  );
  const [note, setNote] = useState("");
  const rows = check.settings.filter((row) => chosen[row.name]);
  const take = useWrite(() =>
    answer(
      api.POST("/api/v1/setups/{setup_id}/file-values", {
        params: { path: { setup_id: setupId }, header: writeHeaders() },
        body: {
          program: check.program,
          note,
          values: rows.map((row) => ({
            name: row.name,
            value: row.value,
            kind: chosen[row.name] as Schemas["FileValueIn"]["kind"],
          })),
        },
      }),
    ),
  );
  if (check.settings.length === 0) return null;
  return (
    <details className="mt-5">
      <summary className="min-h-11 cursor-pointer text-name font-[650]">
        What its remarks say ({check.settings.length})
      </summary>
      <p className="mb-2 max-w-160 text-body">
        Ubrex guesses at no program&apos;s words. Say what a setting means: it is remembered for files of this
        program, and its value can be taken as <em>read from a file, not measured</em>.
      </p>
      {take.error && (
        <Field label="Why, where one lies outside what is usual" value={note} onChange={setNote} />
      )}
      {rows.length > 0 && (
        <button type="button" className="button my-2" onClick={() => take.mutate(undefined)}>
          Take {rows.length === 1 ? "this value" : `these ${rows.length} values`}
        </button>
      )}
      {take.isSuccess && (
        <p role="status" className="text-reason text-asked">
          Taken. They stand on the bench as read from a file.
        </p>
      )}
      {take.error && (
        <p role="alert" className="text-care font-semibold text-out">
          {take.error.fields[0]?.message ?? take.error.detail}
        </p>
      )}
      <table className="w-full text-left">
        <tbody>
          {check.settings.map((row) => (
            <tr key={row.name} className="border-b border-rule align-middle">
              <td className="py-1 pr-3 text-body break-all desk:w-72">{row.name}</td>
              <td className="py-1 pr-3 text-body break-all text-ink-2">{row.value}</td>
              <td className="w-36 py-1 desk:w-64">
                {row.is_number && (
                  <Finder
                    label={`${row.name} means`}
                    value={chosen[row.name] ?? ""}
                    onChange={(meaning) => setChosen((before) => ({ ...before, [row.name]: meaning }))}
                    options={[{ value: "", text: "not said" }, ...check.meanings]}
                  />
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </details>
  );
}
