import { laterSheet } from "./later";
import type { SheetProps } from "./Sheet";

/** A sheet laid over the page; what keeps the focus in it is fetched after the first screen stands. */
export const Modal = laterSheet<SheetProps>(async () => (await import("./Sheet")).Sheet);
