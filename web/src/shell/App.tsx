import { useQueryClient } from "@tanstack/react-query";
import { Suspense, useEffect } from "react";
import { Navigate, Route, Routes, useLocation } from "react-router";
import { keepThePage } from "../api/kept";
import { askAhead, useSession, useWorkshop } from "../api/queries";
import { setupOnBench } from "../api/storage";
import { BenchScreen } from "../screens/bench/BenchScreen";
import { Boundary } from "./Boundary";
import { Lost } from "./Lost";
import { fetchTheRest, later } from "./later";
import { OutboxProvider } from "./OutboxProvider";
import { PersonProvider } from "./Person";
import { Trouble, Waiting } from "./Trouble";
import { useBackSteps } from "./useBackCloses";

const RunScreen = later(async () => (await import("../screens/run/RunScreen")).RunScreen);
const MeasureScreen = later(async () => (await import("../screens/run/MeasureScreen")).MeasureScreen);
const LayersScreen = later(async () => (await import("../screens/run/LayersScreen")).LayersScreen);
const FileCheckScreen = later(async () => (await import("../screens/files/FileCheckScreen")).FileCheckScreen);
const PieceSheetScreen = later(
  async () => (await import("../screens/run/PieceSheetScreen")).PieceSheetScreen,
);
const SheetScreen = later(async () => (await import("../screens/run/SheetScreen")).SheetScreen);
const RunsScreen = later(async () => (await import("../screens/runs/RunsScreen")).RunsScreen);
const ProfilesScreen = later(async () => (await import("../screens/profiles/ProfilesScreen")).ProfilesScreen);
const CardScreen = later(async () => (await import("../screens/profiles/CardScreen")).CardScreen);
const PreflightScreen = later(async () => (await import("../screens/bench/PreflightScreen")).PreflightScreen);
const PrintsScreen = later(async () => (await import("../screens/bench/PrintsScreen")).PrintsScreen);
const PartScreen = later(async () => (await import("../screens/attempts/PartScreen")).PartScreen);
const FaultsScreen = later(async () => (await import("../screens/faults/FaultsScreen")).FaultsScreen);
const FaultScreen = later(async () => (await import("../screens/faults/FaultScreen")).FaultScreen);
const GuidesScreen = later(async () => (await import("../screens/faults/GuidesScreen")).GuidesScreen);
const HelpScreen = later(async () => (await import("../screens/faults/HelpScreen")).HelpScreen);
const StopScreen = later(async () => (await import("../screens/faults/StopScreen")).StopScreen);
const ChecksScreen = later(async () => (await import("../screens/machines/ChecksScreen")).ChecksScreen);
const SchoolsScreen = later(async () => (await import("../screens/machines/SchoolsScreen")).SchoolsScreen);
const CourseScreen = later(async () => (await import("../screens/profiles/CourseScreen")).CourseScreen);
const SetupsScreen = later(async () => (await import("../screens/bench/SetupsScreen")).SetupsScreen);
const MachinesScreen = later(async () => (await import("../screens/machines/MachinesScreen")).MachinesScreen);
const FilamentsScreen = later(
  async () => (await import("../screens/filaments/FilamentsScreen")).FilamentsScreen,
);
const FirstSetupScreen = later(
  async () => (await import("../screens/setup/FirstSetupScreen")).FirstSetupScreen,
);
const SignInScreen = later(async () => (await import("../screens/signin/SignInScreen")).SignInScreen);

/** Signed in? A workshop with a setup? Then the screens. */
export function App() {
  useBackSteps();
  const queries = useQueryClient();
  useEffect(() => {
    const timer = setTimeout(() => {
      fetchTheRest();
      keepThePage((began) => void askAhead(queries, began));
    }, 2000);
    return () => clearTimeout(timer);
  }, [queries]);
  return (
    <Boundary>
      <Suspense fallback={<Waiting />}>
        <Routes>
          <Route path="/stop" element={<StopScreen />} />
          <Route path="*" element={<SignedIn />} />
        </Routes>
      </Suspense>
    </Boundary>
  );
}

function SignedIn() {
  const session = useSession();
  if (session.isError) return <Trouble error={session.error} onAgain={() => session.refetch()} />;
  if (!session.data) return <Waiting />;
  if (session.data.needed && !session.data.signed_in) return <SignInScreen />;
  return <Workshop />;
}

/** Guides for the setup on the bench. */
function GuidesHere({ first }: { first: number }) {
  return <Navigate to={`/setups/${setupOnBench(first)}/guides${useLocation().search}`} replace />;
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
            <Route path="/runs/:runId/sheet" element={<PieceSheetScreen />} />
            <Route path="/runs/:runId/layers" element={<LayersScreen />} />
            <Route path="/setups/:setupId/measure/:step" element={<MeasureScreen />} />
            <Route path="/profiles" element={<ProfilesScreen first={first} />} />
            <Route path="/setups/:setupId/file-check" element={<FileCheckScreen />} />
            <Route path="/setups/:setupId/run-sheet/:step" element={<SheetScreen />} />
            <Route path="/setups/:setupId/card" element={<CardScreen />} />
            <Route path="/setups/:setupId/pre-flight" element={<PreflightScreen />} />
            <Route path="/setups/:setupId/prints" element={<PrintsScreen />} />
            <Route path="/attempts/:printId" element={<PartScreen />} />
            <Route path="/faults" element={<FaultsScreen first={first} />} />
            <Route path="/faults/:faultId" element={<FaultScreen />} />
            <Route path="/faults/:faultId/help" element={<HelpScreen />} />
            <Route path="/setups/:setupId/guides" element={<GuidesScreen />} />
            <Route path="/guides" element={<GuidesHere first={first} />} />
            <Route path="/filaments" element={<FilamentsScreen />} />
            <Route path="/setups/:setupId/checks" element={<ChecksScreen />} />
            <Route path="/setups/:setupId/course" element={<CourseScreen />} />
            <Route path="/schools" element={<SchoolsScreen />} />
            <Route path="/setups" element={<SetupsScreen />} />
            <Route path="/machines" element={<MachinesScreen />} />
            <Route path="*" element={<Lost />} />
          </Routes>
        )}
      </OutboxProvider>
    </PersonProvider>
  );
}
