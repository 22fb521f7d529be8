import type { Quat } from "../math/vec3";

/** 4 x jointCount: how far each joint is turned away from its rest, in its own frame, quaternions xyzw. */
export type Turns = Float64Array;

export function restTurns(jointCount: number, out: Turns = new Float64Array(4 * jointCount)): Turns {
  out.fill(0);
  for (let i = 3; i < out.length; i += 4) out[i] = 1;
  return out;
}

export const turnOf = (turns: Turns, joint: number): Quat => [
  turns[4 * joint]!,
  turns[4 * joint + 1]!,
  turns[4 * joint + 2]!,
  turns[4 * joint + 3]!,
];

export function setTurn(turns: Turns, joint: number, q: Quat): void {
  turns[4 * joint] = q[0];
  turns[4 * joint + 1] = q[1];
  turns[4 * joint + 2] = q[2];
  turns[4 * joint + 3] = q[3];
}
