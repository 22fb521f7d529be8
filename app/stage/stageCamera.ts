import { useThree } from "@react-three/fiber";
import { useEffect, useRef, type RefObject } from "react";
import { Vector3, type PerspectiveCamera } from "three";
import { OrbitControls } from "three/addons/controls/OrbitControls.js";
import { momentOf, useSession, useSessionStore, type Loaded, type Session } from "../session/session";
import { momentBeside } from "../session/slices/beside";
import { setView } from "../session/slices/view";
import { cameraFor, FIELD_OF_VIEW, viewOf, viewOfPlace, type View } from "./framings";
import type { StageModel } from "./StageModel";

/** The camera is turned about what it looks at; where it comes to rest is kept. */
export function useOrbit(): RefObject<OrbitControls | null> {
  const store = useSessionStore();
  const { invalidate, camera, gl } = useThree();
  const controls = useRef<OrbitControls | null>(null);
  useEffect(() => {
    const orbit = new OrbitControls(camera, gl.domElement);
    orbit.enableDamping = false;
    orbit.minDistance = 0.05;
    orbit.maxDistance = 20;
    const changed = (): void => invalidate();
    const ended = (): void => setView(store, { camera: [...camera.position.toArray(), ...orbit.target.toArray()] });
    orbit.addEventListener("change", changed);
    orbit.addEventListener("end", ended);
    controls.current = orbit;
    return () => orbit.dispose();
  }, [camera, gl, invalidate, store]);
  return controls;
}

/** How the character is framed, and what stands beside it: its camera is the same one, moved and scaled. */
export interface Linked {
  readonly own: View;
  readonly other: View;
}
export const asSeen = (position: Vector3, { own, other }: Linked): Vector3 =>
  position
    .clone()
    .sub(new Vector3(...own.centre))
    .multiplyScalar(other.radius / own.radius)
    .add(new Vector3(...other.centre));

/** Moves the camera when framing, place or character change, or to where the link says. */
export function useCamera(
  model: StageModel | null,
  controls: RefObject<OrbitControls | null>,
): RefObject<Linked | null> {
  const linked = useRef<Linked | null>(null);
  const store = useSessionStore();
  const { camera, size, invalidate } = useThree();
  const framing = useSession((s) => s.framing);
  const place = useSession((s) => s.place);
  const byHand = useSession((s) => s.camera);
  const beside = useSession((s) => s.beside);
  const compare = useSession((s) => s.compare);
  const framed = useSession((s) => s.framed);
  const width = compare === "side by side" ? size.width / 2 : size.width;
  const aspect = width / Math.max(1, size.height);
  useEffect(() => {
    const orbit = controls.current;
    const now = store.getState();
    const { loaded } = now;
    if (!model || !loaded || !orbit) return;
    const lens = camera as PerspectiveCamera;
    lens.fov = FIELD_OF_VIEW;
    lens.near = 0.01;
    lens.far = 60;
    model.update(now);
    linked.current = linkedViews(model, now);
    if (byHand) {
      const [x, y, z, tx, ty, tz] = byHand as [number, number, number, number, number, number];
      if (new Vector3(x, y, z).distanceTo(lens.position) > 1e-3) lens.position.set(x, y, z);
      orbit.target.set(tx, ty, tz);
    } else {
      const view =
        (place && viewOfPlace(place, loaded, model.nowDeformed)) ??
        viewOf(framing, loaded, momentOf(now), model.nowDeformed);
      const { position, target } = cameraFor(view, aspect);
      lens.position.set(...position);
      orbit.target.set(...target);
    }
    lens.updateProjectionMatrix();
    orbit.update();
    invalidate();
  }, [model, framing, place, byHand, beside, compare, framed, aspect, camera, controls, store, invalidate]);
  return linked;
}

/** Null where nothing else stands beside. */
function linkedViews(model: StageModel, s: Session): Linked | null {
  const drawn = model.beside();
  if (!s.beside || !s.loaded || !drawn) return null;
  return {
    own: viewOf(s.framing, s.loaded, momentOf(s), model.nowDeformed),
    other: viewOf(framingOf(s.framing, s.loaded, s.beside.loaded), s.beside.loaded, momentBeside(s), drawn.deformed),
  };
}

/** A framing as it is named on another character: its joint of the same bone. */
function framingOf(framing: string, own: Loaded, other: Loaded): string {
  const j = framing.startsWith("joint ")
    ? (own.character.skeleton?.joints.findIndex((x) => x.name === framing.slice(6)) ?? -1)
    : -1;
  const bone = own.humanoid?.boneOfJoint[j];
  const there = bone ? other.humanoid?.jointOfBone.get(bone) : undefined;
  return there === undefined ? framing : `joint ${other.character.skeleton!.joints[there]!.name}`;
}
