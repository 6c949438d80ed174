import { useQueryClient } from "@tanstack/react-query";
import {
  createContext,
  type FormEvent,
  type ReactNode,
  useCallback,
  useContext,
  useRef,
  useState,
} from "react";
import { answer, api, type Problem, problemAt, type Schemas, writeHeaders } from "../api/client";
import { refresh } from "../api/queries";
import { readStored, store } from "../api/storage";
import { Field } from "./Field";
import { Modal } from "./Modal";

type PersonOut = Schemas["PersonOut"];

type PersonContext = {
  person: PersonOut | null;
  /** Ask who is here, where nobody said so yet; false if the question was laid away. */
  ensure: () => Promise<boolean>;
  change: () => void;
  choose: (person: PersonOut) => void;
};

const Context = createContext<PersonContext | null>(null);

/** Who is at this browser. */
export function usePerson(): PersonContext {
  const context = useContext(Context);
  if (!context) throw new Error("usePerson needs a PersonProvider above it.");
  return context;
}

/** Keeps who is at this browser, and asks before the first write. */
export function PersonProvider({ people, children }: { people: readonly PersonOut[]; children: ReactNode }) {
  const [id, setId] = useState(() => readStored("ubrex.person"));
  const [added, setAdded] = useState<PersonOut | null>(null);
  const [asking, setAsking] = useState(false);
  const waiting = useRef<(answered: boolean) => void>(undefined);
  const person =
    [...people, ...(added ? [added] : [])].find((candidate) => String(candidate.id) === id) ?? null;

  const close = useCallback((answered: boolean) => {
    setAsking(false);
    waiting.current?.(answered);
    waiting.current = undefined;
  }, []);

  const choose = useCallback(
    (chosen: PersonOut) => {
      store("ubrex.person", String(chosen.id));
      setAdded(chosen);
      setId(String(chosen.id));
      close(true);
    },
    [close],
  );

  const ensure = useCallback(() => {
    if (person) return Promise.resolve(true);
    setAsking(true);
    return new Promise<boolean>((resolve) => {
      waiting.current = resolve;
    });
  }, [person]);

  return (
    <Context value={{ person, ensure, change: () => setAsking(true), choose }}>
      {children}
      {asking && <WhoIsIt people={people} onChosen={choose} onClose={() => close(false)} />}
    </Context>
  );
}

type WhoProps = { people: readonly PersonOut[]; onChosen: (person: PersonOut) => void; onClose: () => void };

function WhoIsIt({ people, onChosen, onClose }: WhoProps) {
  const [name, setName] = useState("");
  const [problem, setProblem] = useState<Problem | null>(null);
  const queries = useQueryClient();
  const add = async (event: FormEvent) => {
    event.preventDefault();
    try {
      onChosen(
        await answer(api.POST("/api/v1/people", { body: { name }, params: { header: writeHeaders() } })),
      );
      await refresh(queries);
    } catch (error) {
      setProblem(error as Problem);
    }
  };
  return (
    <Modal title="Who is at the bench?" onClose={onClose}>
      <p className="mb-3 text-reason">Every entry carries a name. This browser remembers it.</p>
      <ul className="mb-4">
        {people.map((person, index) => (
          <li key={person.id}>
            <button
              type="button"
              autoFocus={index === 0}
              className="button mb-2 w-full justify-start"
              onClick={() => onChosen(person)}
            >
              {person.name}
            </button>
          </li>
        ))}
      </ul>
      <form onSubmit={add} className="flex items-end gap-3">
        <Field
          label="Somebody else"
          value={name}
          onChange={setName}
          problem={problemAt(problem, "name")?.message ?? problem?.detail}
        />
        <button type="submit" className="button">
          Add
        </button>
      </form>
    </Modal>
  );
}
