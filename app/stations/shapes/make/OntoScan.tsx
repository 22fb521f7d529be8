import Button from "@mui/material/Button";
import FormControlLabel from "@mui/material/FormControlLabel";
import Switch from "@mui/material/Switch";
import { useEffect, useState, type ReactNode } from "react";
import { useDropzone } from "react-dropzone";
import type { JobInput, JobName, JobOutput } from "~jobs/jobs";
import { givenFile } from "../../../session/jobs/givenFile";
import { useJob } from "../../../session/jobs/useJob";
import {
  changeScan,
  openScan,
  SCAN_VIEWS,
  scanStateOf,
  standByPlaces,
  tiesOf,
  type ScanState,
} from "../../../session/scan";
import { useSession, useSessionStore } from "../../../session/session";
import { endWork } from "../../../session/kept/useKeepDrafts";
import { newFaceSteps } from "../../../session/shapeSteps";
import { useDesk } from "../../../session/useDesk";
import { counted } from "../../../ui/counted";
import { Progress } from "../../../ui/Progress";
import { ScrubField } from "../../../ui/ScrubField";
import { Segmented } from "../../../ui/Segmented";
import { MaskTools } from "./MaskTools";
import { ScanLandmarks } from "./ScanLandmarks";
import { remembered } from "../../../session/history";
import { lookAt } from "../../../session/slices/view";
import { putAway, restMask } from "../../../session/slices/tools";
import { Refused } from "../../../ui/Refused";

const small = { typography: { sx: { fontSize: 12.5 } } };

