import { worldMatrices } from "../../core/evaluate/poseSkeleton";
import { translationOf } from "../../core/math/mat4";
import { sub } from "../../core/math/vec3";
import type { Character, Shape, ShapeDelta } from "../../core/model/character";
import { makePerson } from "./makePerson";
import { TARN, WICK, type Person } from "./people";

/** A proportion shape: the base figure on its way to another person, by a share; negative goes the other way. */
interface Proportion {
  readonly name: string;
  readonly label: string;
  readonly toward: Person;
  readonly share: number;
}
const PROPORTIONS: readonly Proportion[] = [
  { name: "proportion_broad", label: "proportion: broad", toward: TARN, share: 0.5 },
  { name: "proportion_slight", label: "proportion: slight", toward: TARN, share: -0.25 },
  { name: "proportion_child", label: "proportion: child", toward: WICK, share: 1 },
];
/** Movements shorter than this are left out, metres. */
const LEAST_MOVE = 1e-5;

/** Shapes that turn the figure's build into another's, with the joints' share in it. */
export function proportionShapes(base: Character): Shape[] {
  const bare = { ...base, shapes: [] };
  return PROPORTIONS.map(({ name, label, toward, share }) => {
    const other = makePerson(bare, toward);
    const deltas = base.parts.map((part, p): ShapeDelta => {
      const to = other.parts[p]!.positions;
      const move = (i: number): number => share * (to[i]! - part.positions[i]!);
      const vertices = Array.from({ length: to.length / 3 }, (_, v) => v).filter(
        (v) => Math.hypot(move(3 * v), move(3 * v + 1), move(3 * v + 2)) > LEAST_MOVE,
      );
      return {
        part: p,
        vertices: Uint32Array.from(vertices),
        deltas: Float32Array.from(vertices.flatMap((v) => [move(3 * v), move(3 * v + 1), move(3 * v + 2)])),
      };
    });
    const [from, to] = [base, other].map((c) => worldMatrices(c.skeleton!, {}));
    const jointOffsets = base.skeleton!.joints.map((joint, j) => {
      const d = sub(translationOf(to!, 16 * j), translationOf(from!, 16 * j));
      return { joint: joint.name, offset: [share * d[0], share * d[1], share * d[2]] as const };
    });
    return { name, label, deltas: deltas.filter((d) => d.vertices.length > 0), jointOffsets };
  });
}
