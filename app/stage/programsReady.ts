import type { Camera, Scene, WebGLRenderer } from "three";

/** How often it is asked whether the programs are there, ms. */
const ASK_MS = 10;

interface Drawn {
  readonly currentProgram?: { readonly isReady: () => boolean };
}

/**
 * Starts making the programs that a scene needs and waits until they are there, where the browser makes them beside the
 * page; a frame that needs one before would hold the page up. What is thrown away meanwhile is not waited for.
 */
export async function programsReady(renderer: WebGLRenderer, scene: Scene, camera: Camera): Promise<void> {
  const materials = [...renderer.compile(scene, camera)];
  const made = (): boolean =>
    materials.every((m) => (renderer.properties.get(m) as Drawn).currentProgram?.isReady() ?? true);
  while (!made()) await new Promise((resolve) => setTimeout(resolve, ASK_MS));
}
