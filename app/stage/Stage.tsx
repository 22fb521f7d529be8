import { Canvas } from "@react-three/fiber";
import { useRef, useState, type ReactNode, type RefObject } from "react";
import { boneLabel } from "~core/names/humanoidBones";
import { useSession, useSessionStore } from "../session/session";
import { COMPARES, READINGS, type Reading } from "../session/urlState";
import { FRAMINGS } from "./framings";
import { HEAT_CSS } from "../ui/heatCss";
import { HEAT_SCALES, isHeat, OFF_SCALE_MM } from "./heat";
import { drawsInSoftware } from "./softwareRenderer";
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
  const wipe = useRef(0.5);
  const software = drawsInSoftware();
  const hasLoaded = useSession((s) => s.loaded !== null);
  const error = useSession((s) => s.loadError);
  const compare = useSession((s) => s.compare);
  return (
    <section className="stage" aria-label="Stage">
      <Canvas
        frameloop="demand"
        dpr={software ? 1 : [1, 2]}
        camera={{ fov: 26, position: [0, 1, 4] }}
        gl={{ antialias: !software, preserveDrawingBuffer: true, alpha: true }}
        style={{ position: "absolute", inset: 0 }}>
        <StageScene wipe={wipe} />
      </Canvas>
      {error && (
        <div className="stage-note" role="alert">
          {error}
        </div>
      )}
      {!hasLoaded && !error && (
        <div className="stage-note" role="status">
          Fetching the character
        </div>
      )}
      <FramingChips />
      <ReadingChips />
      <CompareChips />
      {compare === "wipe" && <WipeLine wipe={wipe} />}
      {compare === "side by side" && <SideWords />}
      <Legend />
    </section>
  );
}

interface ChipProps {
  readonly label: string;
  readonly on: boolean;
  readonly act: () => void;
  readonly title?: string | undefined;
}
const Chip = ({ label, on, act, title }: ChipProps): ReactNode => (
  <button type="button" className="chip" aria-pressed={on} onClick={act} title={title}>
    {label}
  </button>
);

function FramingChips(): ReactNode {
  const store = useSessionStore();
  const loaded = useSession((s) => s.loaded);
  const framing = useSession((s) => s.framing);
  const joint = useSession((s) => s.joint);
  const at = loaded?.character.skeleton?.joints.findIndex((j) => j.name === joint) ?? -1;
  const bone = loaded?.humanoid?.boneOfJoint[at];
  const frame = (name: string): void => lookAt(store, { framing: name });
  return (
    <div className="chips" style={{ left: 14, top: 12, maxWidth: "44%" }} role="group" aria-label="Framing">
      {FRAMINGS.map((f) => (
        <Chip key={f} label={f} on={framing === f} act={() => frame(f)} />
      ))}
      {joint && (
        <Chip
          label={bone ? boneLabel(bone) : joint}
          on={framing === `joint ${joint}`}
          act={() => frame(`joint ${joint}`)}
          title={`Frame ${joint}`}
        />
      )}
    </div>
  );
}

function ReadingChips(): ReactNode {
  const store = useSessionStore();
  const reading = useSession((s) => s.reading);
  const moved = useSession((s) => s.moved !== null);
  const wires = useSession((s) => s.wires);
  const joints = useSession((s) => s.joints);
  const dressed = useSession((s) => s.dressed);
  const drivers = useSession((s) => s.drivers);
  const character = useSession((s) => s.loaded?.character);
  const hasDrivers = character ? poseDriven(character).size + character.shapeDrivers.length > 0 : false;
  const hasGarment = character?.parts.some((p) => p.kind === "garment") ?? false;
  const read = (r: Reading): void => {
    setView(store, { reading: r });
    showMoved(store, null);
  };
  return (
    <div
      className="chips"
      style={{ right: 14, top: 12, maxWidth: "52%", justifyContent: "flex-end" }}
      role="group"
      aria-label="Surface reading">
      {READINGS.map((r) => (
        <Chip key={r} label={READING_NAMES[r]} on={reading === r && !moved} act={() => read(r)} />
      ))}
      {moved && <Chip label="moved ×" on act={() => showMoved(store, null)} title="Back to the reading before" />}
      {hasDrivers && (
        <Chip
          label="correctives"
          on={drivers}
          act={() => toggleView(store, "drivers")}
          title="Whether drivers and combinations act"
        />
      )}
      <Chip label="wires" on={wires} act={() => toggleView(store, "wires")} />
      <Chip label="joints" on={joints} act={() => toggleView(store, "joints")} />
      {hasGarment && !isHeat(reading) && <Chip label="clothes" on={dressed} act={() => toggleView(store, "dressed")} />}
    </div>
  );
}

function CompareChips(): ReactNode {
  const store = useSessionStore();
  const compare = useSession((s) => s.compare);
  const beside = useSession((s) => s.beside?.title ?? null);
  return (
    <div className="chips" style={{ left: 14, bottom: 12 }} role="group" aria-label="Before and after">
      {COMPARES.map((c) => (
        <Chip
          key={c}
          label={c}
          on={compare === c}
          act={() => setView(store, { compare: c })}
          title={c === "before" ? `${beside ?? "Without correctives"} (hold B)` : undefined}
        />
      ))}
    </div>
  );
}

/** @param wipe share of the stage's width at which before ends, 0..1. */
function WipeLine({ wipe }: { readonly wipe: RefObject<number> }): ReactNode {
  const store = useSessionStore();
  const [at, setAt] = useState(() => wipe.current);
  return (
    <input
      type="range"
      aria-label="Wipe line"
      min={0}
      max={1}
      step={0.01}
      value={at}
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
        setAt(wipe.current);
        drawAgain(store);
      }}
    />
  );
}

/** What stands on either side. */
function SideWords(): ReactNode {
  const beside = useSession((s) => s.beside?.title ?? null);
  return (
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
  );
}

/** The scale of the colours that are shown. */
function Legend(): ReactNode {
  const reading = useSession((s) => s.reading);
  const moved = useSession((s) => s.moved);
  const isLaid = useSession((s) => s.scan?.view === "laid on");
  const isPainting = useSession((s) => s.mask?.painting ?? false);
  const hasJoint = useSession((s) => Boolean(s.joint));
  if (isLaid) return <Scale label="Scale: off the scan, mm" title="off the scan, mm" from={0} to={OFF_SCALE_MM} />;
  if (isPainting) return <Scale label="Scale: painted share" title="painted" from={0} to={1} />;
  if (moved) return <Scale label="Scale: moved, mm" title="moved, mm" from={0} to={mostMoved(moved.mm).toFixed(1)} />;
  if (!isHeat(reading)) return null;
  const { unit, from, to } = HEAT_SCALES[reading];
  const title = reading === "weights" && !hasJoint ? "choose a joint" : unit;
  return <Scale label={`Scale: ${unit}`} title={title} from={from} to={to} />;
}

interface ScaleProps {
  readonly label: string;
  readonly title: string;
  readonly from: number | string;
  readonly to: number | string;
}
const Scale = ({ label, title, from, to }: ScaleProps): ReactNode => (
  <div className="legend" aria-label={label}>
    {title}
    <div className="bar" style={{ background: HEAT_CSS }} />
    <div className="spread">
      <span>{from}</span>
      <span>{to}</span>
    </div>
  </div>
);
