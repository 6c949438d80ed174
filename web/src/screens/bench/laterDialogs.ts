import { laterSheet } from "../../shell/later";

export const AttemptDialog = laterSheet(
  async () => (await import("../attempts/AttemptDialog")).AttemptDialog,
);
export const SetupPicker = laterSheet(async () => (await import("./SetupPicker")).SetupPicker);
export const BeforeDialog = laterSheet(async () => (await import("./BeforeDialog")).BeforeDialog);
export const ChangeDialog = laterSheet(async () => (await import("./ChangeDialog")).ChangeDialog);
export const FindDialog = laterSheet(async () => (await import("./FindDialog")).FindDialog);
export const NoteDialog = laterSheet(async () => (await import("./NoteDialog")).NoteDialog);
export const PickDialog = laterSheet(async () => (await import("./PickDialog")).PickDialog);
export const ReadBackDialog = laterSheet(async () => (await import("./ReadBackDialog")).ReadBackDialog);
export const RemoveDialog = laterSheet(async () => (await import("./RemoveDialog")).RemoveDialog);
export const RoomDialog = laterSheet(async () => (await import("./RoomDialog")).RoomDialog);
export const TypeDialog = laterSheet(async () => (await import("./TypeDialog")).TypeDialog);
export const SafetyDialog = laterSheet(async () => (await import("./SafetyDialog")).SafetyDialog);
