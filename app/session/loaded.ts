import { makeRig, withShapes, type Rig } from "~core/deform/rig";
import type { Character } from "~core/model/character";
import { humanoidMap, type HumanoidMap } from "~core/skeleton/humanoidMap";
import { jointMotions, type JointMotion } from "~core/skeleton/jointMotions";

/** The character on the desk, made ready for posing. */
export interface Loaded {
  readonly character: Character;
  readonly rig: Rig;
  readonly humanoid: HumanoidMap | null;
  readonly motions: readonly JointMotion[];
  readonly state: string;
}

/** Puts a character on the desk; tables of unchanged parts are kept. */
export function makeLoaded(character: Character, state: string, previous: Loaded | null): Loaded {
  // what is drawn of a part follows its materials: seams show only under textures
  const same = previous?.character.parts === character.parts && previous.character.materials === character.materials;
  const humanoid = character.skeleton && humanoidMap(character.skeleton, character.jointMap);
  // made when it is first asked for: lists and small pictures of a page do without
  let before = same ? previous : null;
  let rig: Rig | null = null;
  const rigOf = (): Rig => {
    rig ??= before ? withShapes(before.rig, character) : makeRig(character);
    before = null;
    return rig;
  };
  return {
    character,
    state,
    humanoid,
    get rig() {
      return rigOf();
    },
    motions: character.skeleton && humanoid ? jointMotions(character.skeleton, humanoid) : [],
  };
}
