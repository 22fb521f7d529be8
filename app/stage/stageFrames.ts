import { useFrame, useThree } from "@react-three/fiber";
import { useEffect, useMemo, type RefObject } from "react";
import type { PerspectiveCamera } from "three";
import { stageIsDrawn } from "../session/clearWay";
import { useSessionStore } from "../session/session";
import { FinerWhenStill } from "./finerWhenStill";
import { drawsInSoftware } from "./softwareRenderer";
import { asSeen, type Linked } from "./stageCamera";
import type { StageModel } from "./StageModel";

export interface Frames {
  readonly model: StageModel | null;
  readonly ready: RefObject<boolean>;
  readonly linked: RefObject<Linked | null>;
  /** Share of the stage's width at which before ends, 0..1. */
  readonly wipe: RefObject<number>;
}

/** Draws each frame: now, before, or both beside each other. */
export function useFrames({ model, ready, linked, wipe }: Frames): void {
  const store = useSessionStore();
  const { invalidate, gl, size } = useThree();
  const finer = useMemo(
    () => (drawsInSoftware() ? new FinerWhenStill(gl, () => invalidate()) : null),
    [gl, invalidate],
  );
  useEffect(() => () => finer?.end(), [finer]);
  useFrame(({ gl: renderer, scene, camera: eye }) => {
    if (!model || !ready.current) return;
    finer?.begin();
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
}
