import { carryShape } from "../../edits/mend/mendShapes";
import { amount, check, type CheckContext } from "../check";
import type { Character, Part, ShapeDelta } from "../../model/character";
import { shellsOf } from "../../model/shells";
import { closestPoint } from "../../math/bvh";
import { restTree } from "../../surface/restTree";
import { barycentric } from "../../surface/carryMovement";
import { shapesAsSeen } from "../../shapes/shapesAsSeen";
import { finding, type Finding } from "../finding";
import { poseDriven } from "../../model/drivenShapes";

const NEAR = 0.005;
const FOLLOWERS = new Set(["lash", "tear line", "brow", "garment"]);

interface Tie {
  readonly vertex: number;
  /** Connected piece the vertex belongs to. */
  readonly shell: number;
  /** Three skin vertices and their shares. */
  readonly skin: readonly [number, number, number];
  readonly share: readonly [number, number, number];
}

/** Follower vertices within NEAR of the skin, tied to the closest skin triangle. */
function tiesOf(character: Character, context: CheckContext, body: number, part: number): Tie[] {
  const key = `ties ${body} ${part}`;
  const known = context.cache.get(key) as Tie[] | undefined;
  if (known) return known;
  const skin = character.parts[body]!.positions;
  const triangles = context.rig.triangles[body]!;
  const bvh = restTree(triangles, skin);
  const P = character.parts[part]!.positions;
  const ties: Tie[] = [];
  const shells = shellsOf(character.parts[part]!);
  for (let v = 0; v < P.length / 3; v++) {
    const c = closestPoint(bvh, skin, P[3 * v]!, P[3 * v + 1]!, P[3 * v + 2]!, NEAR);
    if (c.triangle < 0) continue;
    const ids = [0, 1, 2].map((k) => triangles[3 * c.triangle + k]!) as [number, number, number];
    ties.push({ vertex: v, shell: shells[v]!, skin: ids, share: barycentric(skin, ids, c) });
  }
  context.cache.set(key, ties);
  return ties;
}

/** By vertex where in a movement it stands, -1 where it does not move. */
function placesIn(delta: ShapeDelta | undefined, count: number): Int32Array {
  const out = new Int32Array(count).fill(-1);
  delta?.vertices.forEach((v, k) => (out[v] = k));
  return out;
}

/**
 * Vertices of a follower that stay behind the skin they are tied to, and by how much, mm.
 * @param skin its movement, and by vertex where in it that stands. @param limit mm.
 */
function leftBehind(
  ties: readonly Tie[],
  part: Part,
  skin: { readonly delta: ShapeDelta; readonly at: Int32Array },
  own: ShapeDelta | undefined,
  limit: number,
): [number, number][] {
  const { deltas } = skin.delta;
  const ownAt = placesIn(own, part.positions.length / 3);
  const late: [number, number][] = [];
  const hairs = new Map<number, { gap: number; vertices: number[] }>();
  for (const tie of ties) {
    let x = 0;
    let y = 0;
    let z = 0;
    for (let i = 0; i < 3; i++) {
      const at = 3 * skin.at[tie.skin[i]!]!;
      if (at < 0) continue;
      x += tie.share[i]! * deltas[at]!;
      y += tie.share[i]! * deltas[at + 1]!;
      z += tie.share[i]! * deltas[at + 2]!;
    }
    const size = Math.sqrt(x * x + y * y + z * z);
    if (size * 1000 <= limit) continue;
    const k = 3 * ownAt[tie.vertex]!;
    const gap = k < 0 ? size : Math.hypot(x - own!.deltas[k]!, y - own!.deltas[k + 1]!, z - own!.deltas[k + 2]!);
    if (part.kind === "garment") {
      if (gap * 1000 > limit && gap > 0.5 * size) late.push([tie.vertex, gap * 1000]);
      continue;
    }
    const hair = hairs.get(tie.shell) ?? { gap: Infinity, vertices: [] };
    hair.gap = Math.min(hair.gap, gap);
    hair.vertices.push(tie.vertex);
    hairs.set(tie.shell, hair);
  }
  for (const hair of hairs.values())
    if (hair.gap * 1000 > limit) late.push(...hair.vertices.map((v): [number, number] => [v, hair.gap * 1000]));
  return late;
}

/**
 * Lashes, tear lines, brows and garments close to moving skin that do not move with it. Cloth: every vertex whose
 * movement differs from the skin's by more than the limit and by more than half the skin's own. Lashes, tear lines,
 * brows: a connected piece counts when none of its vertices goes with the skin, so that a lash may swing about its
 * root.
 */
export const shapesFollowers = check({
  id: "shapes.followers",
  title: "Followers left behind by a shape",
  station: "shapes",
  unit: "mm",
  measures: "lashes, tear lines, brows and garments within 5 mm of moving skin that stay behind",
  severity: "error",
  limits: { "shapes.followers": amount(1) },
  source: "our own choice: 1 mm within 5 mm of moving skin",
  waitsFor: "stance and size",
  mend: {
    says: (f) => `Gives ${f.part} the movement of the skin next to it in ${f.shape}.`,
    apply: (c, f) => carryShape(c, f.part!, f.shape!),
  },
  run: (character, context) => {
    const limit = context.limits["shapes.followers"];
    const body = character.parts.findIndex((p) => p.kind === "body");
    if (limit === null || body < 0) return [];
    const out: Finding[] = [];
    for (const shape of [
      ...shapesAsSeen(character),
      ...character.shapes.filter((s) => poseDriven(character).has(s.name)),
    ]) {
      const skinDelta = shape.deltas.find((d) => d.part === body);
      if (!skinDelta) continue;
      const skinAt = placesIn(skinDelta, character.parts[body]!.positions.length / 3);
      character.parts.forEach((part, p) => {
        if (!FOLLOWERS.has(part.kind)) return;
        const own = shape.deltas.find((d) => d.part === p);
        const late = leftBehind(
          tiesOf(character, context, body, p),
          part,
          { delta: skinDelta, at: skinAt },
          own,
          limit,
        );
        if (late.length < 3) return;
        late.sort((a, b) => b[1] - a[1] || a[0] - b[0]);
        out.push(
          finding({
            check: "shapes.followers",
            severity: "error",
            shape: shape.name,
            part: part.name,
            vertices: late.map(([v]) => v),
            value: late[0]![1],
            unit: "mm",
            limit,
            message:
              `${part.name} stays behind by ${late[0]![1].toFixed(1)} mm when ` +
              `${shape.label} moves the skin under it; carry the shape over to it.`,
          }),
        );
      });
    }
    return out;
  },
});
