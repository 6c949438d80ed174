import { later } from "../../shell/later";

export const SetupPicker = later(async () => (await import("./SetupPicker")).SetupPicker);
export const ChangeDialog = later(async () => (await import("./ChangeDialog")).ChangeDialog);
