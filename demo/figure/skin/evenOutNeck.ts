import { lerp, sub, type Vec3 } from "../../../core/math/vec3";
import { addScaled, alongSurface, gradientDirection, projectTo } from "../../modelling/fields";
import { meanOf } from "../../modelling/quadMesh";
import { LAST_ROW as JAW_ROW } from "../head/headGrid";
import { mirrored } from "../placement";
import type { Skin } from "./buildSkin";
import type { SkinTag } from "./skinTags";
import { wholeForm } from "./wholeForm";

const ROUNDS = 60;
/** How much the trunk's upper rows give way, from row 22 up. */
const TRUNK_GIVES = [0.12, 0.25, 0.4, 0.45, 0.5, 0.5];

/** How much a vertex gives way when the neck is evened out; only the left half is asked. */
function giving(tag: SkinTag): number {
  if (tag.side < 0) return 0;
  if (tag.region === "chin" || tag.region === "neck") return 0.5;
  if (tag.region === "torso") return tag.crotch || tag.row < 22 ? 0 : tag.pin > 0 ? 0.05 : TRUNK_GIVES[tag.row - 22]!;
  if (tag.region !== "head" || tag.head.zone !== "grid") return 0;
  const { row, column } = tag.head;
  if (row === JAW_ROW) return column >= 16 ? 0.5 : column > 4 ? 0.3 : 0.12;
  if (column >= 16 && row >= 25) return 0.07 * (row - 24);
  return row >= 29 ? 0.15 : 0;
}

/**
 * Moves the neck's surroundings along the common form toward their neighbours' mean, both sides alike.
 * @param rings rings that are to stay round: their vertices also follow their two neighbours on the ring.
 */
export function evenOutNeck({ points, tags, neighbours, mirror }: Skin, rings: readonly (readonly number[])[]): void {
  const onRing = new Map<number, readonly [number, number]>();
  for (const ring of rings) ring.slice(1, -1).forEach((v, i) => onRing.set(v, [ring[i]!, ring[i + 2]!]));
  const moving = tags.flatMap((tag, v) => (giving(tag) > 0 ? [{ v, share: giving(tag) }] : []));
  for (let round = 0; round < ROUNDS; round++) {
    const moved = moving.map(({ v, share }): Vec3 => {
      const middle = mirror[v] === v;
      let mean = meanOf(points, neighbours[v]!);
      const ring = onRing.get(v);
      if (ring) mean = lerp(mean, lerp(points[ring[0]]!, points[ring[1]]!, 0.5), 0.35);
      if (middle) mean = [0, mean[1], mean[2]];
      const step = alongSurface(sub(mean, points[v]!), gradientDirection(wholeForm, points[v]!));
      const p = projectTo(wholeForm, addScaled(points[v]!, step, share), { maxStep: 0.006, rounds: round < 5 ? 5 : 2 });
      return middle ? [0, p[1], p[2]] : p;
    });
    moving.forEach(({ v }, k) => {
      points[v] = moved[k]!;
      if (mirror[v] !== v) points[mirror[v]!] = mirrored(moved[k]!);
    });
  }
}
