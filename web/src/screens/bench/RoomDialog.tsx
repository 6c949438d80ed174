import { Modal } from "../../shell/Modal";
import { Room } from "../machines/Room";

/** The air tonight. */
export function RoomDialog({ onClose }: { onClose: () => void }) {
  return (
    <Modal title="The room tonight" onClose={onClose} wide>
      <Room autoFocus />
    </Modal>
  );
}
