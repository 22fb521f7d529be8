import { buildBvh, closestPoint, refitBvh, type Bvh } from "../../measure/bvh";
import { fitSphere } from "../../measure/fitSphere";
import { eyeballsOf, type Eyeball } from "../../measure/eyeballs";
import type { Character, Part, Shape } from "../../model/character";
import { movedBy } from "../../model/movedBy";
import { shapesAsSeen } from "../../shapes/shapesAsSeen";
import { finding, type Check, type CheckContext, type Finding } from "../finding";

/** Skin within this many radii of the eyeball's centre is asked. */
const REACH = 1.4;

/** Faces of the skin round an eyeball, by their corners. */
function lidFaces(body: Part, eye: Eyeball): number[] {
  const near = (v: number): boolean =>
    Math.hypot(
      body.positions[3 * v]! - eye.centre[0],
      body.positions[3 * v + 1]! - eye.centre[1],
      body.positions[3 * v + 2]! - eye.centre[2],
    ) <
    REACH * eye.radius;
  const faces: number[] = [];
  for (let f = 0; f + 1 < body.faceStarts.length; f++) if (near(body.corners[body.faceStarts[f]!]!)) faces.push(f);
  return faces;
}

/**
 * How far the skin at a place lies inside the eyeball, metres; 0 outside. The eyeball is taken as star-shaped about its
 * centre. Asked at corners, middles of sides and middles of faces, or an eyeball between two vertices would be missed.
 */
function depthsOf(
  body: Part,
  P: Float32Array,
  faces: readonly number[],
  eye: Eyeball,
  ball: Bvh,
  ballP: Float32Array,
): Map<number, number> {
  const depths = new Map<number, number>();
  const ask = (x: number, y: number, z: number, vertex: number): void => {
    const r = Math.hypot(x - eye.centre[0], y - eye.centre[1], z - eye.centre[2]);
    if (r > 1.1 * eye.radius) return;
    const c = closestPoint(ball, ballP, x, y, z, eye.radius);
    if (c.triangle < 0 || r >= Math.hypot(c.x - eye.centre[0], c.y - eye.centre[1], c.z - eye.centre[2])) return;
    depths.set(vertex, Math.max(depths.get(vertex) ?? 0, c.distance));
  };
  for (const f of faces) {
    const [s, e] = [body.faceStarts[f]!, body.faceStarts[f + 1]!];
    const middle = [0, 0, 0];
    for (let k = s; k < e; k++) {
      const a = 3 * body.corners[k]!;
      const b = 3 * body.corners[k + 1 < e ? k + 1 : s]!;
      ask(P[a]!, P[a + 1]!, P[a + 2]!, body.corners[k]!);
      ask((P[a]! + P[b]!) / 2, (P[a + 1]! + P[b + 1]!) / 2, (P[a + 2]! + P[b + 2]!) / 2, body.corners[k]!);
      for (let c = 0; c < 3; c++) middle[c]! += P[a + c]! / (e - s);
    }
    ask(middle[0]!, middle[1]!, middle[2]!, body.corners[s]!);
  }
  return depths;
}

interface Lid {
  readonly eye: Eyeball;
  readonly faces: readonly number[];
  readonly ball: Bvh;
  readonly ballP: Float32Array;
  readonly rest: ReadonlyMap<number, number>;
}

function lidsOf(character: Character, body: Part, { rig, cache }: CheckContext): Lid[] {
  const key = "lids";
  if (!cache.has(key))
    cache.set(
      key,
      eyeballsOf(character).map((eye): Lid => {
        const faces = lidFaces(body, eye);
        const ballP = character.parts[eye.part]!.positions;
        const ball = buildBvh(rig.triangles[eye.part]!, ballP);
        return { eye, faces, ball, ballP, rest: depthsOf(body, body.positions, faces, eye, ball, ballP) };
      }),
    );
  return cache.get(key) as Lid[];
}

/** The eyeball where a shape puts it: proportion shapes move the whole head. */
function movedEye(character: Character, shape: Shape, lid: Lid): { eye: Eyeball; P: Float32Array } {
  const own = shape.deltas.find((d) => d.part === lid.eye.part);
  if (!own) return { eye: lid.eye, P: lid.ballP };
  const { moved } = movedBy(character.parts[lid.eye.part]!, own);
  const sphere = fitSphere(moved);
  return sphere ? { eye: { ...lid.eye, ...sphere }, P: moved } : { eye: lid.eye, P: lid.ballP };
}

/** Depth of the eyeball beyond the lid's skin under each shape at full, beyond what is there at rest. */
export const faceEyeThroughLid: Check = {
  id: "face.eye-through-lid",
  title: "Eyeball through the lid",
  unit: "mm",
  source: "our own choice: 0.1 mm",
  run: (character, context) => {
    const limit = context.profile.limits["face.eye-through-lid"];
    const bodyIndex = character.parts.findIndex((p) => p.kind === "body");
    const body = character.parts[bodyIndex];
    if (limit === null || !body) return [];
    const out: Finding[] = [];
    for (const shape of shapesAsSeen(character)) {
      const delta = shape.deltas.find((d) => d.part === bodyIndex);
      if (!delta) continue;
      const { moved, touched } = movedBy(body, delta);
      for (const lid of lidsOf(character, body, context)) {
        const faces = lid.faces.filter((f) =>
          body.corners.subarray(body.faceStarts[f]!, body.faceStarts[f + 1]!).some((v) => touched[v]),
        );
        if (!faces.length) continue;
        const { eye, P: ballP } = movedEye(character, shape, lid);
        if (ballP !== lid.ballP) refitBvh(lid.ball, ballP);
        const through = [...depthsOf(body, moved, faces, eye, lid.ball, ballP)]
          .map(([v, d]): [number, number] => [v, 1000 * (d - (lid.rest.get(v) ?? 0))])
          .filter(([, mm]) => mm > limit)
          .sort((a, b) => b[1] - a[1] || a[0] - b[0]);
        if (ballP !== lid.ballP) refitBvh(lid.ball, lid.ballP);
        if (!through.length) continue;
        const eyeName = character.parts[lid.eye.part]!.name;
        out.push(
          finding({
            check: "face.eye-through-lid",
            severity: "error",
            shape: shape.name,
            part: body.name,
            vertices: through.map(([v]) => v),
            value: through[0]![1],
            unit: "mm",
            limit,
            message:
              `${eyeName} comes ${through[0]![1].toFixed(2)} mm through ` +
              `the lid at ${shape.label}; push the lid out along the eyeball.`,
          }),
        );
      }
    }
    return out;
  },
};
