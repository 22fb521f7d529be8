import { likelyUnit, statureOf } from "../../measure/stature";
import { stanceOf } from "../../measure/stance";
import type { Character } from "../../model/character";
import { UserError } from "../../model/userError";
import { putOnGround, standUp } from "../repairs/standUp";
import { humanoidMap } from "../../skeleton/humanoidMap";

/**
 * The figure upright and facing +Z, by what it shows of itself; one that lay down stands on the ground. @throws
 * UserError when it does not tell how it stands.
 */
export function standAsFound(character: Character): Character {
  const stance = stanceOf(character, character.skeleton && humanoidMap(character.skeleton, character.jointMap));
  if (!stance)
    throw new UserError("The figure does not tell how it stands.", "mend", "Turn it by hand under Intake, Parts.");
  const turned = standUp(character, 1, stance.up, stance.front);
  return stance.up === "+Y" ? turned : putOnGround(turned);
}

/** The character in metres, by the unit it was most likely made in. @throws UserError when none is likely. */
export function scaleToUnit(character: Character): Character {
  const slip = likelyUnit(statureOf(character));
  if (!slip)
    throw new UserError("No usual slip of units explains its size.", "mend", "Scale it by hand under Intake, Parts.");
  return standUp(character, Number((1 / slip.factor).toPrecision(4)), "+Y", "+Z");
}
