import { useThree } from "@react-three/fiber";
import { useEffect, useMemo, useRef, type ReactNode, type RefObject } from "react";
import { BufferAttribute, BufferGeometry, Color, LineBasicMaterial, LineLoop, Raycaster, Vector2, Vector3 } from "three";
import type { OrbitControls } from "three/addons/controls/OrbitControls.js";
import { areaMask } from "~core/correctives/brush";
import { faceMask, type FaceArea } from "~core/correctives/faceMask";
import { dabSketch, type StrokeRecord } from "~core/correctives/sketch";
import { buildBvh, castRay, refitBvh, type Bvh } from "~core/measure/bvh";
import { slideOnEyes } from "~core/correctives/slideOnEyes";
import { eyeballsOf, type Eyeball } from "~core/measure/eyeballs";
import { eyeFrame } from "~core/measure/shapeRegion";
import { momentOf, useSession, useSessionStore, type Loaded } from "../session/session";
import type { StageModel } from "./StageModel";

const RING = 48;
const makeRing = (color: string): LineLoop => {
  const g = new BufferGeometry().setAttribute("position", new BufferAttribute(new Float32Array(3 * RING), 3));
  const loop = new LineLoop(g, new LineBasicMaterial({ color: new Color(color), depthTest: false, transparent: true }));
  loop.renderOrder = 4;
  loop.frustumCulled = false;
  loop.visible = false;
  return loop;
};

function placeRing(ring: LineLoop, centre: Vector3, normal: Vector3, radius: number): void {
  const u = new Vector3(Math.abs(normal.x) < 0.9 ? 1 : 0, Math.abs(normal.x) < 0.9 ? 0 : 1, 0).cross(normal).normalize();
  const w = normal.clone().cross(u);
  const at = ring.geometry.getAttribute("position") as BufferAttribute;
  for (let i = 0; i < RING; i++) {
    const a = (2 * Math.PI * i) / RING;
    at.setXYZ(i, centre.x + radius * (Math.cos(a) * u.x + Math.sin(a) * w.x), centre.y + radius * (Math.cos(a) * u.y + Math.sin(a) * w.y), centre.z + radius * (Math.cos(a) * u.z + Math.sin(a) * w.z));
  }
  at.needsUpdate = true;
  ring.visible = true;
}

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

interface Hit {
  readonly point: Vector3;
  readonly normal: Vector3;
  readonly vertex: number;
}

