import Button from "@mui/material/Button";
import { useState, type ReactNode } from "react";
import { add, cross, normalize, pointAt, scale, sub, type Vec3 } from "~core/math/vec3";
import { FACE_CURVES, type FaceCurve, type FaceLandmark } from "~core/measure/faceLandmarks";
import { changeScan, leaveOut, pinAt, PIN_MOVES, tiesOf, type ScanState } from "../../../session/scan";
import { useSessionStore } from "../../../session/session";
import { counted } from "../../../ui/counted";
import { Segmented } from "../../../ui/Segmented";
import { undoInTool } from "../../../session/toolHistory";
import { lookAt } from "../../../session/slices/view";

/** How far the camera stands from a landmark that is shown, metres. */
const DISTANCE = 0.24;
/** Where a landmark is looked at from: before its skin, a little more from the front. */
function facing(P: Float32Array, { corners }: FaceLandmark): Vec3 {
  const [a, b, c] = corners.map((v) => pointAt(P, v)) as [Vec3, Vec3, Vec3];
  return normalize(add(scale(normalize(cross(sub(b, a), sub(c, a))), 0.7), [0, 0, 1]));
}

/**
 * The face's landmarks by curve, with where each stands on the scan; a row opens its points, a point is shown on the
 * stage.
 */
export function ScanLandmarks({
  scan,
  onPropose,
  onStand,
}: {
  scan: ScanState;
  onPropose: () => void;
  onStand: () => void;
}): ReactNode {
  const store = useSessionStore();
  const [open, setOpen] = useState<FaceCurve | "">("");
  const byHand = [...scan.places.values()].filter((p) => p.byHand).length;
  const off = new Map(scan.laid ? tiesOf(scan).map(({ landmark }, i) => [landmark.id, scan.laid!.tiesMm[i]]) : []);
  const positions = store.getState().loaded?.character.parts.find((p) => p.kind === "body")?.positions;
  const show = (l: FaceLandmark): void => {
    const view = scan.view === "laid on" ? "scan" : scan.view;
    changeScan(store, { chosen: l.id, view });
    const at = (view === "figure" ? null : pinAt(scan, l.id)) ?? l.place;
    if (positions) lookAt(store, { camera: [...add(at, scale(facing(positions, l), DISTANCE)), ...at] });
  };
  const curves = FACE_CURVES.map((curve) => ({
    curve,
    points: scan.landmarks.filter((l) => l.curve === curve),
  })).filter((c) => c.points.length);
  return (
    <div role="group" aria-label="Landmarks" className="stack gap-6">
      <LandmarkCount scan={scan} byHand={byHand} />
      <div style={{ display: "grid", gridTemplateColumns: "1fr 1fr", columnGap: 14, fontSize: 12.5 }}>
        {curves.map(({ curve, points }) => {
          return (
            <CurveButton
              key={curve}
              curve={curve}
              points={points}
              scan={scan}
              worst={Math.max(...points.map((l) => off.get(l.id) ?? -1))}
              open={open === curve}
              onOpen={() => setOpen(open === curve ? "" : curve)}
            />
          );
        })}
      </div>
      {open && (
        <table className="plain" aria-label={`Points of ${open}`}>
          <tbody>
            {curves
              .find((c) => c.curve === open)
              ?.points.map((l) => {
                return <PointRow key={l.id} scan={scan} landmark={l} offMm={off.get(l.id)} onShow={() => show(l)} />;
              })}
          </tbody>
        </table>
      )}
      <div className="line">
        <Button disabled={scan.undo.length === 0} onClick={() => undoInTool(store, "scan")}>
          Take back
        </Button>
        <Button disabled={byHand === 0} onClick={onPropose} title="Where the others would be, given those set by hand">
          Propose the others anew
        </Button>
        <Button onClick={onStand} title="Moves, turns and sizes the scan so that its landmarks meet the figure's">
          Stand it by landmarks
        </Button>
      </div>
    </div>
  );
}

interface LandmarkCountProps {
  readonly scan: ScanState;
  readonly byHand: number;
}
function LandmarkCount({ scan, byHand }: LandmarkCountProps): ReactNode {
  const store = useSessionStore();
  return (
    <div className="line t-small">
      <span>
        {counted(scan.places.size, "landmarks")} of {scan.landmarks.length} on the scan
        {byHand ? `, ${byHand} by hand` : ""}
      </span>
      <span className="grow" />
      <span className="muted">a drag moves</span>
      <Segmented
        label="What a drag moves"
        options={PIN_MOVES}
        value={scan.moves}
        onChange={(moves) => changeScan(store, { moves })}
        names={{ point: "one point", curve: "its curve" }}
      />
    </div>
  );
}

interface CurveButtonProps {
  readonly curve: FaceCurve;
  readonly points: readonly FaceLandmark[];
  readonly scan: ScanState;
  readonly worst: number;
  readonly open: boolean;
  readonly onOpen: () => void;
}
/** A curve: how many of its points stand, and the worst of them in millimetres. */
function CurveButton({ curve, points, scan, worst, open, onOpen }: CurveButtonProps): ReactNode {
  const set = points.filter((l) => scan.places.has(l.id));
  const hand = set.filter((l) => scan.places.get(l.id)!.byHand).length;
  return (
    <button
      type="button"
      className="plain"
      aria-expanded={open}
      onClick={onOpen}
      style={{
        borderBottom: "1px solid var(--line)",
        padding: "4px 2px",
        background: open ? "var(--paper2)" : undefined,
      }}>
      <span className="row-flex gap-8 wide">
        <b className="wide-104 rigid">{curve}</b>
        <span className="muted grow">
          {set.length === points.length ? set.length : `${set.length} of ${points.length}`}
          {hand ? `, ${hand} by hand` : ""}
        </span>
        {worst >= 0 && <span className="mono">{worst.toFixed(1)} mm</span>}
      </span>
    </button>
  );
}

interface PointRowProps {
  readonly scan: ScanState;
  readonly landmark: FaceLandmark;
  readonly offMm: number | undefined;
  readonly onShow: () => void;
}
function PointRow({ scan, landmark, offMm, onShow }: PointRowProps): ReactNode {
  const store = useSessionStore();
  const place = scan.places.get(landmark.id);
  const chosen = scan.chosen === landmark.id;
  const missing = chosen ? "click where it is on the scan" : "left out";
  const state = place ? (place.byHand ? "by hand" : "proposed") : missing;
  return (
    <tr aria-current={chosen}>
      <td className="wide-150">
        <button type="button" className="plain" onClick={onShow} style={{ fontWeight: chosen ? 650 : 400 }}>
          {landmark.id}
        </button>
      </td>
      <td className="muted">{state}</td>
      <td className="num">{offMm !== undefined && place ? `${offMm.toFixed(1)} mm` : ""}</td>
      <td className="num wide-30">
        {place && (
          <button
            type="button"
            className="plain"
            aria-label={`Leave ${landmark.id} out`}
            title="Leave it out"
            onClick={() => leaveOut(store, landmark.id)}>
            ×
          </button>
        )}
      </td>
    </tr>
  );
}
