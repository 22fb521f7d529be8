import { useMemo, type ReactNode, type RefObject } from "react";
import { Vector3 } from "three";
import type { OrbitControls } from "three/addons/controls/OrbitControls.js";
import { areaMask } from "~core/correctives/brush";
import { faceMask, type FaceArea } from "~core/correctives/faceMask";
import { dabSketch } from "~core/correctives/sketch";
import { slideOnEyes } from "~core/correctives/slideOnEyes";
import { makeTeethContact, slideOnTeeth, type TeethContact } from "~core/correctives/slideOnTeeth";
import type { Rig } from "~core/deform/rig";
import { eyeballsOf, type Eyeball } from "~core/measure/eyeballs";
import { eyeFrame } from "~core/measure/shapeRegion";
import { momentOf, useSession, useSessionStore, type Loaded, type Session } from "../session/session";
import { makeRing, placeRing } from "./brushPointer";
import type { StageModel } from "./StageModel";
import { useStageBrush } from "./useStageBrush";
import { strokeEnded, strokeMoved } from "../session/slices/tools";

let held: { loaded: Loaded; part: number; area: FaceArea; mask: Float32Array } | null = null;
/** The face mask of a part, made once for many dabs. */
function maskOfFace(loaded: Loaded, part: number, area: FaceArea): Float32Array {
  if (held?.loaded !== loaded || held.part !== part || held.area !== area)
    held = {
      loaded,
      part,
      area,
      mask: faceMask(area, loaded.character.parts[part]!.positions, eyeFrame(loaded.character, loaded.humanoid)),
    };
  return held.mask;
}

const eyesHeld = new WeakMap<Loaded, readonly Eyeball[]>();
/** The character's eyeballs, fitted once. */
function eyesOf(loaded: Loaded): readonly Eyeball[] {
  const known = eyesHeld.get(loaded) ?? eyeballsOf(loaded.character);
  eyesHeld.set(loaded, known);
  return known;
}

const teethHeld = new WeakMap<Rig, TeethContact | null>();
/** Trees of the teeth, built once for a sketch. */
function teethOf(rig: Rig): TeethContact | null {
  if (!teethHeld.has(rig)) teethHeld.set(rig, makeTeethContact(rig));
  return teethHeld.get(rig)!;
}

/** Where the brush may act, 0..1 a vertex: the face's area, what is painted, or the joint's region. */
function maskOf(s: Session, sculpt: NonNullable<Session["sculpt"]>, vertexCount: number): Float32Array {
  const { part, rig } = sculpt.sketch;
  if (sculpt.purpose && s.loaded) {
    if (s.brush.face !== "painted") return maskOfFace(s.loaded, part, s.brush.face);
    return faceMask(
      "painted",
      rig.character.parts[part]!.positions,
      null,
      s.mask?.of.part === part ? s.mask.of.values : null,
    );
  }
  if (s.brush.area === "painted")
    return faceMask(
      "painted",
      rig.character.parts[part]!.positions,
      null,
      s.mask?.of.part === part ? s.mask.of.values : null,
    );
  const share = s.measured?.joint === sculpt.joint ? s.measured.share : null;
  return share ? areaMask(s.brush.area, share) : new Float32Array(vertexCount).fill(1);
}

/** The brush that sculpts, with a ghost ring on the other side where it works on both. */
export function SculptTool({
  model,
  controls,
}: {
  model: StageModel;
  controls: RefObject<OrbitControls | null>;
}): ReactNode {
  const store = useSessionStore();
  const ghost = useMemo(() => makeRing("#7fa9a2"), []);
  const ring = useStageBrush<readonly [number, number, number]>(model, controls, {
    active: useSession((s) => s.sculpt !== null && !s.mask?.painting),
    color: "#1F6E64",
    part: () => store.getState().sculpt?.sketch.part,
    drags: () => store.getState().brush.tool === "move",
    beside: (hit) => {
      const { brush, sculpt } = store.getState();
      const m = hit && sculpt && brush.symmetric ? sculpt.sketch.mirror[hit.vertex]! : -1;
      ghost.visible = false;
      if (m < 0) return;
      const [P, N] = [
        model.nowDeformed.positions[sculpt!.sketch.part]!,
        model.nowDeformed.normals[sculpt!.sketch.part]!,
      ];
      placeRing(
        ghost,
        new Vector3(P[3 * m], P[3 * m + 1], P[3 * m + 2]),
        new Vector3(N[3 * m], N[3 * m + 1], N[3 * m + 2]),
        brush.radiusMm / 1000,
      );
    },
    dab: (centre, drag, invert, record) => {
      const s = store.getState();
      const { sculpt, brush } = s;
      if (!sculpt) return;
      const mask = maskOf(s, sculpt, model.nowDeformed.positions[sculpt.sketch.part]!.length / 3);
      dabSketch(
        sculpt.sketch,
        momentOf(s),
        model.nowDeformed,
        {
          tool: brush.tool,
          centre: centre.toArray(),
          radius: brush.radiusMm / 1000,
          strength: (invert ? -1 : 1) * brush.strength,
          fallOff: brush.fallOff,
          drag: drag.toArray(),
        },
        mask,
        brush.symmetric,
        record,
      );
      if (sculpt.purpose && brush.onEyes && s.loaded && brush.tool !== "give back") {
        slideOnEyes(sculpt.sketch, eyesOf(s.loaded), record);
        const teeth = teethOf(sculpt.sketch.rig);
        if (teeth) slideOnTeeth(sculpt.sketch, momentOf(s), model.nowDeformed, teeth, record);
      }
      strokeMoved(store, "sculpt");
    },
    end: (record) => strokeEnded(store, "sculpt", record),
  });
  return (
    <>
      <primitive object={ring} />
      <primitive object={ghost} />
    </>
  );
}
