import { useThree } from "@react-three/fiber";
import { useEffect, type ReactNode } from "react";
import { Vector3 } from "three";
import { useSession, useSessionStore } from "../session/session";
import type { StageModel } from "./StageModel";
import { chooseJoint } from "../session/slices/selection";

/** A click this near to a joint means it, pixels. */
const NEAR = 14;
/** A pointer that moved farther than this between down and up turned the camera, pixels. */
const STILL = 4;

/** While joints are shown, a click on one chooses it, or hands it to whoever asked for one. */
export function JointPick({ model }: { model: StageModel }): ReactNode {
  const store = useSessionStore();
  const shown = useSession(
    (s) => s.joints && s.sculpt === null && s.paint === null && s.scan === null && !s.mask?.painting,
  );
  const { gl, camera } = useThree();
  useEffect(() => {
    if (!shown) return;
    const canvas = gl.domElement;
    let from: { x: number; y: number } | null = null;
    const down = (e: PointerEvent): void => void (from = { x: e.clientX, y: e.clientY });
    const up = (e: PointerEvent): void => {
      const still = from && Math.hypot(e.clientX - from.x, e.clientY - from.y) <= STILL;
      from = null;
      if (!still) return;
      const box = canvas.getBoundingClientRect();
      let nearest: { joint: string; away: number } | null = null;
      for (const { joint, at } of model.jointPlaces()) {
        const p = new Vector3(...at).project(camera);
        if (p.z > 1) continue;
        const away = Math.hypot(
          box.left + ((p.x + 1) / 2) * box.width - e.clientX,
          box.top + ((1 - p.y) / 2) * box.height - e.clientY,
        );
        if (away <= NEAR && away < (nearest?.away ?? Infinity)) nearest = { joint, away };
      }
      if (!nearest) return;
      const { onPickJoint } = store.getState();
      if (onPickJoint) onPickJoint(nearest.joint);
      else chooseJoint(store, nearest.joint);
    };
    canvas.addEventListener("pointerdown", down);
    canvas.addEventListener("pointerup", up);
    return () => {
      canvas.removeEventListener("pointerdown", down);
      canvas.removeEventListener("pointerup", up);
    };
  }, [shown, gl, camera, model, store]);
  return null;
}
