import { Link } from "react-router";

/** From everywhere, signed in or not: what to do first when it burns, runs away or leaks. */
export function StopLink() {
  return (
    <Link
      to="/stop"
      title="What to do first when it burns, runs away or leaks"
      className="link ml-auto flex min-h-11 items-center font-semibold text-stale -outline-offset-3"
    >
      Stop
    </Link>
  );
}