/** The brush on the stage: a ring where it would act, a ghost ring on the other side, dabs while the button is down. */
export function SculptTool({ model, controls }: { model: StageModel; controls: RefObject<OrbitControls | null> }): ReactNode {
  const store = useSessionStore();
  const active = useSession((s) => s.sculpt !== null);
  const { gl, camera, invalidate } = useThree();
  const ring = useMemo(() => makeRing("#23756B"), []);
  const ghost = useMemo(() => makeRing("#7fa9a2"), []);
  const tree = useRef<{ part: number; bvh: Bvh } | null>(null);

  useEffect(() => {
    if (!active) return;
    const canvas = gl.domElement;
    const orbit = controls.current;
    const ray = new Raycaster();
    let stroke: { record: StrokeRecord; last: Vector3; depth: number } | null = null;
    const aim = (e: PointerEvent | WheelEvent): void => {
      const box = canvas.getBoundingClientRect();
      ray.setFromCamera(new Vector2(((e.clientX - box.left) / box.width) * 2 - 1, 1 - ((e.clientY - box.top) / box.height) * 2), camera);
    };
    const find = (): Hit | null => {
      const { sculpt } = store.getState();
      if (!sculpt) return null;
      const { part } = sculpt.sketch;
      const P = model.nowDeformed.positions[part]!;
      if (tree.current?.part !== part) tree.current = { part, bvh: buildBvh(sculpt.sketch.rig.triangles[part]!, P) };
      else refitBvh(tree.current.bvh, P);
      const { origin, direction } = ray.ray;
      let best = Infinity;
      let triangle = -1;
      castRay(tree.current.bvh, P, origin.x, origin.y, origin.z, direction.x || 1e-12, direction.y || 1e-12, direction.z || 1e-12, (t, d, sign) => {
        if (sign < 0 && d < best) {
          best = d;
          triangle = t;
        }
      });
      if (triangle < 0) return null;
      const vertex = sculpt.sketch.rig.triangles[part]![3 * triangle]!;
      const N = model.nowDeformed.normals[part]!;
      return { point: origin.clone().addScaledVector(direction, best), normal: new Vector3(N[3 * vertex], N[3 * vertex + 1], N[3 * vertex + 2]), vertex };
    };
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
      if (!s.sculpt || !stroke) return;
      const share = s.measured?.joint === s.sculpt.joint ? s.measured.share : null;
      const mask = s.sculpt.purpose && s.loaded ? maskOfFace(s.loaded, s.sculpt.sketch.part, s.brush.face) : share ? areaMask(s.brush.area, share) : new Float32Array(model.nowDeformed.positions[s.sculpt.sketch.part]!.length / 3).fill(1);
      dabSketch(s.sculpt.sketch, momentOf(s), model.nowDeformed, { tool: s.brush.tool, centre: centre.toArray(), radius: s.brush.radiusMm / 1000, strength: (invert ? -1 : 1) * s.brush.strength, fallOff: s.brush.fallOff, drag: drag.toArray() }, mask, s.brush.symmetric, stroke.record);
      if (s.sculpt.purpose && s.brush.onEyes && s.loaded && s.brush.tool !== "give back") slideOnEyes(s.sculpt.sketch, eyesOf(s.loaded), stroke.record);
      store.setState({ sculpt: { ...s.sculpt, version: s.sculpt.version + 1 } });
    };
    const down = (e: PointerEvent): void => {
      if (e.button !== 0 || e.altKey) return;
      aim(e);
      const hit = find();
      if (!hit) return;
      e.stopImmediatePropagation();
      e.preventDefault();
      canvas.setPointerCapture(e.pointerId);
      if (controls.current) controls.current.enabled = false;
      stroke = { record: new Map(), last: hit.point.clone(), depth: hit.point.distanceTo(camera.position) };
      if (store.getState().brush.tool !== "move") dab(hit.point, new Vector3(), e.shiftKey);
    };
    const move = (e: PointerEvent): void => {
      aim(e);
      if (!stroke) return showRing(find());
      if (store.getState().brush.tool === "move") {
        const now = ray.ray.origin.clone().addScaledVector(ray.ray.direction, stroke.depth);
        const drag = now.clone().sub(stroke.last);
        dab(stroke.last, drag, false);
        stroke.last = now;
        return;
      }
      const hit = find();
      if (!hit || hit.point.distanceTo(stroke.last) < 0.12 * (store.getState().brush.radiusMm / 1000)) return;
      stroke.last = hit.point.clone();
      dab(hit.point, new Vector3(), e.shiftKey);
      showRing(hit);
    };
    const up = (e: PointerEvent): void => {
      if (!stroke) return;
      if (canvas.hasPointerCapture(e.pointerId)) canvas.releasePointerCapture(e.pointerId);
      if (controls.current) controls.current.enabled = true;
      const { record } = stroke;
      stroke = null;
      const { sculpt } = store.getState();
      if (sculpt && record.size > 0) store.setState({ sculpt: { ...sculpt, undo: [...sculpt.undo, record], redo: [], version: sculpt.version + 1 } });
    };
    const wheel = (e: WheelEvent): void => {
      aim(e);
      const hit = find();
      if (!hit) return;
      e.preventDefault();
      e.stopImmediatePropagation();
      const { brush } = store.getState();
      store.setState({ brush: { ...brush, radiusMm: Math.round(Math.min(200, Math.max(2, brush.radiusMm * (e.deltaY > 0 ? 0.9 : 1.111))) * 10) / 10 } });
      showRing(hit);
    };
    canvas.addEventListener("pointerdown", down, { capture: true });
    canvas.addEventListener("pointermove", move);
    canvas.addEventListener("pointerup", up);
    canvas.addEventListener("pointercancel", up);
    canvas.addEventListener("wheel", wheel, { capture: true, passive: false });
    return () => {
      canvas.removeEventListener("pointerdown", down, { capture: true });
      canvas.removeEventListener("pointermove", move);
      canvas.removeEventListener("pointerup", up);
      canvas.removeEventListener("pointercancel", up);
      canvas.removeEventListener("wheel", wheel, { capture: true });
      if (orbit) orbit.enabled = true;
      ring.visible = ghost.visible = false;
      tree.current = null;
    };
  }, [active, camera, controls, ghost, gl, invalidate, model, ring, store]);

  return (
    <>
      <primitive object={ring} />
      <primitive object={ghost} />
    </>
  );
}
