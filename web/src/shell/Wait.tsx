import { useWait } from "./useWait";

type Props = { name: string; seconds: number; className: string };

/** A time to wait at a step, kept as ``name`` in this browser; pressed again it begins anew. */
export function Wait({ name, seconds, className }: Props) {
  const [left, begin] = useWait(name);
  return <WaitButton left={left} seconds={seconds} begin={begin} className={className} />;
}

type ButtonProps = {
  left: number | null;
  seconds: number;
  begin: (seconds: number) => void;
  className: string;
};

/** The button of a wait. It says when the time is up, never that what waited is done. */
export function WaitButton({ left, seconds, begin, className }: ButtonProps) {
  return (
    <>
      <button type="button" className={className} onClick={() => begin(seconds)}>
        {left === null ? `Wait ${seconds < 60 ? `${seconds} s` : `${seconds / 60} min`}` : leftSaid(left)}
      </button>
      <span role="status" className="sr-only">
        {left === 0 && TIME_IS_UP}
      </span>
    </>
  );
}

const TIME_IS_UP = "Time is up: look";

function leftSaid(seconds: number): string {
  if (seconds === 0) return TIME_IS_UP;
  return `${Math.floor(seconds / 60)}:${String(seconds % 60).padStart(2, "0")}`;
}
