import type { Vec3 } from "../math/vec3";

export const AXES = ["+X", "-X", "+Y", "-Y", "+Z", "-Z"] as const;
export type Axis = (typeof AXES)[number];
export const AXIS_VECTORS: Readonly<Record<Axis, Vec3>> = {
  "+X": [1, 0, 0],
  "-X": [-1, 0, 0],
  "+Y": [0, 1, 0],
  "-Y": [0, -1, 0],
  "+Z": [0, 0, 1],
  "-Z": [0, 0, -1],
};
