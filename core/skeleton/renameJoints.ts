import { withTracks } from "../model/character";
import type { Character } from "../model/character";
import { keptRenamed } from "../model/vrmKept";
import { UserError } from "../model/userError";
import { atRenamedJoints } from "../model/changeDrivers";

/**
 * The character with joints renamed, in everything that speaks of them: clips, drivers, joint map, offsets of shapes.
 * @throws UserError for an empty name, a joint that is not there, or two joints of one name; then nothing has changed.
 */
export function renameJoints(character: Character, names: ReadonlyMap<string, string>): Character {
  const { skeleton } = character;
  const to = (name: string): string => names.get(name) ?? name;
  const after = (skeleton?.joints ?? []).map((j) => to(j.name));
  for (const [from, name] of names) {
    if (!skeleton?.joints.some((j) => j.name === from))
      throw new UserError(`There is no joint named ${from}.`, "rename", "");
    if (!name.trim()) throw new UserError(`${from} would have no name.`, "rename", "Give it one.");
  }
  const twice = after.find((name, i) => after.indexOf(name) !== i);
  if (twice !== undefined)
    throw new UserError(
      `Two joints would be named ${twice}.`,
      "rename",
      "Change the rule so that every joint keeps a name of its own.",
    );
  return {
    ...character,
    skeleton: skeleton && {
      ...skeleton,
      joints: skeleton.joints.map((j) => (names.has(j.name) ? { ...j, name: to(j.name) } : j)),
    },
    shapes: character.shapes.map((s) =>
      s.jointOffsets ? { ...s, jointOffsets: s.jointOffsets.map((o) => ({ ...o, joint: to(o.joint) })) } : s,
    ),
    drivers: character.drivers.map((d) => ({ ...d, joint: to(d.joint) })),
    ...atRenamedJoints(character, to),
    clips: character.clips.map((c) => withTracks(c, (all) => all.map((t) => ({ ...t, joint: to(t.joint) })))),
    ...(character.retargetPose
      ? { retargetPose: Object.fromEntries(Object.entries(character.retargetPose).map(([joint, q]) => [to(joint), q])) }
      : {}),
    ...(character.vrm ? { vrm: keptRenamed(character.vrm, to) } : {}),
    jointMap: Object.fromEntries(Object.entries(character.jointMap).map(([joint, bone]) => [to(joint), bone])),
  };
}
