import { useParams } from "react-router";
import type { Schemas } from "../../api/client";
import { useStart } from "../../api/queries";
import { isShown, valuesOf } from "../../shell/form";
import { Page } from "../../shell/Page";
import { Trouble, Waiting } from "../../shell/Trouble";

const BOXES = [1, 2, 3, 4, 5, 6];

/** The run sheet, A4: how it goes, what can hurt, and empty boxes, so that measuring can be done on paper. */
export function SheetScreen() {
  const { setupId, step } = useParams();
  const start = useStart(Number(setupId), step as Schemas["Step"]);
  const method = start.data?.methods.find((row) => row.method === start.data.method);
  return (
    <Page tab="Bench" name="Run sheet" keys={[{ key: "P", label: "print", run: () => window.print() }]}>
      {start.isPending && <Waiting />}
      {start.isError && <Trouble error={start.error} onAgain={() => start.refetch()} />}
      {start.data && method && <Sheet start={start.data} method={method} />}
      <div className="no-print px-3 pb-4 desk:px-6">
        <button type="button" className="button" onClick={() => window.print()}>
          Print
        </button>
      </div>
    </Page>
  );
}

type SheetProps = { start: Schemas["StartOut"]; method: Schemas["StartMethodOut"] };

function Sheet({ start, method }: SheetProps) {
  const values = valuesOf(method.fields, {});
  return (
    <article aria-label="Run sheet" className="paper max-w-200 px-3 py-3 desk:px-6">
      <h1 className="text-verdict font-bold">{start.name} on paper</h1>
      <p className="mb-3 border-b-2 border-ink pb-1 text-body">{start.setup.title}</p>
      <p className="text-reason font-bold">{method.name}</p>
      <ul className="mt-1 space-y-1 text-reason">
        {method.fields
          .filter((field) => isShown(field, values))
          .map((field) => (
            <li key={field.name}>
              {field.label}: <strong>{field.value || "__________"}</strong> {field.unit}{" "}
              <span className="text-small text-ink-2">{field.hint}</span>
            </li>
          ))}
      </ul>
      <ol className="my-3 list-decimal space-y-1 pl-6 text-reason">
        {method.procedure.map((line) => (
          <li key={line}>{line}</li>
        ))}
      </ol>
      <ul className="mb-3 space-y-1 text-care">
        {method.cautions.map((caution) => (
          <li key={caution.lead}>
            <strong>{caution.lead}</strong> {caution.text}
          </li>
        ))}
      </ul>
      <p className="text-reason">Read: {method.reads}. Tool: ____________________ Day: __________</p>
      <div className="mt-3 grid grid-cols-3 gap-3">
        {BOXES.map((box) => (
          <div key={box} className="h-20 border-2 border-ink p-1 text-small">
            {box}
          </div>
        ))}
      </div>
    </article>
  );
}
