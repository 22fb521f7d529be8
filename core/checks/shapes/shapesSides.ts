import { cutSideLeak } from "../../edits/mend/mendShapes";
import { mirrorBetter } from "../../edits/mend/mendShapes";
import { amount, check } from "../check";
import { mirrorMap, NO_MIRROR } from "../../model/mirrorMap";
import { finding } from "../finding";
import { sideOfShapeName, counterpart, other } from "../../shapes/shapeSides";
import { poseDriven } from "../../model/drivenShapes";

/** Seam in the middle that belongs to both sides, metres. */
const SEAM = 0.01;
/**
 * A shape that moves more than this share on the other side is meant for both, whatever its name says (a jaw to the
 * left).
 */
const BOTH_SIDED = 30;
/** Movement on the side that a one-sided shape is not of. */
export const shapesSideLeak = check({
  id: "shapes.side-leak",
  title: "One-sided shapes that move the other side",
  station: "shapes",
  unit: "%",
  measures:
    "share of a one-sided shape that happens on the other side; a shape with over 30 " +
    "% there is meant for both; combinations and shapes driven by joints are left out",
  severity: "warn",
  limits: { "shapes.side-leak": amount(2) },
  source: "our own choice: 2 % of the movement",
  waitsFor: "stance and size",
  mend: { says: (f) => `Fades ${f.shape} out over the middle, over 2 cm.`, apply: (c, f) => cutSideLeak(c, f.shape!) },
  run: (character, { limits }) => {
    const limit = limits["shapes.side-leak"];
    if (limit === null) return [];
    // a combination takes back what lies on either side; flesh that a joint presses at the middle gives way on both
    const combined = new Set([
      ...character.shapeDrivers.filter((d) => d.of.length > 1).map((d) => d.shape),
      ...poseDriven(character),
    ]);
    return character.shapes.flatMap((shape) => {
      const side = sideOfShapeName(shape.name);
      if (!side || !counterpart(character.shapes, shape) || combined.has(shape.name)) return [];
      let all = 0;
      let leaked = 0;
      let worst: { part: number; list: [number, number][] } | null = null;
      for (const delta of shape.deltas) {
        const P = character.parts[delta.part]!.positions;
        const list: [number, number][] = [];
        delta.vertices.forEach((v, k) => {
          const move = Math.hypot(delta.deltas[3 * k]!, delta.deltas[3 * k + 1]!, delta.deltas[3 * k + 2]!);
          all += move;
          const x = side === "left" ? -P[3 * v]! : P[3 * v]!;
          if (x <= SEAM) return;
          leaked += move;
          list.push([v, move]);
        });
        if (list.length && (!worst || list.length > worst.list.length)) worst = { part: delta.part, list };
      }
      const share = all > 0 ? (100 * leaked) / all : 0;
      if (share <= limit || share > BOTH_SIDED || !worst) return [];
      worst.list.sort((a, b) => b[1] - a[1] || a[0] - b[0]);
      return [
        finding({
          check: "shapes.side-leak",
          severity: "warn",
          shape: shape.name,
          part: character.parts[worst.part]!.name,
          vertices: worst.list.map(([v]) => v),
          value: share,
          unit: "%",
          limit,
          message:
            `${share.toFixed(1)} % of ${shape.label} happens on the ` +
            `${other(side)} side; cut it at the middle with a soft seam.`,
        }),
      ];
    });
  },
});

/**
 * Left shapes against the mirror images of their right counterparts. A shape that leaks over the middle is compared on
 * its own side only.
 */
export const shapesSymmetry = check({
  id: "shapes.symmetry",
  title: "Left and right shapes that differ",
  station: "shapes",
  unit: "mm",
  measures: "left shapes against the mirror images of their right counterparts",
  severity: "warn",
  limits: { "shapes.symmetry": amount(1) },
  source: "our own choice: 1 mm",
  waitsFor: "stance and size",
  mend: {
    says: (f) => `Of ${f.shape} and its counterpart, the one that moves less becomes the mirror image of the other.`,
    apply: (c, f) => mirrorBetter(c, f.shape!),
  },
  run: (character, { limits }) => {
    const limit = limits["shapes.symmetry"];
    if (limit === null) return [];
    return character.shapes.flatMap((shape) => {
      if (sideOfShapeName(shape.name) !== "left") return [];
      const twin = counterpart(character.shapes, shape);
      const body = character.parts.findIndex((p) => p.kind === "body");
      const [mine, theirs] = [shape.deltas.find((d) => d.part === body), twin?.deltas.find((d) => d.part === body)];
      if (!twin || !mine || !theirs) return [];
      const mirror = mirrorMap(character.parts[body]!.positions);
      const row = new Map(Array.from(theirs.vertices, (v, k) => [v, k]));
      const P = character.parts[body]!.positions;
      const off: [number, number][] = [];
      mine.vertices.forEach((v, k) => {
        const m = mirror[v]!;
        if (m === NO_MIRROR || P[3 * v]! < SEAM) return;
        const r = row.get(m);
        const d = [0, 1, 2].map(
          (c) => mine.deltas[3 * k + c]! - (r === undefined ? 0 : theirs.deltas[3 * r + c]! * (c === 0 ? -1 : 1)),
        );
        const mm = 1000 * Math.hypot(...d);
        if (mm > limit) off.push([v, mm]);
      });
      if (!off.length) return [];
      off.sort((a, b) => b[1] - a[1] || a[0] - b[0]);
      return [
        finding({
          check: "shapes.symmetry",
          severity: "warn",
          shape: shape.name,
          part: character.parts[body]!.name,
          vertices: off.map(([v]) => v),
          value: off[0]![1],
          unit: "mm",
          limit,
          message:
            `${shape.label} and ${twin.label} are not mirror images: up ` +
            `to ${off[0]![1].toFixed(1)} mm apart. Mirror the better one.`,
        }),
      ];
    });
  },
});
