import { solve3 } from "../math/solve3";
import type { Vec3 } from "../math/vec3";
import type { Sphere } from "../measure/fitSphere";

/** Skin that stands no higher than this over the eyeball at rest lies on it, metres. */
const ON = 0.002;
const FEWEST = 12;
const ROUNDS = 8;
/** Holds the ball where the skin round it takes it, in directions that the lids say nothing of. */
const RIDGE = 0.003;

/**
 * Where an eyeball goes so that the lids lie on it as they did: skin that lay on the ball keeps its height over it in
 * least squares (Gauss-Newton).
 * @param size how the ball's radius changes. @param to its centre by the skin round it. @param P skin at rest. @param
 * laid the same skin on the new face. @returns what is to be added to that centre, metres.
 */
export function seatEyeball(
  ball: Sphere,
  size: number,
  to: Vec3,
  P: Float32Array,
  laid: Float32Array,
  free: Uint8Array,
): [number, number, number] {
  const lids: { v: number; height: number }[] = [];
  for (let v = 0; v < free.length; v++) {
    const height =
      Math.hypot(P[3 * v]! - ball.centre[0], P[3 * v + 1]! - ball.centre[1], P[3 * v + 2]! - ball.centre[2]) -
      ball.radius;
    if (free[v] && height > -ON / 4 && height < ON) lids.push({ v, height });
  }
  const by: [number, number, number] = [0, 0, 0];
  if (lids.length < FEWEST) return by;
  for (let round = 0; round < ROUNDS; round++) {
    const A = [0, 0, 0, 0, 0, 0, 0, 0, 0];
    const g = by.map((x) => RIDGE * lids.length * x);
    for (let k = 0; k < 3; k++) A[4 * k] = RIDGE * lids.length;
    for (const { v, height } of lids) {
      const d = [0, 1, 2].map((c) => laid[3 * v + c]! - to[c]! - by[c]!);
      const far = Math.hypot(...d);
      const n = d.map((x) => x / far);
      const off = far - size * (ball.radius + height);
      for (let i = 0; i < 3; i++) {
        g[i]! -= off * n[i]!;
        for (let j = 0; j < 3; j++) A[3 * i + j]! += n[i]! * n[j]!;
      }
    }
    const step = solve3(A, g as unknown as Vec3);
    for (let c = 0; c < 3; c++) by[c]! -= step[c]!;
  }
  return by;
}
