import { withShapes, type Rig } from "../deform/rig";
import type { Moment } from "../evaluate/moment";
import { clothOverMotions } from "../measure/clothThrough";
import type { Tick } from "../measure/sweepMotion";
import type { JointMotion } from "../skeleton/jointMotions";
import { pushCloth, type PushedCloth } from "./pushCloth";

/** Pushes of a garment for one motion at most, and angles of it that are looked at after each. */
const MOST = 4;
const STEPS = 13;

/**
 * Correctives that bring a garment over the skin along a whole motion: pushed at the angle given, and then, with those
 * before at work, at the worst angle that is left, until less than the limit stands out or nothing more helps.
 * @param limitMm skin that may stand out, mm. @returns none where no cloth helps; `afterMm` of the last is what is left
 * along the whole motion.
 */
export async function pushClothOver(
  rig: Rig,
  garment: number,
  motion: JointMotion,
  degrees: number,
  method: Moment["method"],
  name: string,
  limitMm: number,
  tick: Tick = () => {},
): Promise<PushedCloth[]> {
  const { character } = rig;
  const part = character.parts[garment]!.name;
  const made: PushedCloth[] = [];
  let now = rig;
  let left = Infinity;
  let angle = degrees;
  for (let round = 0; round < MOST; round++) {
    await tick(round, MOST);
    const own = round === 0 ? name : `${name}, ${round + 1}`;
    const pushed = pushCloth(now, garment, motion, angle, method, own);
    if (!pushed) break;
    const next = withShapes(now, {
      ...now.character,
      shapes: [...now.character.shapes, pushed.shape],
      drivers: [...now.character.drivers, pushed.driver],
    });
    const rows = await clothOverMotions(next, [motion], STEPS, method);
    const worst = rows.find((r) => r.garment === part);
    const depth = worst?.depthMm ?? 0;
    // one more that leaves as much as there was is not kept
    if (depth >= left) break;
    made.push({ ...pushed, afterMm: depth });
    [now, left] = [next, depth];
    if (!worst || depth <= limitMm) break;
    angle = worst.angle;
  }
  return made;
}
