import { Route, Routes } from "react-router";
import { useSession, useWorkshop } from "../api/queries";
import { BenchScreen } from "../screens/bench/BenchScreen";
import { ProfilesScreen } from "../screens/profiles/ProfilesScreen";
import { RunScreen } from "../screens/run/RunScreen";
import { StartScreen } from "../screens/run/StartScreen";
import { RunsScreen } from "../screens/runs/RunsScreen";
import { EditSetupScreen } from "../screens/setup/EditSetupScreen";
import { FirstSetupScreen } from "../screens/setup/FirstSetupScreen";
import { SignInScreen } from "../screens/signin/SignInScreen";
import { Lost } from "./Lost";
import { OutboxProvider } from "./OutboxProvider";
import { PersonProvider } from "./Person";
import { Trouble, Waiting } from "./Trouble";

/** Signed in? A workshop with a setup? Then the screens. */
export function App() {
  const session = useSession();
  if (session.isError) return <Trouble error={session.error} onAgain={() => session.refetch()} />;
  if (!session.data) return <Waiting />;
  if (session.data.needed && !session.data.signed_in) return <SignInScreen />;
  return <Workshop />;
}

function Workshop() {
  const workshop = useWorkshop();
  if (!workshop.data) {
    return workshop.isError ? (
      <Trouble error={workshop.error} onAgain={() => workshop.refetch()} />
    ) : (
      <Waiting />
    );
  }
  const { id, people, empty, first_setup_id: first } = workshop.data;
  return (
    <PersonProvider people={people}>
      <OutboxProvider workshop={id || "new"}>
        {empty || first === null ? (
          <FirstSetupScreen workshop={workshop.data} />
        ) : (
          <Routes>
            <Route path="/" element={<BenchScreen first={first} />} />
            <Route path="/runs" element={<RunsScreen />} />
            <Route path="/runs/:runId" element={<RunScreen />} />
            <Route path="/setups/:setupId/e-steps" element={<StartScreen />} />
            <Route path="/setups/:setupId/edit" element={<EditSetupScreen />} />
            <Route path="/profiles" element={<ProfilesScreen first={first} />} />
            <Route path="*" element={<Lost />} />
          </Routes>
        )}
      </OutboxProvider>
    </PersonProvider>
  );
}
