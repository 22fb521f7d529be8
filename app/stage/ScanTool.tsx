import { useThree } from "@react-three/fiber";
import { useEffect, useMemo, type ReactNode, type RefObject } from "react";
import type { OrbitControls } from "three/addons/controls/OrbitControls.js";
import { changeScan, movePin, rememberPlaces } from "../session/scan";
import { useSession, useSessionStore } from "../session/session";
import { ScanModel } from "./ScanModel";
import type { StageModel } from "./StageModel";

/** A click this near to a pin means it, pixels. */
const NEAR = 12;

/**
 * The scan on the stage with the face's landmarks: a pin is dragged over the scan, a click puts the chosen one there.
 */
export function ScanTool({
  model,
  controls,
}: {
  model: StageModel;
  controls: RefObject<OrbitControls | null>;
}): ReactNode {
  const active = useSession((s) => s.scan !== null);
  const scene = useMemo(() => (active ? new ScanModel() : null), [active]);

  useScanShown(scene, model);
  usePins(scene, controls);
  return scene ? <primitive object={scene.root} /> : null;
}

/** Keeps the scan as the session has it. */
function useScanShown(scene: ScanModel | null, model: StageModel): void {
  const store = useSessionStore();
  const { invalidate } = useThree();
  useEffect(() => {
    if (!scene) return;
    const show = (): void => {
      const s = store.getState();
      if (!s.scan || !s.loaded) return;
      scene.update(s.scan, s.loaded);
      model.root.visible = s.scan.view === "figure" || s.scan.view === "both";
      invalidate();
    };
    show();
    const stop = store.subscribe((s, before) => {
      if (s.scan !== before.scan || s.loaded !== before.loaded) show();
    });
    return () => {
      stop();
      model.root.visible = true;
      scene.dispose();
      invalidate();
    };
  }, [scene, model, store, invalidate]);
}

/** Landmarks are dragged on the scan; the chosen one is set by a click. */
function usePins(scene: ScanModel | null, controls: RefObject<OrbitControls | null>): void {
  const store = useSessionStore();
  const { gl, camera } = useThree();
  useEffect(() => {
    if (!scene) return;
    const canvas = gl.domElement;
    let dragged: { id: string; moved: boolean } | null = null;
    let from: { x: number; y: number } | null = null;
    const orbit = (enabled: boolean): void => {
      if (controls.current) controls.current.enabled = enabled;
    };
    const down = (e: PointerEvent): void => {
      const { scan, mask } = store.getState();
      if (!scan || e.button !== 0 || e.altKey || mask?.painting || scan.view === "figure" || scan.view === "laid on")
        return;
      from = { x: e.clientX, y: e.clientY };
      const pin = scene.pinNear(e, canvas, camera, scan, NEAR);
      if (!pin) return;
      e.stopImmediatePropagation();
      e.preventDefault();
      canvas.setPointerCapture(e.pointerId);
      orbit(false);
      dragged = { id: pin, moved: false };
      changeScan(store, { chosen: pin });
    };
    const move = (e: PointerEvent): void => {
      const { scan } = store.getState();
      if (!dragged || !scan) return;
      const at = scene.surfaceUnder(e, canvas, camera, scan);
      if (!at) return;
      if (!dragged.moved) rememberPlaces(store);
      dragged.moved = true;
      movePin(store, dragged.id, at);
    };
    const up = (e: PointerEvent): void => {
      const { scan } = store.getState();
      if (dragged) {
        if (canvas.hasPointerCapture(e.pointerId)) canvas.releasePointerCapture(e.pointerId);
        orbit(true);
      } else if (
        scan?.chosen &&
        !scan.places.has(scan.chosen) &&
        from &&
        Math.hypot(e.clientX - from.x, e.clientY - from.y) <= 4
      ) {
        const at = scene.surfaceUnder(e, canvas, camera, scan);
        if (at) {
          rememberPlaces(store);
          movePin(store, scan.chosen, at);
        }
      }
      dragged = from = null;
    };
    canvas.addEventListener("pointerdown", down, { capture: true });
    canvas.addEventListener("pointermove", move);
    canvas.addEventListener("pointerup", up);
    canvas.addEventListener("pointercancel", up);
    return () => {
      canvas.removeEventListener("pointerdown", down, { capture: true });
      canvas.removeEventListener("pointermove", move);
      canvas.removeEventListener("pointerup", up);
      canvas.removeEventListener("pointercancel", up);
      orbit(true);
    };
  }, [scene, camera, controls, gl, store]);
}
