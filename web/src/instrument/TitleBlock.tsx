import type { ReactNode } from "react";
import { KeyHint } from "./KeyHint";

type Cell = {
  label: string;
  value: ReactNode;
  detail?: ReactNode;
  keyHint?: string;
  onPress?: () => void;
  wide?: boolean;
};

type Props = { cells: Cell[]; folded?: string; onFolded?: () => void };

/** The ruled line of cells under the head: label, value, detail. On a phone `folded` stands for them in one line. */
export function TitleBlock({ cells, folded, onFolded }: Props) {
  return (
    <>
      {folded && !onFolded && (
        <p className="shrink-0 truncate border-b-2 border-ink bg-sheet px-3 py-1.5 text-body desk:hidden">
          {folded}
        </p>
      )}
      {folded && onFolded && (
        <button
          type="button"
          onClick={onFolded}
          className="block min-h-11 w-full shrink-0 cursor-pointer border-b-2 border-ink bg-sheet px-3 py-1.5 text-left text-body desk:hidden"
        >
          <span className="link">{folded}</span>
        </button>
      )}
      <Cells cells={cells} className={folded ? "hidden desk:flex" : "flex"} />
    </>
  );
}

function Cells({ cells, className }: { cells: Cell[]; className: string }) {
  return (
    <div
      className={`${className} shrink-0 flex-wrap border-b-2 border-ink bg-sheet desk:min-h-18 desk:flex-nowrap`}
    >
      {cells.map((cell) => (
        <div
          key={cell.label}
          className={`relative min-w-0 border-r border-rule px-3 py-1 last:border-r-0 desk:px-6 desk:py-1.5
          ${cell.wide ? "basis-full desk:flex-[2_1_auto]" : "flex-1 basis-0 desk:flex-auto"}`}
        >
          <div className="truncate text-small text-ink-2">{cell.label}</div>
          <div className="text-reason leading-7 font-[650] desk:text-cell desk:leading-6">{cell.value}</div>
          {cell.detail && (
            <div className="hidden text-small leading-4 text-ink-2 desk:block">{cell.detail}</div>
          )}
          {cell.keyHint && (
            <span className="absolute top-2 right-2">
              <KeyHint>{cell.keyHint}</KeyHint>
            </span>
          )}
          {cell.onPress && (
            <button
              type="button"
              onClick={cell.onPress}
              aria-label={`${cell.label}: change`}
              className="absolute inset-0 cursor-pointer"
            />
          )}
        </div>
      ))}
    </div>
  );
}
