import type { Character, Shape, ShapeDelta } from "../core/model/character";
import type { Vec3 } from "../core/math/vec3";
import { partLips } from "../core/edits/mend/mendLips";
import { neighboursOf } from "../core/model/neighbours";
import { figureParts } from "./figure/figureParts";
import { MATERIALS } from "./figure/materials";
import { figureSkeleton } from "./figure/rig/jointFrames";
import { faceShapeBuilder } from "./figure/shapes/faceShape";
import { buildSkin } from "./figure/skin/buildSkin";
import { EXPRESSIONS, mixOf, PRESETS, VISEMES } from "./mixes";
import { unfoldShape } from "./modelling/unfoldShape";
import { proportionShapes } from "./people/proportions";
import { SHAPE_LIST } from "./shapeList";

/** Movements shorter than this are left out of a shape, metres. */
const LEAST_MOVE = 2e-6;

/** Shapes whose jaw or chin pushes one lip against the other, and how deep one may lie in the other, mm. */
const PRESSED = ["AU17", "AU29", "AU30_left", "AU30_right"];
const LIPS_MM = 1;

/**
 * Oda, the ferry pilot: adult woman, 1.68 m. Builds everything from the figure's form; the same code gives the same
 * bytes.
 */
export function buildOda(): Character {
  const skin = buildSkin();
  const parts = figureParts(skin);
  const partIndex = new Map(parts.map((p, i) => [p.name, i]));
  const neighbours = parts.map(neighboursOf);
  const build = faceShapeBuilder(skin);
  const units = SHAPE_LIST.map(({ unit, side, name, label }): Shape => ({
    name,
    label,
    deltas: [...build(unit, side)].flatMap(([part, moves]) => {
      const index = partIndex.get(part)!;
      const delta = sparse(index, moves);
      return delta.vertices.length ? [unfoldShape(parts[index]!, delta, neighbours[index])] : [];
    }),
  }));
  const skeleton = figureSkeleton();
  const figure: Character = {
    name: "Oda",
    parts,
    materials: MATERIALS,
    skeleton,
    shapes: units,
    drivers: [],
    shapeDrivers: [],
    clips: [],
    jointMap: {},
    notes: [],
  };
  const eased = PRESSED.reduce((c, name) => partLips(c, name, LIPS_MM), figure).shapes;
  const mixed = [...VISEMES, ...EXPRESSIONS, ...PRESETS].map((mix) => mixOf(mix, eased));
  const shapes = [
    ...eased,
    ...mixed.map((s) => ({ ...s, deltas: s.deltas.map((d) => unfoldShape(parts[d.part]!, d, neighbours[d.part])) })),
  ];
  const oda: Character = { ...figure, shapes };
  return { ...oda, shapes: [...shapes, ...proportionShapes(oda)] };
}

function sparse(part: number, moves: readonly Vec3[]): ShapeDelta {
  const moving: number[] = [];
  moves.forEach(([x, y, z], v) => {
    if ((x || y || z) && Math.hypot(x, y, z) > LEAST_MOVE) moving.push(v);
  });
  return { part, vertices: Uint32Array.from(moving), deltas: Float32Array.from(moving.flatMap((v) => moves[v]!)) };
}
