import { later } from "../../shell/later";

export const SetupPicker = later(async () => (await import("./SetupPicker")).SetupPicker);
export const ChangeDialog = later(async () => (await import("./ChangeDialog")).ChangeDialog);
export const TypeDialog = later(async () => (await import("./TypeDialog")).TypeDialog);
export const SafetyDialog = later(async () => (await import("./SafetyDialog")).SafetyDialog);
