import { withShapes, type Rig } from "../deform/rig";
import { clothOverMotions, type ClothRow } from "../measure/clothThrough";
import type { Tick } from "../measure/sweepMotion";
import { pushes, type ClothPlace, type PushedCloth } from "./pushCloth";

/** Pushes of a garment for one motion at most, and angles of it that are looked at after each. */
const MOST = 4;
const STEPS = 13;

/**
 * Correctives that bring a garment over the skin along a whole motion: pushed at the angle given, and then, with those
 * before at work, at the worst angle that is left, until less than the limit stands out or nothing more helps. Of the
 * ways in which cloth can be raised the one is taken that leaves least along the motion.
 * @param limitMm skin that may stand out, mm. @returns none where no cloth helps; `afterMm` of the last is what is left
 * along the whole motion.
 */
export async function pushClothOver(
  rig: Rig,
  place: ClothPlace,
  limitMm: number,
  tick: Tick = () => {},
): Promise<PushedCloth[]> {
  const part = rig.character.parts[place.garment]!.name;
  const worstOf = async (of: Rig): Promise<ClothRow | undefined> =>
    (await clothOverMotions(of, [place.motion], STEPS, place.method)).find((r) => r.garment === part);
  const made: PushedCloth[] = [];
  let now = rig;
  let left = (await worstOf(rig))?.depthMm ?? 0;
  let { degrees } = place;
  for (let round = 0; round < MOST; round++) {
    await tick(round, MOST);
    const name = round === 0 ? place.name : `${place.name}, ${round + 1}`;
    let best: { readonly pushed: PushedCloth; readonly rig: Rig; readonly worst: ClothRow | undefined } | null = null;
    for (const pushed of pushes(now, { ...place, degrees, name })) {
      const next = withShapes(now, {
        ...now.character,
        shapes: [...now.character.shapes, pushed.shape],
        drivers: [...now.character.drivers, pushed.driver],
      });
      const worst = await worstOf(next);
      if (!best || (worst?.depthMm ?? 0) < (best.worst?.depthMm ?? 0)) best = { pushed, rig: next, worst };
    }
    const depth = best?.worst?.depthMm ?? 0;
    // one more that leaves as much as there was is not kept
    if (!best || depth >= left) break;
    made.push({ ...best.pushed, afterMm: depth });
    [now, left] = [best.rig, depth];
    if (!best.worst || depth <= limitMm) break;
    degrees = best.worst.angle;
  }
  return made;
}