/** The character's own skin is laid on a scanned or sculpted head; the shapes are carried to the new face. */
export function OntoScan(): ReactNode {
  const store = useSessionStore();
  const loaded = useSession((s) => s.loaded);
  const scan = useSession((s) => s.scan);
  const mask = useSession((s) => s.mask);
  const { addSteps } = useDesk();
  const file = scan?.file ?? null;
  const [fitSize, setFitSize] = useState(true);
  const [alike, setAlike] = useState(true);
  const [closeness, setCloseness] = useState(1);
  const [carry, setCarry] = useState(true);
  const [told, setTold] = useState("");
  const work = useJob("That did not work.");
  const busy = work.running;
  useEffect(
    () => () => {
      putAway(store, "scan");
      restMask(store);
    },
    [store],
  );
  const body = loaded?.character.parts.findIndex((p) => p.kind === "body") ?? -1;

  const run = <N extends JobName>(title: string, name: N, input: JobInput<N>): Promise<JobOutput<N> | null> => {
    setTold("");
    return work.run(title, name, input);
  };
  const read = async (chosen: File | null, size = fitSize): Promise<void> => {
    if (!chosen || !loaded) return;
    const file = await givenFile(chosen);
    const opened = await run("Finding where it stands", "open scan", { file, fitSize: size });
    if (opened) openScan(store, scanStateOf(opened, chosen));
  };
  const propose = async (s: ScanState): Promise<void> => {
    const known = new Map([...s.places].filter(([, p]) => p.byHand).map(([id, p]) => [id, p.at]));
    const found = await run("Proposing the other landmarks", "propose places", {
      mesh: s.mesh,
      place: s.placed!.place,
      landmarks: [...s.landmarks],
      known: Object.fromEntries(known),
    });
    if (!found) return;
    changeScan(store, {
      ...remembered(s, s.places),
      laid: null,
      places: new Map(
        s.landmarks.flatMap((l, i) => (found[i] ? [[l.id, { at: found[i], byHand: known.has(l.id) }] as const] : [])),
      ),
    });
  };
  const lay = async (s: ScanState): Promise<void> => {
    const leftOut = mask?.of.part === body ? mask.of.values : null;
    const laid = await run("Laying the skin on it", "lay on scan", {
      mesh: { ...s.mesh, positions: s.positions },
      ties: tiesOf(s).map((x) => x.tie),
      leftOut,
      symmetric: alike,
      closeness,
    });
    if (!laid) return;
    changeScan(store, { laid, view: "laid on", chosen: null });
    lookAt(store, { framing: "face" });
    restMask(store);
  };
  const take = async (s: ScanState): Promise<void> => {
    const deltas = s.same?.deltas ?? s.laid?.deltas;
    if (!deltas) return;
    const face = await run(carry ? "Carrying the shapes to the new face" : "Moving the base", "new face", {
      deltas: [...deltas],
      carry,
    });
    if (!face) return;
    if (!(await addSteps(await newFaceSteps(face, s.name)))) return;
    endWork(store, "scan");
    lookAt(store, { framing: "face" });
    setTold(
      `The face of ${s.name} is taken ` +
        `on${face.shapes.length ? `, ${counted(face.shapes.length, "shapes")} were carried to it` : ""}. ` +
        "Look at the proof and the findings now; undo brings the old face back.",
    );
  };
  const { getRootProps, getInputProps, isDragActive, open } = useDropzone({
    onDrop: (f) => void read(f[0] ?? null),
    multiple: false,
    noClick: true,
    noKeyboard: true,
    disabled: busy !== null || !loaded,
  });
  const stand = (): void => work.refuse(standByPlaces(store, fitSize) ?? "");
  return (
    <div className="stack gap-10">
      <div
        {...getRootProps()}
        className={`drop${isDragActive ? " over" : ""} cursor-default p-10 min-h-0 gap-4`}

        role="region"
        aria-label="Scan file">
        <input {...getInputProps()} aria-label="File: scan or sculpt" />
        {!scan && !busy && (
          <span className="muted t-small">
            Drop a scanned or sculpted head as OBJ, PLY or GLB, of any net, unit and place. The skin of this figure is
            laid on it; vertices, weights and drivers stay.
          </span>
        )}
        {scan && (
          <span className="t-small">
            <span className="mono">{scan.file?.name ?? scan.name}</span>: {counted(scan.vertices, "vertices")}
            {scan.vertices > scan.mesh.positions.length / 3
              ? `, of which ${(scan.mesh.positions.length / 3).toLocaleString("en")} are used`
              : ""}
            .{" "}
            {scan.same
              ? "It has this figure's own vertices: there is nothing to lay on."
              : scan.placed
                ? `Half of the face lies within ${scan.placed.medianMm.toFixed(1)} mm of it.`
                : "Where it stands was not found: set three landmarks on it and stand it by them."}
          </span>
        )}
        {!busy && (
          <Button variant={scan ? "text" : "contained"} onClick={open}>
            {scan ? "Choose another" : "Choose a file"}
          </Button>
        )}
        {scan && !busy && <Button onClick={() => endWork(store, "scan")}>Put the scan away</Button>}
      </div>
      {busy && <Progress {...busy} onCancel={work.cancel} />}
      <div className="line t-small gap-14">
        <FormControlLabel
          control={
            <Switch
              size="small"
              checked={fitSize}
              disabled={busy !== null}
              onChange={(e) => {
                setFitSize(e.target.checked);
                void read(scan?.same ? null : file, e.target.checked);
              }}
            />
          }
          label="fit its size to the figure's head"
          slotProps={small}
          sx={{ ml: 0, mr: 0 }}
          title="Else it keeps the size that its unit gives it"
        />
        {scan && (
          <>
            <span className="grow" />
            <Segmented
              label="On the stage"
              options={SCAN_VIEWS.filter((v) => v !== "laid on" || scan.laid)}
              value={scan.view}
              onChange={(view) => changeScan(store, { view })}
            />
          </>
        )}
      </div>
      {scan && !scan.same && (
        <>
          <ScanLandmarks scan={scan} onPropose={() => void propose(scan)} onStand={stand} />
          {scan.landmarks.length === 0 && (
            <p className="muted m-0 t-small">
              No landmarks were found on this figure: it needs two round eyes. The skin is laid on by what lies near.
            </p>
          )}
          <div>
            <p className="label m-0-0-4">
              What the scan lacks or has wrong (mouth bag, tear ducts, hair) is painted over on the figure; it follows
              what lies round it.
            </p>
            {body >= 0 && (
              <MaskTools part={body} says="left out" onPaint={() => changeScan(store, { view: "figure" })} />
            )}
          </div>
          <div className="line t-small gap-14">
            <Button variant="contained" disabled={busy !== null || !scan.placed} onClick={() => void lay(scan)}>
              {scan.laid ? "Lay it on again" : "Lay the skin on it"}
            </Button>
            <span title="Less is smoother: detail of the scan that is finer than this is not followed">
              closeness{" "}
              <ScrubField
                label="Closeness"
                value={closeness}
                min={0.4}
                max={1}
                step={0.01}
                digits={2}
                start={1}
                onChange={setCloseness}
              />
            </span>
            <FormControlLabel
              control={<Switch size="small" checked={alike} onChange={(e) => setAlike(e.target.checked)} />}
              label="both sides alike"
              slotProps={small}
              sx={{ ml: 0, mr: 0 }}
            />
          </div>
        </>
      )}
      {scan?.laid && (
        <p className="m-0 t-small" role="status">
          Half of the skin lies within <b className="mono">{scan.laid.medianMm.toFixed(2)} mm</b> of the scan, nineteen
          in twenty within <b className="mono">{scan.laid.p95Mm.toFixed(2)} mm</b>, the worst{" "}
          <b className="mono">{scan.laid.largestMm.toFixed(1)} mm</b>.
        </p>
      )}
      {scan && (scan.laid || scan.same) && (
        <div className="line t-small gap-14">
          <Button variant="contained" disabled={busy !== null} onClick={() => void take(scan)}>
            Take on this face
          </Button>
          <FormControlLabel
            control={<Switch size="small" checked={carry} onChange={(e) => setCarry(e.target.checked)} />}
            label="carry every shape to it"
            slotProps={small}
            sx={{ ml: 0, mr: 0 }}
            title="Lids and lips that meet now meet then; else shapes keep their movement as it is"
          />
        </div>
      )}
      <Refused why={work.refusal} />
      {told && (
        <span role="status" className="t-small">
          {told}
        </span>
      )}
    </div>
  );
}
