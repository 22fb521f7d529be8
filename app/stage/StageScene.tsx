import { useFrame, useThree } from "@react-three/fiber";
import { useEffect, useMemo, useRef, type ReactNode, type RefObject } from "react";
import { Vector3, type PerspectiveCamera } from "three";
import { OrbitControls } from "three/addons/controls/OrbitControls.js";
import { momentOf, useSession, useSessionStore } from "../session/session";
import { cameraFor, FIELD_OF_VIEW, viewOf, viewOfPlace } from "./framings";
import { isHeat } from "./heat";
import { FloorTicks } from "./FloorTicks";
import { makeLights } from "./lights";
import { JointPick } from "./JointPick";
import { MaskBrush } from "./MaskBrush";
import { ScanTool } from "./ScanTool";
import { SculptTool } from "./SculptTool";
import { WeightBrush } from "./WeightBrush";
import { StageModel } from "./StageModel";
import { setView } from "../session/slices/view";

/** Contents of the canvas: the character, the camera that frames what is selected, and the before/after passes. */
export function StageScene({ wipe }: { wipe: RefObject<number> }): ReactNode {
  const store = useSessionStore();
  const parts = useSession((s) => s.loaded?.character.parts);
  const model = useMemo(() => {
    const { loaded } = store.getState();
    return parts && loaded ? new StageModel(loaded) : null;
  }, [parts, store]);
  const { invalidate, camera, gl, size } = useThree();
  const controls = useRef<OrbitControls | null>(null);
  const lights = useMemo(() => makeLights(), []);

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
    void model.textured.then((any) => any && !gone && ask());
    // a frame that is asked for before the canvas is ready is lost: it is asked for again until one was drawn
    const again = setInterval(
      () => (document.documentElement.dataset["stage"] === "drawn" ? clearInterval(again) : invalidate()),
      400,
    );
    return () => {
      gone = true;
      clearInterval(again);
      cancelAnimationFrame(queued);
      stop();
    };
  }, [model, lights, store, invalidate]);

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

  useCamera(model, controls);

  useFrame(({ gl: renderer, scene, camera: eye }) => {
    if (!model) return;
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
      renderer.render(scene, lens);
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

/** Moves the camera when framing, place or character change, or to where the link says. */
function useCamera(model: StageModel | null, controls: RefObject<OrbitControls | null>): void {
  const store = useSessionStore();
  const { camera, size, invalidate } = useThree();
  const framing = useSession((s) => s.framing);
  const place = useSession((s) => s.place);
  const byHand = useSession((s) => s.camera);
  const aspect = size.width / Math.max(1, size.height);
  useEffect(() => {
    const orbit = controls.current;
    const now = store.getState();
    const { loaded } = now;
    if (!model || !loaded || !orbit) return;
    const lens = camera as PerspectiveCamera;
    lens.fov = FIELD_OF_VIEW;
    lens.near = 0.01;
    lens.far = 60;
    if (byHand) {
      const [x, y, z, tx, ty, tz] = byHand as [number, number, number, number, number, number];
      if (new Vector3(x, y, z).distanceTo(lens.position) > 1e-3) lens.position.set(x, y, z);
      orbit.target.set(tx, ty, tz);
    } else {
      model.update(store.getState());
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
  }, [model, framing, place, byHand, aspect, camera, controls, store, invalidate]);
}
