import { useState } from "react";
import { useNavigate } from "react-router";
import { useHistory } from "../../api/queries";
import { TitleBlock } from "../../instrument/TitleBlock";
import { Page } from "../../shell/Page";
import { Trouble, Waiting } from "../../shell/Trouble";
import { SetupPicker } from "../bench/laterDialogs";
import { useSetupOnBench } from "../bench/useSetupOnBench";
import { BesideDialog } from "./BesideDialog";
import { BringInDialog } from "./BringInDialog";
import { Differences } from "./Differences";
import { moveJaw } from "./jaws";
import { RestoreDialog } from "./RestoreDialog";
import { RevisionMargin } from "./RevisionMargin";
import { TakeAlong, takeAlong } from "./TakeAlong";
import { Timeline } from "./Timeline";

/** The history of a setup: revisions on a line, what differs between two, and going back. */
export function ProfilesScreen({ first }: { first: number }) {
  const [setupId, putOnBench] = useSetupOnBench(first);
  const [jaws, setJaws] = useState<{ left?: number; right?: number }>({});
  const [sheet, setSheet] = useState<"restore" | "setups" | "file" | "setup" | "beside" | null>(null);
  const [noting, setNoting] = useState(false);
  const navigate = useNavigate();
  const history = useHistory(setupId, jaws.left, jaws.right);
  const data = history.data;
  const numbers = data?.revisions.map((row) => row.number).sort((a, b) => a - b) ?? [];
  const left = data?.left ?? undefined;
  const right = data?.right ?? undefined;
  const move = (which: "left" | "right", by: 1 | -1) => {
    if (left !== undefined && right !== undefined) setJaws(moveJaw({ left, right }, which, by, numbers));
  };
  const keys = [
    { key: "ArrowLeft", label: "move the later", run: () => move("right", -1) },
    { key: "ArrowRight", label: "move the later", run: () => move("right", 1), quiet: true },
    { key: "Shift+ArrowLeft", label: "move the earlier", run: () => move("left", -1) },
    { key: "Shift+ArrowRight", label: "move the earlier", run: () => move("left", 1), quiet: true },
    ...(right === undefined ? [] : [{ key: "N", label: "note", run: () => setNoting(true) }]),
    ...(data?.go_back_to
      ? [{ key: "B", label: `go back to ${data.go_back_to}`, run: () => setSheet("restore") }]
      : []),
    { key: "Y", label: "over the year", run: () => navigate(`/setups/${setupId}/course`) },
    { key: "P", label: "card", run: () => navigate(`/setups/${setupId}/card`), quiet: true },
    ...(["json", "csv", "commands"] as const).map((shape, index) => ({
      key: ["J", "V", "G"][index] ?? "",
      label: `take along: ${shape}`,
      run: () => void takeAlong(setupId, shape),
      quiet: true,
    })),
    { key: "/", label: "other setup", run: () => setSheet("setups") },
  ];
  return (
    <Page
      tab="Profiles"
      keys={keys}
      title={
        data && (
          <TitleBlock
            cells={[
              {
                label: "Profile for this setup",
                value: data.setup.filament,
                detail: data.setup.filament_detail,
                keyHint: "/",
                onPress: () => setSheet("setups"),
                wide: true,
              },
              { label: "Machine", value: data.setup.machine, detail: data.setup.machine_detail },
              { label: "Hotend", value: data.setup.hotend, detail: data.setup.hotend_detail },
              { label: "Nozzle", value: data.setup.nozzle, detail: "bore in mm, material" },
            ]}
          />
        )
      }
    >
      {history.isPending && <Waiting />}
      {history.isError && !data && <Trouble error={history.error} onAgain={() => setJaws({})} />}
      {data && left === undefined && (
        <div className="p-6">
          <p className="text-reason">
            Nothing on record for this setup yet. Its first revision is written when a run is applied, or
            values are typed or brought in.
          </p>
          <TakeAlong
            setupId={setupId}
            onImport={() => setSheet("file")}
            onCopy={() => setSheet("setup")}
            onBeside={() => setSheet("beside")}
          />
        </div>
      )}
      {data && left !== undefined && right !== undefined && (
        <>
          <Timeline
            revisions={data.revisions}
            events={data.events}
            left={left}
            right={right}
            onPick={(number) => setJaws(number < right ? { left: number, right } : { left, right: number })}
          />
          <div className="flex flex-1 flex-col wide:flex-row">
            <div className="min-w-0 flex-1">
              <Differences history={data} left={left} right={right} />
            </div>
            <RevisionMargin
              key={right}
              setupId={setupId}
              history={data}
              right={right}
              noting={noting}
              onNoting={setNoting}
              onRestore={() => setSheet("restore")}
            >
              <TakeAlong
                setupId={setupId}
                onImport={() => setSheet("file")}
                onCopy={() => setSheet("setup")}
                onBeside={() => setSheet("beside")}
              />
            </RevisionMargin>
          </div>
        </>
      )}
      {sheet === "restore" && data?.go_back_to && (
        <RestoreDialog
          history={data}
          to={data.go_back_to}
          onClose={() => setSheet(null)}
          onDone={() => {
            setJaws({});
            setSheet(null);
          }}
        />
      )}
      {(sheet === "file" || sheet === "setup") && (
        <BringInDialog
          setupId={setupId}
          from={sheet}
          onClose={() => {
            setJaws({});
            setSheet(null);
          }}
        />
      )}
      {sheet === "beside" && <BesideDialog setupId={setupId} onClose={() => setSheet(null)} />}
      {sheet === "setups" && (
        <SetupPicker
          current={setupId}
          onClose={() => setSheet(null)}
          onChosen={(id) => {
            putOnBench(id);
            setJaws({});
            setSheet(null);
          }}
        />
      )}
    </Page>
  );
}
