import { laterSheet } from "./later";
import type { SheetProps } from "./Sheet";

/** A sheet laid over the page. What holds the focus in it is heavy, and no screen needs it before it stands. */
export const Modal = laterSheet<SheetProps>(async () => (await import("./Sheet")).Sheet);
