import Button from "@mui/material/Button";
import { useEffect, useState, type ReactNode } from "react";
import { SmallSwitch } from "../../../ui/SmallSwitch";
import { useDropzone } from "react-dropzone";
import { endWork } from "../../../session/kept/useKeepDrafts";
import { changeScan, SCAN_VIEWS, type ScanState } from "../../../session/scan";
import { useSession, useSessionStore } from "../../../session/session";
import { putAway, restMask } from "../../../session/slices/tools";
import { counted } from "../../../ui/counted";
import { Progress } from "../../../ui/Progress";
import { Refused } from "../../../ui/Refused";
import { ScrubField } from "../../../ui/ScrubField";
import { Segmented } from "../../../ui/Segmented";
import { MaskTools } from "./MaskTools";
import { ScanLandmarks } from "./ScanLandmarks";
import { useScanWork, type ScanWork } from "./useScanWork";

/** The character's own skin is laid on a scanned or sculpted head; the shapes are carried to the new face. */
export function OntoScan(): ReactNode {
  const store = useSessionStore();
  const loaded = useSession((s) => s.loaded);
  const scan = useSession((s) => s.scan);
  const body = loaded?.character.parts.findIndex((p) => p.kind === "body") ?? -1;
  const work = useScanWork(body);
  const [fitSize, setFitSize] = useState(true);
  const [carry, setCarry] = useState(true);
  useEffect(
    () => () => {
      putAway(store, "scan");
      restMask(store);
    },
    [store],
  );
  const again = (fit: boolean): void => {
    setFitSize(fit);
    void work.read(scan?.same ? null : (scan?.file ?? null), fit);
  };
  return (
    <div className="stack gap-10">
      <ScanFile scan={scan} work={work} canRead={loaded !== null} onFile={(f) => void work.read(f, fitSize)} />
      {work.running && <Progress {...work.running} onCancel={work.cancel} />}
      <div className="line t-small gap-14">
        <SmallSwitch
          label="fit its size to the figure's head"
          title="Else it keeps the size that its unit gives it"
          checked={fitSize}
          disabled={work.running !== null}
          onChange={again}
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
      {scan && !scan.same && <LayOn scan={scan} body={body} work={work} onStand={() => work.stand(fitSize)} />}
      {scan?.laid && <LaidWords laid={scan.laid} />}
      {scan && (scan.laid || scan.same) && <TakeOn scan={scan} work={work} carry={carry} onCarry={setCarry} />}
      <Refused why={work.refusal} />
      {work.told && (
        <span role="status" className="t-small">
          {work.told}
        </span>
      )}
    </div>
  );
}

interface ScanFileProps {
  readonly scan: ScanState | null;
  readonly work: ScanWork;
  readonly canRead: boolean;
  readonly onFile: (file: File | null) => void;
}
/** Where the scan's file is dropped, and what was read of it. */
function ScanFile({ scan, work, canRead, onFile }: ScanFileProps): ReactNode {
  const store = useSessionStore();
  const busy = work.running !== null;
  const { getRootProps, getInputProps, isDragActive, open } = useDropzone({
    onDrop: (f) => onFile(f[0] ?? null),
    multiple: false,
    noClick: true,
    noKeyboard: true,
    disabled: busy || !canRead,
  });
  return (
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
          <span className="mono">{scan.file?.name ?? scan.name}</span>: {sizeWords(scan)}. {standWords(scan)}
        </span>
      )}
      {!busy && (
        <Button variant={scan ? "text" : "contained"} onClick={open}>
          {scan ? "Choose another" : "Choose a file"}
        </Button>
      )}
      {scan && !busy && <Button onClick={() => endWork(store, "scan")}>Put the scan away</Button>}
    </div>
  );
}

function sizeWords({ vertices, mesh }: ScanState): string {
  const used = mesh.positions.length / 3;
  const some = vertices > used ? `, of which ${used.toLocaleString("en")} are used` : "";
  return `${counted(vertices, "vertices")}${some}`;
}

function standWords({ same, placed }: ScanState): string {
  if (same) return "It has this figure's own vertices: there is nothing to lay on.";
  if (placed) return `Half of the face lies within ${placed.medianMm.toFixed(1)} mm of it.`;
  return "Where it stands was not found: set three landmarks on it and stand it by them.";
}

interface LayOnProps {
  readonly scan: ScanState;
  readonly body: number;
  readonly work: ScanWork;
  readonly onStand: () => void;
}
/** Landmarks, what is left out, and laying the skin on. */
function LayOn({ scan, body, work, onStand }: LayOnProps): ReactNode {
  const store = useSessionStore();
  const [symmetric, setSymmetric] = useState(true);
  const [closeness, setCloseness] = useState(1);
  return (
    <>
      <ScanLandmarks scan={scan} onPropose={() => void work.propose(scan)} onStand={onStand} />
      {scan.landmarks.length === 0 && (
        <p className="muted m-0 t-small">
          No landmarks were found on this figure: it needs two round eyes. The skin is laid on by what lies near.
        </p>
      )}
      <div>
        <p className="label m-0-0-4">
          What the scan lacks or has wrong (mouth bag, tear ducts, hair) is painted over on the figure; it follows what
          lies round it.
        </p>
        {body >= 0 && <MaskTools part={body} says="left out" onPaint={() => changeScan(store, { view: "figure" })} />}
      </div>
      <div className="line t-small gap-14">
        <Button
          variant="contained"
          disabled={work.running !== null || !scan.placed}
          onClick={() => void work.lay(scan, { symmetric, closeness })}>
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
        <SmallSwitch label="both sides alike" checked={symmetric} onChange={setSymmetric} />
      </div>
    </>
  );
}

function LaidWords({ laid }: { readonly laid: NonNullable<ScanState["laid"]> }): ReactNode {
  return (
    <p className="m-0 t-small" role="status">
      Half of the skin lies within <b className="mono">{laid.medianMm.toFixed(2)} mm</b> of the scan, nineteen in twenty
      within <b className="mono">{laid.p95Mm.toFixed(2)} mm</b>, the worst{" "}
      <b className="mono">{laid.largestMm.toFixed(1)} mm</b>.
    </p>
  );
}

interface TakeOnProps {
  readonly scan: ScanState;
  readonly work: ScanWork;
  readonly carry: boolean;
  readonly onCarry: (carry: boolean) => void;
}
function TakeOn({ scan, work, carry, onCarry }: TakeOnProps): ReactNode {
  return (
    <div className="line t-small gap-14">
      <Button variant="contained" disabled={work.running !== null} onClick={() => void work.take(scan, carry)}>
        Take on this face
      </Button>
      <SmallSwitch
        label="carry every shape to it"
        title="Lids and lips that meet now meet then; else shapes keep their movement as it is"
        checked={carry}
        onChange={onCarry}
      />
    </div>
  );
}
