import type { Schemas } from "../../api/client";
import type { AskedFor, Parcel } from "../../api/outbox";

type Entry = Schemas["EntryOut"];

/** The place that comes next: the first that neither has its reading nor one that waits to be sent. */
export function askedNow(entry: Entry | null, waiting: readonly Parcel[]): AskedFor | undefined {
  return entry?.ahead.find(({ place }) => !waiting.some((parcel) => parcel.place?.place === place));
}

/** Places as they are drawn: what waits to be sent stands where it was read, and the jaws stand at the one `asked` for. */
export function spotsNow(
  entry: Entry | null,
  waiting: readonly Parcel[],
  asked: AskedFor | null,
): Entry["spots"] {
  return (entry?.spots ?? []).map((spot) => {
    const parcel = waiting.find((row) => row.place?.place === spot.place);
    if (spot.place === asked?.place) return { ...spot, state: "next" };
    if (parcel) return { ...spot, state: "taken", text: parcel.typed };
    return { ...spot, state: spot.state === "next" ? "asked" : spot.state };
  });
}
