import { Link } from "react-router";
import { Page } from "./Page";

/** An address that leads nowhere. */
export function Lost() {
  return (
    <Page tab="Bench" keys={[]}>
      <div className="p-6">
        <h1 className="mb-3 text-verdict">There is nothing at this address.</h1>
        <Link to="/" className="button">
          To the bench
        </Link>
      </div>
    </Page>
  );
}
