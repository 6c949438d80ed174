import { useSchools } from "../../api/queries";
import { Page } from "../../shell/Page";
import { Trouble, Waiting } from "../../shell/Trouble";
import { School } from "../run/School";

/** Everything on which practitioners disagree, on one screen: both sides, what would decide, whom this person follows. */
export function SchoolsScreen() {
  const schools = useSchools();
  return (
    <Page tab="Machines" name="Where people disagree" keys={[]}>
      <div className="w-full px-3 py-4 desk:px-6">
        <h1 className="text-cell">Where people disagree</h1>
        <p className="mb-3 max-w-160 text-body text-ink-2">
          Each has good reasons. Whom you follow stands first and is remembered for you; what would decide is
          a test that you can make.
        </p>
        {schools.isPending && <Waiting />}
        {schools.isError && !schools.data && (
          <Trouble error={schools.error} onAgain={() => schools.refetch()} />
        )}
        <div className="grid gap-x-8 gap-y-4 desk:grid-cols-2">
          {schools.data?.schools.map((school) => (
            <School key={school.key} school={school} heading="h2" />
          ))}
        </div>
      </div>
    </Page>
  );
}
