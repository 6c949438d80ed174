import { useParams } from "react-router";
import { answer, api } from "../../api/client";
import { useHelp } from "../../api/queries";
import { KeyHint } from "../../instrument/KeyHint";
import { Page } from "../../shell/Page";
import { saveFile } from "../../shell/saveFile";
import { Trouble, Waiting } from "../../shell/Trouble";
import { useWrite } from "../../shell/useWrite";

/** A case for somebody elsewhere: one page, and one file that any browser opens. */
export function HelpScreen() {
  const faultId = Number(useParams().faultId);
  const help = useHelp(faultId);
  const page = help.data;
  const save = useWrite(
    () => answer(api.GET("/api/v1/faults/{fault_id}/help-file", { params: { path: { fault_id: faultId } } })),
    (file) => file && saveFile(file.name, new Blob([file.text], { type: "text/html" })),
  );
  return (
    <Page
      tab="Faults"
      name="Help page"
      back={`/faults/${faultId}`}
      keys={[
        { key: "S", label: "save as one file", run: () => save.mutate(undefined) },
        { key: "P", label: "print", run: () => window.print() },
      ]}
    >
      <article className="mx-auto w-full max-w-220 px-3 py-4 desk:px-6">
        {help.isPending && <Waiting />}
        {help.isError && !page && <Trouble error={help.error} onAgain={() => help.refetch()} />}
        {page && (
          <>
            <h1 className="text-cell">{page.title}</h1>
            <div className="no-print mb-2 flex flex-wrap items-center gap-x-6">
              <p className="text-body text-ink-2">
                For somebody elsewhere, who needs no Ubrex to read it. It names nobody but those who typed
                their names.
              </p>
              <button type="button" className="button" onClick={() => save.mutate(undefined)}>
                Save as one file <KeyHint>S</KeyHint>
              </button>
            </div>
            {page.missing && <p className="text-reason font-semibold text-stale">{page.missing}</p>}
            {page.sections.map((part) => (
              <section key={part.heading} className="mt-4">
                <h2 className="border-b-2 border-ink text-name">{part.heading}</h2>
                {part.lines.map((line) => (
                  <p key={line} className="border-b border-rule py-1 text-body">
                    {line}
                  </p>
                ))}
                {part.rows.length > 0 && (
                  <dl className="text-body">
                    {part.rows.map((row) => (
                      <div
                        key={row.name}
                        className="grid gap-x-6 border-b border-rule py-1 desk:grid-cols-[14rem_minmax(0,1fr)]"
                      >
                        <dt className="font-semibold">{row.name}</dt>
                        <dd>{row.text}</dd>
                      </div>
                    ))}
                  </dl>
                )}
              </section>
            ))}
            {page.photos.map((photo) => (
              <figure key={`${photo.door} ${photo.id}`} className="mt-4">
                <img
                  src={`/api/v1/${photo.door}/${photo.id}`}
                  alt={photo.said}
                  className="h-auto max-w-full border border-edge"
                />
                <figcaption className="text-small text-ink-2">{photo.said}</figcaption>
              </figure>
            ))}
          </>
        )}
      </article>
    </Page>
  );
}
