import { answer, api, type Schemas, writeHeaders } from "../../api/client";
import { remember } from "../../shell/undo";
import { useWrite } from "../../shell/useWrite";

/** Log a change, or take one back. Both are remembered, so that each can be undone by the other. */
export function useChanges(setupId: number, onLogged: () => void = () => undefined) {
  const send = (body: Schemas["ChangeIn"]) =>
    answer(
      api.POST("/api/v1/setups/{setup_id}/changes", {
        params: { path: { setup_id: setupId }, header: writeHeaders() },
        body,
      }),
    );
  const sendBack = ({ id }: Schemas["ChangeOut"]) =>
    answer(
      api.POST("/api/v1/changes/{change_id}/withdrawal", {
        params: { path: { change_id: id }, header: writeHeaders() },
      }),
    );
  const again = useWrite(send);
  const back = useWrite(sendBack);
  const log = useWrite(send, (made) => {
    remember({ said: `Logged: ${made.name}`, undo: () => back.mutate(made) });
    onLogged();
  });
  const withdraw = useWrite(sendBack, ({ kind, name, note, happened_at }) =>
    remember({ said: `Taken back: ${name}`, undo: () => again.mutate({ kind, note, happened_at }) }),
  );
  return { log, withdraw };
}
