import Button from "@mui/material/Button";
import { useState, type ReactNode } from "react";
import { SmallSwitch } from "../../../ui/SmallSwitch";
import { useDropzone } from "react-dropzone";
import { shapeNamed } from "~core/model/character";
import type { BroughtTarget } from "~core/wrap/targets/bringTargets";
import { useSession } from "../../../session/session";
import { shapeSteps } from "../../../session/shapeSteps";
import { useDesk } from "../../../session/useDesk";
import { counted } from "../../../ui/counted";
import { Progress } from "../../../ui/Progress";
import { ScrubField } from "../../../ui/ScrubField";
import { Segmented } from "../../../ui/Segmented";
import { useTargets, type Targets } from "./useTargets";

const SAME = ["beside", "instead"] as const;

/** Target meshes become shapes: each file is read, set right where that is safe, and shown before it is taken. */
export function FromFiles(): ReactNode {
  const loaded = useSession((s) => s.loaded);
  const { addSteps } = useDesk();
  const targets = useTargets();
  const { brought, work } = targets;
  const [same, setSame] = useState<(typeof SAME)[number]>("beside");
  const good = brought?.filter((b) => !b.refused) ?? [];
  const doubled = good.filter((b) => loaded && shapeNamed(loaded.character, b.name)).length;
  const take = async (): Promise<void> => {
    if (!loaded) return;
    const from = counted(targets.files.length, "files");
    if (await addSteps(await shapeSteps(loaded.character, good, same === "instead", from)))
      targets.clear(`${counted(good.length, "shapes")} taken in.`);
  };
  return (
    <div className="stack gap-10">
      <TargetDrop targets={targets} canRead={loaded !== null} />
      <div className="line t-small gap-14">
        <HowToRead targets={targets} />
        {doubled > 0 && (
          <span className="line">
            {counted(doubled, "names")} {doubled === 1 ? "is" : "are"} taken: put {doubled === 1 ? "it" : "them"}{" "}
            <Segmented label="Shapes of the same name" options={SAME} value={same} onChange={setSame} />
          </span>
        )}
      </div>
      {brought && <TargetTable targets={targets} brought={brought} />}
      <div className="line">
        {brought && (
          <Button variant="contained" disabled={good.length === 0 || work.running !== null} onClick={() => void take()}>
            {good.length ? `Take in ${counted(good.length, "shapes")}` : "Nothing fits"}
          </Button>
        )}
        {brought && brought.length > good.length && (
          <span className="muted t-small">{counted(brought.length - good.length, "files")} left out.</span>
        )}
        {targets.told && (
          <span role="status" className="t-small">
            {targets.told}
          </span>
        )}
      </div>
    </div>
  );
}

function TargetDrop({ targets, canRead }: { readonly targets: Targets; readonly canRead: boolean }): ReactNode {
  const { work, brought } = targets;
  const { getRootProps, getInputProps, isDragActive, open } = useDropzone({
    onDrop: (f) => targets.begin(f),
    noClick: true,
    noKeyboard: true,
    disabled: work.running !== null || !canRead,
  });
  return (
    <div
      {...getRootProps()}
      className={`drop${isDragActive ? " over" : ""} cursor-default p-10 min-h-0 gap-4`}
      role="region"
      aria-label="Target files">
      <input {...getInputProps()} aria-label="Files: target meshes" />
      {work.running ? (
        <Progress {...work.running} onCancel={work.cancel} />
      ) : (
        <>
          {!brought && (
            <span className="muted t-small">
              Drop target meshes of this character, several at once. Units, axes and vertex order are set right where
              they can be. Targets of another mesh need their base along, with <span className="mono">base</span> in its
              name.
            </span>
          )}
          <Button variant={brought ? "text" : "contained"} onClick={open}>
            {brought ? "Choose other files" : "Choose files"}
          </Button>
        </>
      )}
    </div>
  );
}

/** Smoothing, and whether meshes of another net are laid on; files that were read are read again. */
function HowToRead({ targets }: { readonly targets: Targets }): ReactNode {
  const { how, setHow, readAgain } = targets;
  return (
    <>
      <span title="Smooths the movement, not the surface: the base's own detail stays">
        smooth the movement{" "}
        <ScrubField
          label="Rounds of smoothing"
          value={how.rounds}
          min={0}
          max={40}
          step={0.2}
          digits={0}
          unit=" rounds"
          onChange={(rounds) => setHow({ ...how, rounds })}
          onCommit={(rounds) => readAgain({ ...how, rounds, own: new Map() })}
        />
      </span>
      <span>
        strength{" "}
        <ScrubField
          label="Strength of smoothing"
          value={how.strength}
          min={0}
          max={4}
          step={0.02}
          digits={1}
          start={1}
          onChange={(strength) => setHow({ ...how, strength })}
          onCommit={(strength) => readAgain({ ...how, strength })}
        />
      </span>
      <SmallSwitch
        label="lay the skin on scans and sculpts of another mesh"
        checked={how.scans}
        onChange={(on) => readAgain({ ...how, scans: on })}
        title="They must stand roughly in the character's place and size"
      />
    </>
  );
}

interface TargetTableProps {
  readonly targets: Targets;
  readonly brought: readonly BroughtTarget[];
}

/** What became of each file, with smoothing of its own. */
function TargetTable({ targets, brought }: TargetTableProps): ReactNode {
  const { how, setHow } = targets;
  const smooths = how.rounds > 0 || [...how.own.values()].some((n) => n > 0);
  return (
    <table className="plain">
      <thead>
        <tr>
          <th>Shape</th>
          <th>From</th>
          <th className="to-right">Farthest</th>
          <th className="to-right">Smoothing</th>
          {smooths && <th className="to-right">Smoothed away</th>}
        </tr>
      </thead>
      <tbody>
        {brought.map((b) => (
          <tr key={`${b.file} ${b.name}`}>
            <td className="mono">{b.refused ? <span className="ink-brick">▲ {b.name}</span> : b.name}</td>
            <td className="break-words">
              {b.file}
              <FileWords of={b} />
            </td>
            <td className="num">{b.refused ? "" : `${b.maxMm.toFixed(1)} mm`}</td>
            <td className="num">
              {!b.refused && (
                <ScrubField
                  label={`Rounds of smoothing of ${b.name}`}
                  value={how.own.get(b.file) ?? how.rounds}
                  min={0}
                  max={40}
                  step={0.2}
                  digits={0}
                  onChange={(n) => setHow({ ...how, own: new Map(how.own).set(b.file, n) })}
                  onCommit={(n) => void targets.readOne(b.file, n)}
                />
              )}
            </td>
            {smooths && <td className="num">{b.refused ? "" : `${b.lostMm.toFixed(2)} mm`}</td>}
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function FileWords({ of: { refused, notes } }: { readonly of: BroughtTarget }): ReactNode {
  if (refused)
    return (
      <div className="ink-brick">
        {refused.what} <span className="muted">{refused.todo}</span>
      </div>
    );
  return notes.map((n) => (
    <div key={n} className="muted">
      {n}
    </div>
  ));
}
