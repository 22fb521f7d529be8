import Button from "@mui/material/Button";
import { useState, type ReactNode } from "react";
import type { HandOff } from "~server/services/handOffs";
import { counted } from "../../ui/counted";
import { fileSize } from "../../ui/fileSize";
import { saveFile } from "../../ui/saveFile";
import { Refused } from "../../ui/Refused";

const yes = (ok: boolean): ReactNode =>
  ok ? <span className="ink-accent">✓ the same</span> : <span className="ink-brick">▲ not the same</span>;
export const when = (iso: string): string => iso.slice(0, 16).replace("T", " ");

type Receipt = HandOff["receipt"];

/** How large a file is, behind the name of its link. */
const Size = ({ bytes }: { bytes: number }): ReactNode => <span className="mono muted ml-8">{fileSize(bytes)}</span>;

/** A receipt: what was written and what reading it back proved. */
export function Slip({ handOff, character }: { handOff: HandOff; character: string }): ReactNode {
  const { receipt, version } = handOff;
  const { readBack, validator } = receipt;
  const { refusal, vrm } = useVrm(handOff, character);
  const proved =
    readBack.joints && readBack.weights && readBack.shapes && readBack.drivers && readBack.differences.length === 0;
  return (
    <article className="slip" aria-label={`Receipt of version ${version}`}>
      <div className="spread">
        <b className="t-head">
          {character}, version {version}
        </b>
        <span className="mono muted">{when(handOff.createdAt)} UTC</span>
      </div>
      <div style={{ marginTop: 2, color: proved ? "var(--accent)" : "var(--brick)" }}>
        {proved ? "Read back and found the same." : readBack.differences.join(" ")}
      </div>
      <dl>
        <dt>File</dt>
        <dd>
          <span className="mono">{receipt.fileName}</span>, {(receipt.bytes / 1048576).toFixed(2)} MB
        </dd>
        <dt>sha256</dt>
        <dd className="mono t-tiny">{receipt.sha256}</dd>
        <Same receipt={receipt} />
        <dt>Largest error</dt>
        <dd>
          <span className="mono">{readBack.largestErrorMm.toFixed(6)} mm</span> over {readBack.momentCount} poses and
          shapes
        </dd>
        <dt>Khronos validator</dt>
        <dd>
          {counted(validator.errors, "errors")}, {counted(validator.warnings, "warnings")}{" "}
          <span className="muted">({validator.version})</span>
          {validator.messages.map((m) => (
            <div key={m}>{m}</div>
          ))}
        </dd>
        <Tried receipt={receipt} />
        {receipt.notPlayed && receipt.notPlayed.length > 0 && (
          <>
            <dt>Not played</dt>
            <dd>
              by a plain glTF player: {receipt.notPlayed.join(", ")}. What sets them is in the GLB's extras and in the
              JSON.
            </dd>
          </>
        )}
        {receipt.accepted.map((a) => [
          <dt key={`${a.what} t`}>Accepted</dt>,
          <dd key={`${a.what} d`}>
            {a.what} <span className="muted">{a.reason}</span>
          </dd>,
        ])}
      </dl>
      <Files handOff={handOff} onVrm={() => void vrm()} />
      <Refused why={refusal} place="no-print mt-8" />
    </article>
  );
}

interface VrmFile {
  readonly refusal: string;
  readonly vrm: () => Promise<void>;
}
/** The VRM file of a hand-off, made when it is asked for. */
function useVrm(handOff: HandOff, character: string): VrmFile {
  const [refusal, setRefusal] = useState("");
  const vrm = async (): Promise<void> => {
    setRefusal("");
    try {
      const response = await fetch(`/api/handoffs/${handOff.id}/vrm`);
      if (response.ok) return saveFile(`${character} v${handOff.version}.vrm`, await response.blob());
      const { error } = (await response.json()) as { error: { what: string; todo: string } };
      setRefusal([error.what, error.todo].join(" "));
    } catch {
      setRefusal("The server does not answer. Try again in a moment.");
    }
  };
  return { refusal, vrm };
}

interface SameProps {
  readonly receipt: Receipt;
}
/** What was compared when it was read back. */
function Same({ receipt }: SameProps): ReactNode {
  const { readBack } = receipt;
  return (
    <>
      <dt>Joints</dt>
      <dd>
        {receipt.jointCount} {yes(readBack.joints)}
      </dd>
      <dt>Weights</dt>
      <dd>{yes(readBack.weights)}</dd>
      <dt>Shapes</dt>
      <dd>
        {receipt.shapeCount} {yes(readBack.shapes)}
      </dd>
      <dt>Drivers</dt>
      <dd>
        {counted(receipt.driverCount, "correctives")} by joints
        {receipt.combinationCount !== undefined &&
          `, ${counted(receipt.combinationCount, "shapes")} by other shapes`}{" "}
        {yes(readBack.drivers)}
      </dd>
    </>
  );
}

interface TriedProps {
  readonly receipt: Receipt;
}
/** What was open, and what was swept. */
function Tried({ receipt }: TriedProps): ReactNode {
  const { openFindings } = receipt;
  return (
    <>
      <dt>Open findings</dt>
      <dd>
        {counted(openFindings.error, "errors")}, {counted(openFindings.warn, "warnings")},{" "}
        {counted(openFindings.note, "notes")}
        {receipt.swept && receipt.swept.motions > 0 && (
          <span className="muted"> (of the checks and of the poses swept)</span>
        )}
      </dd>
      {receipt.swept && (
        <>
          <dt>Poses</dt>
          <dd>
            {receipt.swept.motions === 0
              ? "no motion is known: nothing was swept"
              : `${counted(receipt.swept.motions, "motions")} swept at ${receipt.swept.angles} ` +
                `angles each for this receipt, ${receipt.swept.over} over a limit`}
            ; poses of two motions and pairs of shapes were not
          </dd>
        </>
      )}
    </>
  );
}

interface FilesProps {
  readonly handOff: HandOff;
  readonly onVrm: () => void;
}
function Files({ handOff, onVrm }: FilesProps): ReactNode {
  return (
    <div className="line no-print mt-10 ml-n8">
      <Button href={`/api/handoffs/${handOff.id}/glb`} download>
        Download GLB <Size bytes={handOff.receipt.bytes} />
      </Button>
      <Button href={`/api/handoffs/${handOff.id}/sidecar`} download>
        Download JSON <Size bytes={handOff.sidecarBytes} />
      </Button>
      <Button onClick={onVrm} title="VRM 1.0: the same geometry with humanoid bones, expressions and look-at">
        Download VRM <span className="muted ml-8">made when asked for</span>
      </Button>
      <Button onClick={() => window.print()}>Print</Button>
    </div>
  );
}
