import type { Schemas } from "../../api/client";
import { TitleBlock } from "../../instrument/TitleBlock";
import { keyOf } from "./actions";

type Props = { run: Schemas["RunOut"]; onInstrument?: (() => void) | undefined };

/** The title block of a run: what, how far, at which setting, with which tool. */
export function RunTitle({ run, onInstrument }: Props) {
  const live = run.readings.filter((reading) => reading.struck === null).length;
  const asked = Math.max(run.entry?.asked ?? 0, live);
  return (
    <TitleBlock
      folded={`Run ${run.id}, ${run.name}: ${live} of ${asked} readings, ${run.instrument.name}`}
      cells={[
        { label: `Run ${run.id}, ${run.setup.machine}`, value: run.name, detail: run.method_name },
        ...run.cells,
        {
          label: "Tool",
          value: run.instrument.name,
          detail: [run.instrument.detail, run.instrument.zero_checked].filter(Boolean).join(", "),
          ...(onInstrument ? { keyHint: keyOf("instrument"), onPress: onInstrument } : {}),
        },
        {
          label: "Readings",
          value: `${live} of ${asked}`,
          detail: run.state === "open" ? "first asked for" : run.state,
        },
      ]}
    />
  );
}
