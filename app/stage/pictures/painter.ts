import type { Deformed, Rig } from "~core/deform/rig";
import type { Vec3 } from "~core/math/vec3";

/** Draws one character into small pictures, in its natural look, dressed. */
export interface Painter {
  /**
   * Draws what the arrays hold that it was made over. @param rig of the same parts and materials.
   * @returns a canvas that is good until the next picture.
   */
  paint(rig: Rig, from: Vec3, at: Vec3, width: number, height: number): OffscreenCanvas;
  dispose(): void;
}

/** @param deformed whose arrays are drawn from then on. */
export type MakePainter = (rig: Rig, deformed: Deformed) => Promise<Painter>;
