import { useThree } from "@react-three/fiber";
import { useEffect, useMemo, useRef, type RefObject } from "react";
import type { LineLoop, Vector3 } from "three";
import type { OrbitControls } from "three/addons/controls/OrbitControls.js";
import { useSessionStore } from "../session/session";
import { listenToBrush, makeRing, placeRing, SurfaceFinder, type Hit } from "./brushPointer";
import type { StageModel } from "./StageModel";
import { setBrush } from "../session/slices/tools";

/** What one kind of brush does; radius, ring, strokes and the surface under the pointer are the same for all. */
export interface StageBrush<Value> {
  readonly active: boolean;
  readonly color: string;
  /** The part it acts on now, or none. */
  readonly part: () => number | undefined;
  /** @param record of the stroke: what was there before, by what was touched. */
  readonly dab: (centre: Vector3, drag: Vector3, invert: boolean, record: Map<number, Value>) => void;
  /** A stroke that changed something has ended. */
  readonly end: (record: Map<number, Value>) => void;
  /** Whether it takes the surface along with the pointer instead of dabbing. */
  readonly drags?: () => boolean;
  /** Shows more than the ring under the pointer, or hides it. */
  readonly beside?: (hit: Hit | null) => void;
}

/**
 * A brush on the stage: a ring where it would act, dabs while the button is down, the radius by the wheel. @returns the
 * ring to be drawn.
 */
export function useStageBrush<Value>(
  model: StageModel,
  controls: RefObject<OrbitControls | null>,
  brush: StageBrush<Value>,
): LineLoop {
  const store = useSessionStore();
  const { gl, camera, invalidate } = useThree();
  const { active, color } = brush;
  const ring = useMemo(() => makeRing(color), [color]);
  const kind = useRef(brush);
  useEffect(() => void (kind.current = brush));

  useEffect(() => {
    if (!active) return;
    const finder = new SurfaceFinder();
    let record = new Map<number, Value>();
    const radius = (): number => store.getState().brush.radiusMm;
    const showRing = (hit: Hit | null): void => {
      ring.visible = false;
      if (hit) placeRing(ring, hit.point, hit.normal, radius() / 1000);
      kind.current.beside?.(hit);
      invalidate();
    };
    const stop = listenToBrush(gl.domElement, camera, () => controls.current, {
      find: (ray) => {
        const part = kind.current.part();
        const { loaded } = store.getState();
        return part === undefined || !loaded
          ? null
          : finder.find(
              ray,
              part,
              loaded.rig.triangles[part]!,
              model.nowDeformed.positions[part]!,
              model.nowDeformed.normals[part]!,
            );
      },
      showRing,
      radius,
      dab: (centre, drag, invert) => kind.current.dab(centre, drag, invert, record),
      setRadius: (radiusMm) => setBrush(store, { radiusMm }),
      drags: () => kind.current.drags?.() ?? false,
      begin: () => void (record = new Map()),
      end: () => record.size > 0 && kind.current.end(record),
    });
    const { beside } = kind.current;
    return () => {
      stop();
      ring.visible = false;
      beside?.(null);
    };
  }, [active, camera, controls, gl, invalidate, model, ring, store]);

  return ring;
}
