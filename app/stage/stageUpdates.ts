import { useThree } from "@react-three/fiber";
import { useEffect, useRef, type RefObject } from "react";
import { useSessionStore } from "../session/session";
import { isHeat } from "./heat";
import type { Lights } from "./lights";
import { programsReady } from "./programsReady";
import type { StageModel } from "./StageModel";
import { isSeen } from "./whatIsDrawn";

/** So long the first picture waits for textures, ms; those that come later are shown when they are there. */
const TEXTURES_MS = 600;

/**
 * Keeps what is drawn up to date with the session, once a frame.
 *
 * @returns whether its programs are there; nothing is drawn before.
 */
export function useUpdates(model: StageModel | null, lights: Lights): RefObject<boolean> {
  const store = useSessionStore();
  const { invalidate, camera, gl, scene } = useThree();
  const ready = useRef(false);
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
    const stop = store.subscribe((now, was) => isSeen(now, was) && ask());
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
  return ready;
}
