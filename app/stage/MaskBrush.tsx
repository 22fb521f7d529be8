import { useThree } from "@react-three/fiber";
import { useEffect, useMemo, type ReactNode, type RefObject } from "react";
import type { OrbitControls } from "three/addons/controls/OrbitControls.js";
import { dabMask, underBrush, type MaskRecord } from "~core/correctives/paintedMask";
import { useSession, useSessionStore } from "../session/session";
import { listenToBrush, makeRing, placeRing, SurfaceFinder } from "./brushPointer";
import type { StageModel } from "./StageModel";

/** The brush that paints a mask onto the skin, in whatever pose it stands; with Shift it takes away. */
export function MaskBrush({ model, controls }: { model: StageModel; controls: RefObject<OrbitControls | null> }): ReactNode {
  const store = useSessionStore();
  const active = useSession((s) => s.mask?.painting ?? false);
  const { gl, camera, invalidate } = useThree();
  const ring = useMemo(() => makeRing("#8a5a12"), []);

  useEffect(() => {
    if (!active) return;
    const finder = new SurfaceFinder();
    let record: MaskRecord = new Map();
    const stop = listenToBrush(gl.domElement, camera, () => controls.current, {
      find: (ray) => {
        const { mask, loaded } = store.getState();
        const part = mask?.of.part;
        return part === undefined || !loaded ? null : finder.find(ray, part, loaded.rig.triangles[part]!, model.nowDeformed.positions[part]!, model.nowDeformed.normals[part]!);
      },
      showRing: (hit) => {
        ring.visible = false;
        if (hit) placeRing(ring, hit.point, hit.normal, store.getState().brush.radiusMm / 1000);
        invalidate();
      },
      dab: (centre, _drag, invert) => {
        const { mask, brush } = store.getState();
        if (!mask) return;
        dabMask(mask.of, underBrush(model.nowDeformed.positions[mask.of.part]!, centre.toArray(), brush.radiusMm / 1000, brush.fallOff), invert ? -brush.strength : brush.strength, brush.symmetric, record);
        store.setState({ mask: { ...mask, version: mask.version + 1 } });
      },
      radius: () => store.getState().brush.radiusMm,
      setRadius: (radiusMm) => store.setState((s) => ({ brush: { ...s.brush, radiusMm } })),
      drags: () => false,
      begin: () => void (record = new Map()),
      end: () => {
        const { mask } = store.getState();
        if (mask && record.size > 0) store.setState({ mask: { ...mask, undo: [...mask.undo, record], version: mask.version + 1 } });
      },
    });
    return () => {
      stop();
      ring.visible = false;
    };
  }, [active, camera, controls, gl, invalidate, model, ring, store]);

  return <primitive object={ring} />;
}
