import { monotoneCurve } from "../../modelling/monotoneTable";
import { faceDepth, normalAt, onHead } from "../head/headForm";
import { addScaled } from "../../modelling/fields";
import { colour, mixColour, scatter } from "./colour";
import { newPart, type PartMesh, type PartSide } from "./partMesh";

/** Middle line and half width of the left brow, s from the nose outward, head units. */
export const BROW_LINE = {
  x: monotoneCurve([0, 0.35, 0.68, 1], [11.5, 25, 38.5, 50]),
  y: monotoneCurve([0, 0.35, 0.68, 1], [16.2, 20, 21.9, 15.2]),
  width: monotoneCurve([0, 0.1, 0.35, 0.7, 1], [1.5, 2.4, 2.5, 1.6, 0.4]),
};
const HAIRS = 150;
const [DARK, LIGHT] = [colour(74, 52, 40), colour(112, 82, 62)];

/** A brow of single hairs: each a tapering strip of two quads on the skin. */
export function brow(side: PartSide): PartMesh {
  const part = newPart();
  for (let i = 0; i < HAIRS; i++) addHair(part, i, side);
  return part;
}

function addHair(part: PartMesh, i: number, side: PartSide): void {
  const { x, y, width } = BROW_LINE;
  const s = Math.pow(i / HAIRS, 0.95) * 0.97;
  const across = scatter(i) * 2 - 1;
  const [tx, ty] = [(x(s + 0.02) - x(s)) / 0.02, (y(s + 0.02) - y(s)) / 0.02];
  const along = Math.hypot(tx, ty);
  // hairs stand up at the nose and lie down outward
  const lift =
    1.15 * Math.pow(1 - s, 2) * (0.4 + (0.6 * (1 - across)) / 2) - 0.12 * across - (across > 0 ? 0.1 * s : 0);
  const direction = Math.atan2(ty, tx) + lift;
  const length = (4.6 + 2.2 * scatter(i + 50)) * (1 - 0.35 * s);
  const root = [x(s) - (ty / along) * across * width(s), y(s) + (tx / along) * across * width(s) * 0.9] as const;
  const halfWidth = 0.27 + 0.13 * scatter(i + 9);
  const tint = mixColour(DARK, LIGHT, scatter(i + 77));
  const first = part.points.length;
  for (let step = 0; step <= 2; step++) {
    const u = step / 2;
    const a = direction - 0.25 * u * (1 - s);
    const [px, py] = [root[0] + Math.cos(a) * length * u, root[1] + Math.sin(a) * length * u];
    const height = 0.12 + 0.35 * Math.sin(Math.PI * (0.25 + 0.55 * u));
    const half = halfWidth * (1 - u * 0.85);
    for (const edge of [-1, 1]) {
      const [hx, hy] = [px - Math.sin(a) * half * edge, py + Math.cos(a) * half * edge];
      const onSkin = onHead([hx, hy, faceDepth(hx, hy)], 2);
      const p = addScaled(onSkin, normalAt(onSkin), height);
      part.add([p[0] * side, p[1], p[2]], tint);
    }
  }
  for (let step = 0; step < 2; step++) {
    const a = first + step * 2;
    part.quads.push(side > 0 ? [a, a + 2, a + 3, a + 1] : [a, a + 1, a + 3, a + 2]);
  }
}
