import { saveFile } from "./saveFile";
import { useWrite } from "./useWrite";

type Props = { label: string; fetch: () => Promise<{ name: string; text: string }> };

/** A button that saves a table for a spreadsheet. */
export function SaveTable({ label, fetch }: Props) {
  const save = useWrite(async () => {
    const { name, text } = await fetch();
    saveFile(name, new Blob([text], { type: "text/csv" }));
  });
  return (
    <>
      <button
        type="button"
        className="button"
        disabled={save.isPending}
        onClick={() => save.mutate(undefined)}
      >
        {label}
      </button>
      {save.error && (
        <p role="alert" className="self-center text-care font-semibold text-out">
          {save.error.detail}
        </p>
      )}
    </>
  );
}
