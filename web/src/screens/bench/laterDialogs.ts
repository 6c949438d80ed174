import { later } from "../../shell/later";

export const SetupPicker = later(async () => (await import("./SetupPicker")).SetupPicker);
export const BeforeDialog = later(async () => (await import("./BeforeDialog")).BeforeDialog);
export const ChangeDialog = later(async () => (await import("./ChangeDialog")).ChangeDialog);
export const FindDialog = later(async () => (await import("./FindDialog")).FindDialog);
export const NoteDialog = later(async () => (await import("./NoteDialog")).NoteDialog);
export const PickDialog = later(async () => (await import("./PickDialog")).PickDialog);
export const PrintDialog = later(async () => (await import("./PrintDialog")).PrintDialog);
export const ReadBackDialog = later(async () => (await import("./ReadBackDialog")).ReadBackDialog);
export const RemoveDialog = later(async () => (await import("./RemoveDialog")).RemoveDialog);
export const RoomDialog = later(async () => (await import("./RoomDialog")).RoomDialog);
export const TypeDialog = later(async () => (await import("./TypeDialog")).TypeDialog);
export const SafetyDialog = later(async () => (await import("./SafetyDialog")).SafetyDialog);
