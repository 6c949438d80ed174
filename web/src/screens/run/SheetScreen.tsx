import { useParams } from "react-router";
import { useStartForm } from "../../api/queries";
import { Page } from "../../shell/Page";
import { Trouble, Waiting } from "../../shell/Trouble";

const BOXES = [1, 2, 3, 4, 5, 6];

/** The run sheet, A4: how it goes, what can hurt, and empty boxes, so that measuring can be done on paper. */
export function SheetScreen() {
  const form = useStartForm(Number(useParams().setupId));
  const method = form.data?.methods.find((row) => row.method === form.data.method);
  return (
    <Page tab="Bench" keys={[{ key: "P", label: "print", run: () => window.print() }]}>
      {form.isPending && <Waiting />}
      {form.isError && <Trouble error={form.error} onAgain={() => form.refetch()} />}
      {form.data && method && (
        <article aria-label="Run sheet" className="paper max-w-200 px-3 py-3 desk:px-6">
          <h1 className="text-verdict font-bold">E-steps on paper</h1>
          <p className="mb-3 border-b-2 border-ink pb-1 text-body">{form.data.setup.title}</p>
          <p className="text-reason">
            <strong>{method.name}.</strong> The machine's {form.data.setting_name} now: _______{" "}
            {form.data.unit_text}. {form.data.how_to_read}
          </p>
          <ol className="my-3 list-decimal space-y-1 pl-6 text-reason">
            {method.procedure.map((line) => (
              <li key={line}>{line}</li>
            ))}
          </ol>
          <ul className="mb-3 space-y-1 text-care">
            {form.data.cautions[form.data.method]?.map((caution) => (
              <li key={caution.lead}>
                <strong>{caution.lead}</strong> {caution.text}
              </li>
            ))}
          </ul>
          <p className="text-reason">
            To feed: {form.data.commanded} mm. Read: {method.reads}. Tool: ____________________ Day:
            __________
          </p>
          <div className="mt-3 grid grid-cols-3 gap-3">
            {BOXES.map((box) => (
              <div key={box} className="h-20 border-2 border-ink p-1 text-small">
                {box}
              </div>
            ))}
          </div>
        </article>
      )}
      <div className="no-print px-3 pb-4 desk:px-6">
        <button type="button" className="button" onClick={() => window.print()}>
          Print
        </button>
      </div>
    </Page>
  );
}
