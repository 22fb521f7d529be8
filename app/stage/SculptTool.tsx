import { useThree } from "@react-three/fiber";
import { useEffect, useMemo, type ReactNode, type RefObject } from "react";
import { Vector3 } from "three";
import type { OrbitControls } from "three/addons/controls/OrbitControls.js";
import { areaMask } from "~core/correctives/brush";
import { faceMask, type FaceArea } from "~core/correctives/faceMask";
import { dabSketch, type StrokeRecord } from "~core/correctives/sketch";
import { slideOnEyes } from "~core/correctives/slideOnEyes";
import { makeTeethContact, slideOnTeeth, type TeethContact } from "~core/correctives/slideOnTeeth";
import type { Rig } from "~core/deform/rig";
import { eyeballsOf, type Eyeball } from "~core/measure/eyeballs";
import { eyeFrame } from "~core/measure/shapeRegion";
import { momentOf, useSession, useSessionStore, type Loaded } from "../session/session";
import { listenToBrush, makeRing, placeRing, SurfaceFinder, type Hit } from "./brushPointer";
import type { StageModel } from "./StageModel";

let held: { loaded: Loaded; part: number; area: FaceArea; mask: Float32Array } | null = null;
/** The face mask of a part, made once for many dabs. */
function maskOfFace(loaded: Loaded, part: number, area: FaceArea): Float32Array {
  if (held?.loaded !== loaded || held.part !== part || held.area !== area) held = { loaded, part, area, mask: faceMask(area, loaded.character.parts[part]!.positions, eyeFrame(loaded.character, loaded.humanoid)) };
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

/** The brush on the stage: a ring where it would act, a ghost ring on the other side, dabs while the button is down. */
export function SculptTool({ model, controls }: { model: StageModel; controls: RefObject<OrbitControls | null> }): ReactNode {
  const store = useSessionStore();
  const active = useSession((s) => s.sculpt !== null && !s.mask?.painting);
  const { gl, camera, invalidate } = useThree();
  const ring = useMemo(() => makeRing("#23756B"), []);
  const ghost = useMemo(() => makeRing("#7fa9a2"), []);

  useEffect(() => {
    if (!active) return;
    const finder = new SurfaceFinder();
    let record: StrokeRecord = new Map();
    const showRing = (hit: Hit | null): void => {
      const { brush, sculpt } = store.getState();
      ring.visible = ghost.visible = false;
      if (hit && sculpt) {
        placeRing(ring, hit.point, hit.normal, brush.radiusMm / 1000);
        const m = sculpt.sketch.mirror[hit.vertex]!;
        if (brush.symmetric && m >= 0) {
          const P = model.nowDeformed.positions[sculpt.sketch.part]!;
          const N = model.nowDeformed.normals[sculpt.sketch.part]!;
          placeRing(ghost, new Vector3(P[3 * m], P[3 * m + 1], P[3 * m + 2]), new Vector3(N[3 * m], N[3 * m + 1], N[3 * m + 2]), brush.radiusMm / 1000);
        }
      }
      invalidate();
    };
    const dab = (centre: Vector3, drag: Vector3, invert: boolean): void => {
      const s = store.getState();
      if (!s.sculpt) return;
      const share = s.measured?.joint === s.sculpt.joint ? s.measured.share : null;
      const painted = s.brush.face === "painted" ? (s.mask?.of.part === s.sculpt.sketch.part ? s.mask.of.values : null) : undefined;
      const mask = s.sculpt.purpose && s.loaded ? (painted === undefined ? maskOfFace(s.loaded, s.sculpt.sketch.part, s.brush.face) : faceMask("painted", s.sculpt.sketch.rig.character.parts[s.sculpt.sketch.part]!.positions, null, painted)) : share ? areaMask(s.brush.area, share) : new Float32Array(model.nowDeformed.positions[s.sculpt.sketch.part]!.length / 3).fill(1);
      dabSketch(s.sculpt.sketch, momentOf(s), model.nowDeformed, { tool: s.brush.tool, centre: centre.toArray(), radius: s.brush.radiusMm / 1000, strength: (invert ? -1 : 1) * s.brush.strength, fallOff: s.brush.fallOff, drag: drag.toArray() }, mask, s.brush.symmetric, record);
      if (s.sculpt.purpose && s.brush.onEyes && s.loaded && s.brush.tool !== "give back") {
        slideOnEyes(s.sculpt.sketch, eyesOf(s.loaded), record);
        const teeth = teethOf(s.sculpt.sketch.rig);
        if (teeth) slideOnTeeth(s.sculpt.sketch, momentOf(s), model.nowDeformed, teeth, record);
      }
      store.setState({ sculpt: { ...s.sculpt, version: s.sculpt.version + 1 } });
    };
    const stop = listenToBrush(gl.domElement, camera, () => controls.current, {
      find: (ray) => {
        const { sculpt } = store.getState();
        if (!sculpt) return null;
        const { part, rig } = sculpt.sketch;
        return finder.find(ray, part, rig.triangles[part]!, model.nowDeformed.positions[part]!, model.nowDeformed.normals[part]!);
      },
      showRing, dab,
      radius: () => store.getState().brush.radiusMm,
      setRadius: (radiusMm) => store.setState((s) => ({ brush: { ...s.brush, radiusMm } })),
      drags: () => store.getState().brush.tool === "move",
      begin: () => void (record = new Map()),
      end: () => {
        const { sculpt } = store.getState();
        if (sculpt && record.size > 0) store.setState({ sculpt: { ...sculpt, undo: [...sculpt.undo, record], redo: [], version: sculpt.version + 1 } });
      },
    });
    return () => {
      stop();
      ring.visible = ghost.visible = false;
    };
  }, [active, camera, controls, ghost, gl, invalidate, model, ring, store]);

  return (
    <>
      <primitive object={ring} />
      <primitive object={ghost} />
    </>
  );
}
