import { useThree } from "@react-three/fiber";
import { useEffect, useMemo, type ReactNode, type RefObject } from "react";
import type { Vector3 } from "three";
import type { OrbitControls } from "three/addons/controls/OrbitControls.js";
import { underBrush } from "~core/correctives/paintedMask";
import { dabPaint, type PaintRecord } from "~core/weights/paintWeights";
import { useSession, useSessionStore } from "../session/session";
import { listenToBrush, makeRing, placeRing, SurfaceFinder } from "./brushPointer";
import type { StageModel } from "./StageModel";

/** The brush that paints the chosen joint's weight onto a part, in whatever pose it stands; with Shift adding takes away and the other way round. */
export function WeightBrush({ model, controls }: { model: StageModel; controls: RefObject<OrbitControls | null> }): ReactNode {
  const store = useSessionStore();
  const active = useSession((s) => s.paint !== null);
  const { gl, camera, invalidate } = useThree();
  const ring = useMemo(() => makeRing("#23756B"), []);

  useEffect(() => {
    if (!active) return;
    const finder = new SurfaceFinder();
    let record: PaintRecord = new Map();
    const dab = (centre: Vector3, _drag: Vector3, invert: boolean): void => {
      const { paint, brush, joint, loaded } = store.getState();
      const index = loaded?.character.skeleton?.joints.findIndex((j) => j.name === joint) ?? -1;
      if (!paint || index < 0) return;
      const hits = underBrush(model.nowDeformed.positions[paint.of.part]!, centre.toArray(), brush.radiusMm / 1000, brush.fallOff);
      const tool = invert && paint.tool === "add" ? "take away" : invert && paint.tool === "take away" ? "add" : paint.tool;
      dabPaint(paint.of, index, tool, brush.strength, hits, brush.symmetric, record);
      store.setState({ paint: { ...paint, version: paint.version + 1 } });
    };
    const stop = listenToBrush(gl.domElement, camera, () => controls.current, {
      find: (ray) => {
        const { paint, loaded } = store.getState();
        const part = paint?.of.part;
        return part === undefined || !loaded ? null : finder.find(ray, part, loaded.rig.triangles[part]!, model.nowDeformed.positions[part]!, model.nowDeformed.normals[part]!);
      },
      showRing: (hit) => {
        ring.visible = false;
        if (hit) placeRing(ring, hit.point, hit.normal, store.getState().brush.radiusMm / 1000);
        invalidate();
      },
      dab,
      radius: () => store.getState().brush.radiusMm,
      setRadius: (radiusMm) => store.setState((s) => ({ brush: { ...s.brush, radiusMm } })),
      drags: () => false,
      begin: () => void (record = new Map()),
      end: () => {
        const { paint } = store.getState();
        if (paint && record.size > 0) store.setState({ paint: { ...paint, undo: [...paint.undo, record], version: paint.version + 1 } });
      },
    });
    return () => {
      stop();
      ring.visible = false;
    };
  }, [active, camera, controls, gl, invalidate, model, ring, store]);

  return <primitive object={ring} />;
}
