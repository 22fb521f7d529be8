import { buildBvh, closestPoint, refitBvh, type Bvh } from "../math/bvh";
import { triangulate, type Character, type Part, type Shape } from "../model/character";
import { movedBy, whileMoved } from "../model/movedBy";
import { eyeballsOf, type Eyeball } from "./eyeballs";
import { fitSphere } from "./fitSphere";

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
  // nothing farther out than its farthest vertex lies in it
  const outermost = farthest(ballP, eye.centre);
  const ask = (x: number, y: number, z: number, vertex: number): void => {
    const r = Math.hypot(x - eye.centre[0], y - eye.centre[1], z - eye.centre[2]);
    if (r >= outermost || r > 1.1 * eye.radius) return;
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

function farthest(P: Float32Array, [x, y, z]: Eyeball["centre"]): number {
  let most = 0;
  for (let i = 0; i < P.length; i += 3) {
    const [dx, dy, dz] = [P[i]! - x, P[i + 1]! - y, P[i + 2]! - z];
    most = Math.max(most, dx * dx + dy * dy + dz * dz);
  }
  return Math.sqrt(most);
}

interface Lid {
  readonly eye: Eyeball;
  readonly faces: readonly number[];
  readonly ball: Bvh;
  readonly ballP: Float32Array;
  readonly rest: ReadonlyMap<number, number>;
}

const known = new WeakMap<readonly Part[], readonly Lid[]>();

function lidsOf(character: Character, body: Part): readonly Lid[] {
  const found = known.get(character.parts);
  if (found) return found;
  const lids = eyeballsOf(character).map((eye): Lid => {
    const faces = lidFaces(body, eye);
    const ballP = character.parts[eye.part]!.positions;
    const ball = buildBvh(triangulate(character.parts[eye.part]!).triangles, ballP);
    return { eye, faces, ball, ballP, rest: depthsOf(body, body.positions, faces, eye, ball, ballP) };
  });
  known.set(character.parts, lids);
  return lids;
}

/** The eyeball where a shape puts it: proportion shapes move the whole head. */
function movedEye(character: Character, shape: Shape, lid: Lid): { eye: Eyeball; P: Float32Array } {
  const own = shape.deltas.find((d) => d.part === lid.eye.part);
  if (!own) return { eye: lid.eye, P: lid.ballP };
  const { moved } = movedBy(character.parts[lid.eye.part]!, own);
  const sphere = fitSphere(moved);
  return sphere ? { eye: { ...lid.eye, ...sphere }, P: moved } : { eye: lid.eye, P: lid.ballP };
}

/** An eyeball that comes through its lid under a shape. */
export interface ThroughLid {
  /** Part of the eyeball. */
  readonly eye: number;
  /** Vertices of the skin with how deep the eyeball stands beyond them, mm, beyond rest; deepest first. */
  readonly through: readonly (readonly [vertex: number, mm: number])[];
}

/** Eyeballs that come further than a limit through their lids under a shape at full. @param limit mm. */
export function eyesThroughLids(character: Character, shape: Shape, limit: number): ThroughLid[] {
  const bodyIndex = character.parts.findIndex((p) => p.kind === "body");
  const body = character.parts[bodyIndex];
  const delta = shape.deltas.find((d) => d.part === bodyIndex);
  if (!body || !delta) return [];
  const lids = lidsOf(character, body);
  return whileMoved(body, delta, (moved, touched) =>
    lids.flatMap((lid): ThroughLid[] => {
      const faces = lid.faces.filter((f) => {
        for (let k = body.faceStarts[f]!; k < body.faceStarts[f + 1]!; k++) if (touched[body.corners[k]!]) return true;
        return false;
      });
      if (!faces.length) return [];
      const { eye, P: ballP } = movedEye(character, shape, lid);
      if (ballP !== lid.ballP) refitBvh(lid.ball, ballP);
      const through = [...depthsOf(body, moved, faces, eye, lid.ball, ballP)]
        .map(([v, d]): [number, number] => [v, 1000 * (d - (lid.rest.get(v) ?? 0))])
        .filter(([, mm]) => mm > limit)
        .sort((a, b) => b[1] - a[1] || a[0] - b[0]);
      if (ballP !== lid.ballP) refitBvh(lid.ball, lid.ballP);
      return through.length ? [{ eye: lid.eye.part, through }] : [];
    }),
  );
}
