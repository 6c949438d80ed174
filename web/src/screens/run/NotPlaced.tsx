import type { AskedFor, Parcel } from "../../api/outbox";
import { PLACE_TAKEN } from "./entry";

type Props = {
  parcels: readonly Parcel[];
  asked: AskedFor | null;
  onAgain: (parcel: Parcel) => void;
  onDrop: (parcel: Parcel) => void;
};

/** Readings the workshop refused after they had left the field: kept here until a person says what becomes of them. */
export function NotPlaced({ parcels, asked, onAgain, onDrop }: Props) {
  if (parcels.length === 0) return null;
  return (
    <section aria-label="Not placed" className="mt-3 border-t-2 border-out pt-2">
      <h2 className="text-name text-out">Not placed</h2>
      <ul>
        {parcels.map((parcel) => (
          <li key={parcel.key} className="border-b border-rule py-2">
            <strong className="text-cell">{parcel.typed}</strong>{" "}
            <span className="text-care">{parcel.refusal?.reason}</span>
            <div className="mt-1 flex gap-3">
              {parcel.refusal?.confirmable && (
                <button type="button" className="button" onClick={() => onAgain(parcel)}>
                  Take as typed
                </button>
              )}
              {parcel.refusal?.code === PLACE_TAKEN && asked && (
                <button type="button" className="button" onClick={() => onAgain(parcel)}>
                  It was read at {asked.label}
                </button>
              )}
              <button type="button" className="button" onClick={() => onDrop(parcel)}>
                Let it go
              </button>
            </div>
          </li>
        ))}
      </ul>
    </section>
  );
}
