import Button from "@mui/material/Button";
import FormControlLabel from "@mui/material/FormControlLabel";
import Switch from "@mui/material/Switch";
import { useState, type ReactNode } from "react";
import { useDropzone } from "react-dropzone";
import { shapeNamed } from "~core/model/character";
import type { BroughtTarget } from "~core/wrap/targets/bringTargets";
import { useWork } from "../../../session/jobs/useWork";
import { useSession } from "../../../session/session";
import { shapeSteps } from "../../../session/shapeSteps";
import { bringFiles } from "../../../session/targetFiles";
import { useDesk } from "../../../session/useDesk";
import { counted } from "../../../ui/counted";
import { Progress } from "../../../ui/Progress";
import { ScrubField } from "../../../ui/ScrubField";
import { Segmented } from "../../../ui/Segmented";

const SAME = ["beside", "instead"] as const;

/** Target meshes become shapes: each file is read, set right where that is safe, and shown before it is taken. */
export function FromFiles(): ReactNode {
  const loaded = useSession((s) => s.loaded);
  const { addSteps } = useDesk();
  const [files, setFiles] = useState<readonly File[]>([]);
  const [rounds, setRounds] = useState(0);
  const [strength, setStrength] = useState(1);
  const [own, setOwn] = useState<ReadonlyMap<string, number>>(new Map());
  const [brought, setBrought] = useState<readonly BroughtTarget[] | null>(null);
  const [same, setSame] = useState<(typeof SAME)[number]>("beside");
  const [scans, setScans] = useState(false);
  const [told, setTold] = useState("");
  const work = useWork("The files could not be read.");
  const read = async (
    chosen: readonly File[],
    smoothRounds = rounds,
    smoothStrength = strength,
    layOnScans = scans,
  ): Promise<void> => {
    if (!loaded || chosen.length === 0) return;
    setFiles(chosen);
    setTold("");
    const read = await work.during(`Fitting ${counted(chosen.length, "files")}`, (progress, signal) =>
      bringFiles(loaded, chosen, { smoothRounds, smoothStrength, layOnScans }, { progress, signal }),
    );
    if (read) setBrought(read);
  };
  // a new batch begins as it was made
  const fresh = (f: readonly File[]): void => {
    setRounds(0);
    setOwn(new Map());
    void read(f, 0);
  };
  /** One file with its own smoothing; what the others became stays. */
  const again = async (name: string, smoothRounds: number): Promise<void> => {
    const file = files.find((f) => f.name === name);
    if (!loaded || !file) return;
    setOwn(new Map(own).set(name, smoothRounds));
    const base = files.filter((f) => f !== file && /(^|[^a-z])(base|neutral|rest|bind)([^a-z]|$)/i.test(f.name));
    const options = { smoothRounds, smoothStrength: strength, layOnScans: scans };
    const made = await work.during(`Fitting ${name}`, (progress, signal) =>
      bringFiles(loaded, [file, ...base], options, { progress, signal }),
    );
    const now = made?.filter((b) => b.file === name);
    if (now)
      setBrought((old) => old?.flatMap((b) => (b.file === name ? now.filter((x) => x.name === b.name) : [b])) ?? null);
  };
  const { getRootProps, getInputProps, isDragActive, open } = useDropzone({
    onDrop: (f) => fresh(f),
    noClick: true,
    noKeyboard: true,
    disabled: work.running !== null || !loaded,
  });
  const smooths = rounds > 0 || [...own.values()].some((n) => n > 0);
  const good = brought?.filter((b) => !b.refused) ?? [];
  const doubled = good.filter((b) => loaded && shapeNamed(loaded.character, b.name));
  const take = async (): Promise<void> => {
    if (!loaded) return;
    if (!(await addSteps(await shapeSteps(loaded.character, good, same === "instead", counted(files.length, "files")))))
      return;
    setTold(`${counted(good.length, "shapes")} taken in.`);
    setBrought(null);
    setFiles([]);
  };
  return (
    <div className="stack gap-10">
      <div
        {...getRootProps()}
        className={`drop${isDragActive ? " over" : ""} cursor-default p-10 min-h-0 gap-4`}

        role="region"
        aria-label="Target files">
        <input {...getInputProps()} aria-label="Files: target meshes" />
        {!work.running ? (
          <>
            {!brought && (
              <span className="muted t-small">
                Drop target meshes of this character, several at once. Units, axes and vertex order are set right where
                they can be. Targets of another mesh need their base along, with <span className="mono">base</span> in
                its name.
              </span>
            )}
            <Button variant={brought ? "text" : "contained"} onClick={open}>
              {brought ? "Choose other files" : "Choose files"}
            </Button>
          </>
        ) : (
          <Progress {...work.running} onCancel={work.cancel} />
        )}
      </div>
      <div className="line t-small gap-14">
        <span title="Smooths the movement, not the surface: the base's own detail stays">
          smooth the movement{" "}
          <ScrubField
            label="Rounds of smoothing"
            value={rounds}
            min={0}
            max={40}
            step={0.2}
            digits={0}
            unit=" rounds"
            onChange={setRounds}
            onCommit={(n) => {
              setOwn(new Map());
              void read(files, n);
            }}
          />
        </span>
        <span>
          strength{" "}
          <ScrubField
            label="Strength of smoothing"
            value={strength}
            min={0}
            max={4}
            step={0.02}
            digits={1}
            start={1}
            onChange={setStrength}
            onCommit={(x) => void read(files, rounds, x)}
          />
        </span>
        <FormControlLabel
          control={
            <Switch
              size="small"
              checked={scans}
              onChange={(e) => {
                setScans(e.target.checked);
                void read(files, rounds, strength, e.target.checked);
              }}
            />
          }
          label="lay the skin on scans and sculpts of another mesh"
          slotProps={{ typography: { sx: { fontSize: 12.5 } } }}
          sx={{ ml: 0, mr: 0 }}
          title="They must stand roughly in the character's place and size"
        />
        {doubled.length > 0 && (
          <span className="line">
            {counted(doubled.length, "names")} {doubled.length === 1 ? "is" : "are"} taken: put{" "}
            {doubled.length === 1 ? "it" : "them"}{" "}
            <Segmented label="Shapes of the same name" options={SAME} value={same} onChange={setSame} />
          </span>
        )}
      </div>
      {brought && (
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
                  {b.refused ? (
                    <div className="ink-brick">
                      {b.refused.what} <span className="muted">{b.refused.todo}</span>
                    </div>
                  ) : (
                    b.notes.map((n) => (
                      <div key={n} className="muted">
                        {n}
                      </div>
                    ))
                  )}
                </td>
                <td className="num">{b.refused ? "" : `${b.maxMm.toFixed(1)} mm`}</td>
                <td className="num">
                  {!b.refused && (
                    <ScrubField
                      label={`Rounds of smoothing of ${b.name}`}
                      value={own.get(b.file) ?? rounds}
                      min={0}
                      max={40}
                      step={0.2}
                      digits={0}
                      onChange={(n) => setOwn(new Map(own).set(b.file, n))}
                      onCommit={(n) => void again(b.file, n)}
                    />
                  )}
                </td>
                {smooths && <td className="num">{b.refused ? "" : `${b.lostMm.toFixed(2)} mm`}</td>}
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <div className="line">
        {brought && (
          <Button variant="contained" disabled={good.length === 0 || work.running !== null} onClick={() => void take()}>
            {good.length ? `Take in ${counted(good.length, "shapes")}` : "Nothing fits"}
          </Button>
        )}
        {brought && brought.length > good.length && (
          <span className="muted t-small">{counted(brought.length - good.length, "files")} left out.</span>
        )}
        {told && (
          <span role="status" className="t-small">
            {told}
          </span>
        )}
      </div>
    </div>
  );
}
