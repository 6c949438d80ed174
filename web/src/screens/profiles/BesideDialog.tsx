import { useState } from "react";
import { useBeside } from "../../api/queries";
import { Figure } from "../../instrument/Figure";
import { Modal } from "../../shell/Modal";
import { Trouble } from "../../shell/Trouble";
import { OtherSetups } from "./OtherSetups";

/** Two setups side by side: the same spool on two machines, or two spools on one. */
export function BesideDialog({ setupId, onClose }: { setupId: number; onClose: () => void }) {
  const [other, setOther] = useState<number | null>(null);
  const beside = useBeside(setupId, other);
  return (
    <Modal title="Side by side" onClose={onClose} wide>
      {other === null && <OtherSetups setupId={setupId} onChosen={setOther} />}
      {beside.isError && <Trouble error={beside.error} onAgain={() => beside.refetch()} />}
      {beside.data && (
        <>
          <table className="w-full text-left text-body">
            <thead>
              <tr className="border-b-2 border-ink align-bottom text-small">
                <th scope="col" className="py-1 pr-3">
                  Value
                </th>
                <th scope="col" className="py-1 pr-3">
                  {beside.data.left}
                </th>
                <th scope="col" className="py-1 pr-3">
                  {beside.data.right}
                </th>
                <th scope="col" className="py-1">
                  Apart
                </th>
              </tr>
            </thead>
            <tbody>
              {beside.data.rows.map((row) => (
                <tr key={row.kind} className="border-b border-rule">
                  <th scope="row" className="py-1 pr-3 font-semibold">
                    {row.name}
                  </th>
                  {[row.left, row.right].map((value, index) => (
                    <td key={index === 0 ? "here" : "there"} className="py-1 pr-3">
                      {value ? (
                        <Figure text={value.text} halfWidth={value.half_width_text} unit={value.unit_text} />
                      ) : (
                        "–"
                      )}
                    </td>
                  ))}
                  <td className="py-1 text-ink-2">{row.said}</td>
                </tr>
              ))}
            </tbody>
          </table>
          <button type="button" className="button mt-4" onClick={() => setOther(null)}>
            Another one
          </button>
        </>
      )}
    </Modal>
  );
}
