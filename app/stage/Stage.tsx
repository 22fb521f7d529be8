import { Canvas } from "@react-three/fiber";
import { useRef, useState, type ReactNode } from "react";
import { boneLabel } from "~core/names/humanoidBones";
import { useSession, useSessionStore } from "../session/session";
import { COMPARES, READINGS, type Reading } from "../session/urlState";
import { FRAMINGS } from "./framings";
import { HEAT_CSS } from "../ui/heatCss";
import { HEAT_SCALES, isHeat, OFF_SCALE_MM } from "./heat";
import { mostMoved } from "./StageModel";
import { StageScene } from "./StageScene";
import { drawAgain, lookAt, setView, toggleView } from "../session/slices/view";
import { showMoved } from "../session/slices/selection";
import { poseDriven } from "~core/model/drivenShapes";

const READING_NAMES: Record<Reading, string> = {
  skin: "natural",
  clay: "clay",
  weights: "weights",
  stretch: "stretch",
  overlap: "overlap",
};

/** The stage: canvas with its chips for framing, reading and before/after. */
export default function Stage(): ReactNode {
  const store = useSessionStore();
  const wipe = useRef(0.5);
  const [wipeAt, setWipeAt] = useState(0.5);
  const loaded = useSession((s) => s.loaded);
  const error = useSession((s) => s.loadError);
  const framing = useSession((s) => s.framing);
  const reading = useSession((s) => s.reading);
  const moved = useSession((s) => s.moved);
  const compare = useSession((s) => s.compare);
  const wires = useSession((s) => s.wires);
  const joints = useSession((s) => s.joints);
  const dressed = useSession((s) => s.dressed);
  const drivers = useSession((s) => s.drivers);
  const beside = useSession((s) => s.beside?.title ?? null);
  const hasDrivers = useSession((s) =>
    s.loaded ? poseDriven(s.loaded.character).size + s.loaded.character.shapeDrivers.length > 0 : false,
  );
  const scanLaid = useSession((s) => s.scan?.view === "laid on");
  const masking = useSession((s) => s.mask?.painting ?? false);
  const joint = useSession((s) => s.joint);
  const hasGarment = loaded?.character.parts.some((p) => p.kind === "garment") ?? false;
  const jointAt = loaded?.character.skeleton?.joints.findIndex((j) => j.name === joint) ?? -1;
  const jointWord =
    joint && (loaded?.humanoid?.boneOfJoint[jointAt] ? boneLabel(loaded.humanoid.boneOfJoint[jointAt]!) : joint);
  const chip = (label: string, on: boolean, act: () => void, title?: string): ReactNode => (
    <button key={label} type="button" className="chip" aria-pressed={on} onClick={act} title={title}>
      {label}
    </button>
  );
  const frame = (name: string): void => lookAt(store, { framing: name });
  return (
    <section className="stage" aria-label="Stage">
      <Canvas
        frameloop="demand"
        dpr={[1, 2]}
        camera={{ fov: 26, position: [0, 1, 4] }}
        gl={{ antialias: true, preserveDrawingBuffer: true, alpha: true }}
        style={{ position: "absolute", inset: 0 }}>
        <StageScene wipe={wipe} />
      </Canvas>
      {error && (
        <div className="stage-note" role="alert">
          {error}
        </div>
      )}
      {!loaded && !error && (
        <div className="stage-note" role="status">
          Fetching the character
        </div>
      )}
      <div className="chips" style={{ left: 14, top: 12, maxWidth: "44%" }} role="group" aria-label="Framing">
        {FRAMINGS.map((f) => chip(f, framing === f, () => frame(f)))}
        {jointWord && chip(jointWord, framing === `joint ${joint}`, () => frame(`joint ${joint}`), `Frame ${joint}`)}
      </div>
      <div
        className="chips"
        style={{ right: 14, top: 12, maxWidth: "52%", justifyContent: "flex-end" }}
        role="group"
        aria-label="Surface reading">
        {READINGS.map((r) =>
          chip(READING_NAMES[r], reading === r && !moved, () => {
            setView(store, { reading: r });
            showMoved(store, null);
          }),
        )}
        {moved && chip("moved ×", true, () => showMoved(store, null), "Back to the reading before")}
        {hasDrivers &&
          chip("correctives", drivers, () => toggleView(store, "drivers"), "Whether drivers and combinations act")}
        {chip("wires", wires, () => toggleView(store, "wires"))}
        {chip("joints", joints, () => toggleView(store, "joints"))}
        {hasGarment && !isHeat(reading) && chip("clothes", dressed, () => toggleView(store, "dressed"))}
      </div>
      <div className="chips" style={{ left: 14, bottom: 12 }} role="group" aria-label="Before and after">
        {COMPARES.map((c) =>
          chip(
            c,
            compare === c,
            () => setView(store, { compare: c }),
            c === "before" ? `${beside ?? "Without correctives"} (hold B)` : undefined,
          ),
        )}
      </div>
      {compare === "wipe" && (
        <input
          type="range"
          aria-label="Wipe line"
          min={0}
          max={1}
          step={0.01}
          value={wipeAt}
          style={{
            position: "absolute",
            left: 0,
            right: 0,
            bottom: 44,
            width: "100%",
            accentColor: "var(--accent)",
            zIndex: 2,
          }}
          onChange={(e) => {
            wipe.current = Number(e.target.value);
            setWipeAt(wipe.current);
            drawAgain(store);
          }}
        />
      )}
      {compare === "side by side" && (
        <>
          <span
            aria-hidden
            style={{ position: "absolute", left: "50%", top: 0, bottom: 0, width: 1, background: "var(--line)" }}
          />
          <span className="mono muted" style={{ position: "absolute", left: 14, bottom: 44 }}>
            {beside ?? "without correctives"}
          </span>
          <span className="mono muted" style={{ position: "absolute", left: "51%", bottom: 44 }}>
            now
          </span>
        </>
      )}
      {moved && !scanLaid && !masking && (
        <div className="legend" aria-label="Scale: moved, mm">
          moved, mm
          <div className="bar" style={{ background: HEAT_CSS }} />
          <div className="spread">
            <span>0</span>
            <span>{mostMoved(moved.mm).toFixed(1)}</span>
          </div>
        </div>
      )}
      {(scanLaid || masking) && (
        <div className="legend" aria-label={scanLaid ? "Scale: off the scan, mm" : "Scale: painted share"}>
          {scanLaid ? "off the scan, mm" : "painted"}
          <div className="bar" style={{ background: HEAT_CSS }} />
          <div className="spread">
            <span>0</span>
            <span>{scanLaid ? OFF_SCALE_MM : 1}</span>
          </div>
        </div>
      )}
      {isHeat(reading) && !moved && !scanLaid && !masking && (
        <div className="legend" aria-label={`Scale: ${HEAT_SCALES[reading].unit}`}>
          {reading === "weights" && !joint ? "choose a joint" : HEAT_SCALES[reading].unit}
          <div className="bar" style={{ background: HEAT_CSS }} />
          <div className="spread">
            <span>{HEAT_SCALES[reading].from}</span>
            <span>{HEAT_SCALES[reading].to}</span>
          </div>
        </div>
      )}
    </section>
  );
}
