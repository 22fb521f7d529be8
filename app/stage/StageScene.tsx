import { useFrame, useThree } from "@react-three/fiber";
import { useEffect, useMemo, useRef, type ReactNode, type RefObject } from "react";
import { Vector3, type PerspectiveCamera } from "three";
import { OrbitControls } from "three/addons/controls/OrbitControls.js";
import { momentOf, useSession, useSessionStore, type Loaded, type Session } from "../session/session";
import { stageIsDrawn } from "../session/clearWay";
import { cameraFor, FIELD_OF_VIEW, viewOf, viewOfPlace, type View } from "./framings";
import { isHeat } from "./heat";
import { FloorTicks } from "./FloorTicks";
import { makeLights } from "./lights";
import { JointPick } from "./JointPick";
import { MaskBrush } from "./MaskBrush";
import { ScanTool } from "./ScanTool";
import { SculptTool } from "./SculptTool";
import { WeightBrush } from "./WeightBrush";
import { programsReady } from "./programsReady";
import { StageModel } from "./StageModel";
import { momentBeside } from "../session/slices/beside";
import { setView } from "../session/slices/view";

/** So long the first picture waits for textures, ms; those that come later are shown when they are there. */
const TEXTURES_MS = 600;

/** Contents of the canvas: the character, the camera that frames what is selected, and the before/after passes. */
export function StageScene({ wipe }: { wipe: RefObject<number> }): ReactNode {
  const store = useSessionStore();
  const parts = useSession((s) => s.loaded?.character.parts);
  const materials = useSession((s) => s.loaded?.character.materials);
  const model = useMemo(() => {
    const { loaded } = store.getState();
    return parts && materials && loaded ? new StageModel(loaded) : null;
  }, [parts, materials, store]);
  const { invalidate, camera, gl, scene, size } = useThree();
  const controls = useRef<OrbitControls | null>(null);
  const lights = useMemo(() => makeLights(), []);

  const ready = useRef(false);

  useEffect(() => () => model?.dispose(), [model]);
  useEffect(() => {
    if (!model) return;
    let queued = 0;
    const update = (): void => {
      queued = 0;
      model.update(store.getState());
      const { reading, mask, scan } = store.getState();
      lights.even(isHeat(reading) || mask?.painting === true || scan?.view === "laid on");
      invalidate();
    };
    update();
    const ask = (): void => {
      if (!queued) queued = requestAnimationFrame(update);
    };
    const stop = store.subscribe(ask);
    let gone = false;
    // the look without textures is not made ready only to be made again a moment later
    ready.current = false;
    const show = async (): Promise<void> => {
      if (gone) return;
      if (ready.current) return ask();
      update();
      await programsReady(gl, scene, camera);
      if (gone) return;
      ready.current = true;
      invalidate();
    };
    const patience = setTimeout(() => void show(), TEXTURES_MS);
    void model.textured.then(show);
    const besideTextured = store.subscribe((s, was) => {
      if (s.beside === was.beside && s.compare === was.compare) return;
      requestAnimationFrame(() => void model.beside()?.textured.then((any) => any && !gone && ask()));
    });
    // a frame that is asked for before the canvas is ready is lost: it is asked for again until one was drawn
    const again = setInterval(
      () => (document.documentElement.dataset["stage"] === "drawn" ? clearInterval(again) : invalidate()),
      400,
    );
    return () => {
      gone = true;
      clearInterval(again);
      clearTimeout(patience);
      cancelAnimationFrame(queued);
      besideTextured();
      stop();
    };
  }, [model, lights, store, gl, scene, camera, invalidate]);

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

  const linked = useCamera(model, controls);

  useFrame(({ gl: renderer, scene, camera: eye }) => {
    if (!model || !ready.current) return;
    const { compare, beforeHeld } = store.getState();
    const { width, height } = size;
    const lens = eye as PerspectiveCamera;
    const draw = (which: "now" | "before", x: number, w: number, full: boolean): void => {
      model.showOnly(which);
      renderer.setScissorTest(true);
      renderer.setScissor(x, 0, w, height);
      renderer.setViewport(full ? 0 : x, 0, full ? width : w, height);
      lens.aspect = full ? width / height : w / height;
      lens.updateProjectionMatrix();
      const stood = lens.position.clone();
      if (which === "before" && linked.current) lens.position.copy(asSeen(stood, linked.current));
      renderer.render(scene, lens);
      lens.position.copy(stood);
    };
    if (beforeHeld || compare === "before") draw("before", 0, width, true);
    else if (compare === "wipe") {
      const at = Math.round(wipe.current * width);
      draw("before", 0, at, true);
      draw("now", at, width - at, true);
    } else if (compare === "side by side") {
      draw("before", 0, width / 2, false);
      draw("now", width / 2, width / 2, false);
    } else draw("now", 0, width, true);
    lens.aspect = width / height;
    lens.updateProjectionMatrix();
    document.documentElement.dataset["stage"] = "drawn";
    stageIsDrawn();
  }, 1);

  return (
    <>
      <primitive object={lights.group} />
      {model && <primitive object={model.root} />}
      <FloorTicks />
      {model && <JointPick model={model} />}
      {model && <SculptTool model={model} controls={controls} />}
      {model && <WeightBrush model={model} controls={controls} />}
      {model && <MaskBrush model={model} controls={controls} />}
      {model && <ScanTool model={model} controls={controls} />}
    </>
  );
}

/** How the character is framed, and what stands beside it: its camera is the same one, moved and scaled. */
interface Linked {
  readonly own: View;
  readonly other: View;
}
const asSeen = (position: Vector3, { own, other }: Linked): Vector3 =>
  position
    .clone()
    .sub(new Vector3(...own.centre))
    .multiplyScalar(other.radius / own.radius)
    .add(new Vector3(...other.centre));

/** Moves the camera when framing, place or character change, or to where the link says. */
function useCamera(model: StageModel | null, controls: RefObject<OrbitControls | null>): RefObject<Linked | null> {
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
