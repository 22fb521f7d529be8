import { conjugate, multiplyQuat } from "../math/quat";
import { type Quat } from "../math/vec3";
import { NO_JOINT } from "../model/character";
import type { HumanoidMap } from "../skeleton/humanoidMap";
import { mirrorJoints, NO_COUNTERPART } from "../skeleton/mirrorJoints";
import { copyMotion, restStanding, setPlaceAt, setTurnAt, standing, travellerTo, type Motion } from "./motion";

/** A movement with left and right exchanged, across the plane x = 0. */
export function mirrorMotion(motion: Motion, map: HumanoidMap): Motion {
  const { skeleton, frames } = motion;
  const other = mirrorJoints(skeleton, map).map((o, j) => (o === NO_COUNTERPART ? j : o));
  const rest = restStanding(skeleton);
  const out = copyMotion(motion);
  other.forEach((o, j) => (out.keyed[j] = motion.keyed[o]!));
  const world: Quat[] = [];
  for (let f = 0; f < frames; f++) {
    const now = standing(motion, f);
    skeleton.joints.forEach(({ parent }, j) => {
      const turn = multiplyQuat(now.turns[other[j]!]!, conjugate(rest.turns[other[j]!]!));
      // across x = 0 turns about x stay, those about y and z go the other way
      world[j] = multiplyQuat([turn[0], -turn[1], -turn[2], turn[3]], rest.turns[j]!);
      setTurnAt(out, f, j, parent === NO_JOINT ? world[j]! : multiplyQuat(conjugate(world[parent]!), world[j]!));
    });
    const [x, y, z] = now.places[motion.traveller]!;
    setPlaceAt(out, f, travellerTo(out, [-x, y, z], { turns: world, places: now.places }));
  }
  return out;
}
