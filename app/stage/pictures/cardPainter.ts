import { PerspectiveCamera, Scene, WebGLRenderer } from "three";
import { FIELD_OF_VIEW } from "../framings";
import { makeLights } from "../lights";
import { disposePartScene, loadTextures, makePartScene, setLook, showDeformed } from "../partScene";
import type { MakePainter } from "./painter";

let renderer: WebGLRenderer | null = null;

/** Draws with the graphics card. */
export const cardPainter: MakePainter = async (made, deformed) => {
  const scene = makePartScene(made, deformed);
  const room = new Scene();
  await loadTextures(scene, made.character);
  room.add(makeLights().group, scene.root);
  return {
    paint(rig, from, at, width, height) {
      const canvas =
        (renderer?.domElement as unknown as OffscreenCanvas | undefined) ?? new OffscreenCanvas(width, height);
      renderer ??= new WebGLRenderer({
        canvas: canvas as unknown as HTMLCanvasElement,
        antialias: true,
        alpha: true,
        preserveDrawingBuffer: true,
      });
      renderer.setSize(width, height, false);
      showDeformed(scene);
      setLook(scene, rig.character, { clay: false, wires: false, dressed: true, heat: null });
      const camera = new PerspectiveCamera(FIELD_OF_VIEW, width / height, 0.01, 50);
      camera.position.set(...from);
      camera.lookAt(...at);
      renderer.render(room, camera);
      return canvas;
    },
    dispose: () => disposePartScene(scene),
  };
};
