import Button from "@mui/material/Button";
import { useEffect, useRef, useState, type ReactNode } from "react";
import type { ClothRow } from "~core/measure/clothThrough";
import { longRun, wasCancelled, type LongRun } from "../../session/measureClient";
import { angleAlong, withMotion } from "../../session/posing";
import { useSession, useSessionStore } from "../../session/session";
import { counted } from "../../ui/counted";
import { FindField } from "../../ui/FindField";
import { LimitBar } from "../../ui/LimitBar";
import { Progress } from "../../ui/Progress";
import { SheetHead } from "../../ui/SheetHead";
import { CLOTH_LIMIT as limit, clothRows, keepClothRows } from "./clothRows";

/** Angles read along each motion. */
const STEPS = 7;

/** Skin that comes through the clothes over the whole range of motion, worst first; a row poses the figure where it is worst. */
export function ClothTrials({ leaves }: { leaves: ReactNode }): ReactNode {
  const store = useSessionStore();
  const loaded = useSession((s) => s.loaded);
  const method = useSession((s) => s.method);
  const pose = useSession((s) => s.pose);
  const [share, setShare] = useState<number | null>(null);
  const [, setRuns] = useState(0);
  const [find, setFind] = useState("");
  const [failed, setFailed] = useState("");
  const work = useRef<LongRun<ClothRow[]> | null>(null);
  useEffect(() => () => work.current?.cancel(), []);
  const rows = clothRows(loaded, method);
  const walk = async (): Promise<void> => {
    if (!loaded) return;
    setShare(0);
    setFailed("");
    try {
      work.current = longRun(loaded, (api, tell, token) => api.cloth(loaded.motions, STEPS, method, tell, token), setShare);
      keepClothRows(loaded, method, await work.current.result);
    } catch (error) {
      if (!wasCancelled(error)) setFailed("The clothes could not be read.");
    } finally {
      setShare(null);
      setRuns((n) => n + 1);
    }
  };
  const body = loaded?.character.parts.find((p) => p.kind === "body")?.name;
  const garments = loaded?.character.parts.filter((p) => p.kind === "garment").length ?? 0;
  const show = (r: ClothRow): void => {
    const motion = loaded?.motions.find((m) => m.id === r.motion);
    if (motion && body) store.setState({ pose: withMotion({}, motion, r.angle), weights: {}, joint: r.joint, framing: `joint ${r.joint}`, camera: null, dressed: true, reading: "skin", place: { part: body, vertices: r.vertices, least: 0.22 } });
  };
  const on = (r: ClothRow): boolean => {
    const motion = loaded?.motions.find((m) => m.id === r.motion);
    return motion !== undefined && pose[r.joint] !== undefined && Object.keys(pose).length === 1 && angleAlong(motion, pose) === Math.round(r.angle);
  };
  const shown = rows?.filter((r) => `${r.garment} ${r.label}`.toLowerCase().includes(find.toLowerCase())) ?? [];
  const over = rows?.filter((r) => r.depthMm > limit).length ?? 0;
  return (
    <div className="sheet">
      <SheetHead title="Trials" leaves={leaves}>
        {share !== null ? <Progress title="Walking through every motion" share={share} onCancel={() => work.current?.cancel()} /> : (
          <>
            <FindField label="Find a garment or motion" value={find} onChange={setFind} />
            <span className="muted nowrap">{rows ? `${over} of ${loaded?.motions.length ?? 0} motions over ${limit} mm` : ""}</span>
            <Button variant={rows ? "text" : "contained"} disabled={!loaded || garments === 0} onClick={() => void walk()}>{rows ? "Walk again" : "Walk through"}</Button>
          </>
        )}
      </SheetHead>
      <div className="sheet-body">
        {failed && <div className="refusal" role="alert" style={{ margin: "10px 18px" }}>{failed}</div>}
        {!rows && share === null && !failed && <p style={{ padding: "8px 18px" }}>{garments === 0 ? "No part is a garment. Set the kind of the clothes at Intake, Parts." : `Every joint goes through its range; skin that ${counted(garments, "garments")} cover at rest is read where it stands out of them. The worst comes first: take the garment's weights from the skin there, or correct it in the pose.`}</p>}
        {rows && shown.length === 0 && <p className="muted" style={{ padding: "8px 18px" }}>{rows.length ? "Nothing matches." : "No skin comes through."}</p>}
        {shown.map((r) => (
          <div key={`${r.garment} ${r.motion}`} className={`row${on(r) ? " open" : ""}`}>
            <button type="button" className="plain row-line" aria-pressed={on(r)} onClick={() => show(r)}>
              <b style={{ width: 92, flex: "none", overflow: "hidden", textOverflow: "ellipsis", whiteSpace: "nowrap", fontWeight: 550 }}>{r.garment}</b>
              <span className="grow nowrap">{r.label}</span>
              <span className="mono muted nowrap">{r.angle > 0 ? "+" : ""}{Math.round(r.angle)}°</span>
              <span className="mono muted nowrap" style={{ width: 92, textAlign: "right" }}>{counted(r.vertices.length, "vertices")}</span>
              <span style={{ width: 132, flex: "none", textAlign: "right" }}><LimitBar value={r.depthMm} limit={limit} text={`${r.depthMm.toFixed(1)} mm`} width={46} /></span>
            </button>
          </div>
        ))}
      </div>
    </div>
  );
}
