import { weightsAt } from "../evaluate/evaluate";
import { REST_MOMENT } from "../evaluate/moment";
import { jointOffsets, offsetBinds, offsetSkeleton } from "../evaluate/offsetSkeleton";
import { shapeNamed, withTracks, type Character, type ClipTrack, type Skeleton } from "../model/character";
import { UserError } from "../model/userError";
import { withoutShape } from "../model/withoutShape";

/**
 * Bakes a mix into the base: every part's rest places move as the mix moves them, with combinations and in-betweens
 * that answer it, and the joints go where builds carry them. All other shapes, correctives and drivers stay, as
 * movement from the new base. Shapes whose movement the base now holds go, unless they are kept; then they are
 * remembered, so that playing them twice can be told.
 * @param weights of shapes by name. @throws UserError when the mix is empty or names a shape that is not there.
 */
export function bakeMix(character: Character, weights: Readonly<Record<string, number>>, keep: boolean): Character {
  const named = Object.entries(weights).filter(([, w]) => w !== 0);
  const unknown = named.find(([n]) => !shapeNamed(character, n));
  if (unknown) throw new UserError(`There is no shape named ${unknown[0]}.`, "bake", "");
  if (!named.length) throw new UserError("Nothing is set: the base would stay as it is.", "bake", "Set weights first.");
  const all = weightsAt(character, { ...REST_MOMENT, weights });
  const parts = character.parts.map((part, p) => {
    const positions = part.positions.slice();
    character.shapes.forEach((s, i) => {
      if (all[i] === 0) return;
      for (const d of s.deltas)
        if (d.part === p)
          d.vertices.forEach((v, k) =>
            [0, 1, 2].forEach((c) => (positions[3 * v + c]! += all[i]! * d.deltas[3 * k + c]!)),
          );
    });
    return { ...part, positions };
  });
  const offsets = jointOffsets(character, all);
  const skeleton = offsets && character.skeleton ? offsetSkeleton(character.skeleton, offsets) : character.skeleton;
  const moved: Character = {
    ...character,
    skeleton,
    clips:
      offsets && skeleton
        ? character.clips.map((c) => withTracks(c, (all) => fromNewRest(all, character.skeleton!, skeleton)))
        : character.clips,
    parts: offsets
      ? parts.map((p) =>
          p.skin?.inverseBinds
            ? { ...p, skin: { ...p.skin, inverseBinds: offsetBinds(p.skin.inverseBinds, offsets) } }
            : p,
        )
      : parts,
  };
  if (!keep) return named.reduce((c, [n]) => withoutShape(c, n), moved);
  const before = new Map((character.baked ?? []).map((b) => [b.shape, b.weight]));
  for (const [n, w] of named) before.set(n, (before.get(n) ?? 0) + w);
  return { ...moved, baked: [...before].map(([shape, weight]) => ({ shape, weight })) };
}

/** Keys of place that go as far from a joint's new rest as they went from its old one. */
const fromNewRest = (tracks: readonly ClipTrack[], old: Skeleton, now: Skeleton): ClipTrack[] =>
  tracks.map((track) => {
    const j = track.path === "translation" ? old.joints.findIndex((x) => x.name === track.joint) : -1;
    if (j < 0) return track;
    const [a, b] = [old.joints[j]!.translation, now.joints[j]!.translation];
    // a key of a cubic spline is its value between two tangents, which do not move
    const cubic = track.interpolation === "CUBICSPLINE";
    return {
      ...track,
      values: track.values.map((v, i) => (cubic && Math.floor(i / 3) % 3 !== 1 ? v : v + b[i % 3]! - a[i % 3]!)),
    };
  });
