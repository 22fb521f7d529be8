import { computeNormals, normalFacesAt, renewNormals, type FacesAt } from "../deform/computeNormals";
import { bonyJoints } from "../measure/boneUnderSkin";
import { jointFold, type JointFold } from "../measure/jointFold";
import type { JointGauge } from "../measure/measureJoint";
import { onlyMoving, skinOverlap, type OverlapFinder } from "../measure/skinOverlap";
import { neighboursOf, type Neighbours } from "../model/neighbours";
import { openFaces, shortenEdges } from "./fleshLimits";
import { crossesPlane, fadingRings, holdOverTip, layInFold } from "./foldContact";
import { Refill } from "./refill";
import { relaxOnce, turnedOffsets } from "./restOffsets";

export interface EaseOptions {
  /** Rounds at most. */
  readonly rounds: number;
  /** Overlap left on either side of the fold, metres. */
  readonly touch: number;
  /** Ratio to the rest length beyond which edges are shortened. */
  readonly stretchLimit: number;
  /** Loss of volume that is left, share. */
  readonly leastLoss: number;
  /** Share of its distance from the bone at rest that skin over a joint's tip keeps. */
  readonly overBone: number;
}

/** Part of the way to where the neighbours want it that skin goes in a round. */
const RELAX = 0.35;
/** Overlaps are looked for every so many rounds; in between, what was pressed stays held in the fold. */
const LOOK_AGAIN = 4;
/** An overlap deeper than this puts skin into contact, metres. */
const PRESSED = 0.0005;
/** Rings round pressed skin that are laid in the fold with it, ever less. */
const RINGS = 3;
/** Passes over edges and faces in each round, and after the last one. */
const PASSES = 3;
const LAST_PASSES = 6;
const LAST_LOOKS = 8;
/** How far a push outside the fold spreads: passes of averaging; and the share of an overlap that it takes away. */
const SPREAD = 4;
const RELIEF = 0.6;

/**
 * Moves posed skin in place, round by round: skin that is pressed lies flat in the fold (`layInFold`), skin over bone
 * keeps its distance (`holdOverTip`), the missing volume is given back where skin is free (`Refill`), the surface is
 * smoothed toward its own detail at rest (`relaxOnce`), edges are held to a limit and faces open (`fleshLimits`).
 * Yields the share done after every round.
 *
 * Methods weighed against each other on the same poses of Oda (`npm run bench`): volume, deepest overlap, stretch,
 * faces turned, crease, skin off the bone.
 *
 *     elbow 120             linear   -14.1 %  21 mm  1.65  19 turned  29 deg  10 mm
 *                           dual       1.7 %  17 mm  2.46  16 turned  32 deg   1 mm
 *                           centres   -1.6 %  19 mm  2.03  34 turned  28 deg   1 mm
 *                           offsets  -30.7 %  14 mm  1.33  22 turned  18 deg  28 mm
 *                           this      -5.1 %   1 mm  1.62   0 turned  33 deg   7 mm
 *     knee 135              linear    -9.3 %  51 mm  1.99  22 turned  30 deg  20 mm
 *                           dual      13.8 %  51 mm  3.00  20 turned  40 deg   1 mm
 *                           centres    6.4 %  50 mm  2.43  51 turned  36 deg   5 mm
 *                           offsets  -24.3 %  51 mm  1.61  31 turned  18 deg  51 mm
 *                           this      -8.9 %   1 mm  1.71   0 turned  42 deg  16 mm
 *     thigh 120             linear   -11.8 %  47 mm  2.52  35 turned  70 deg
 *                           dual       0.6 %   6 mm  3.04  44 turned  82 deg
 *                           centres   -4.5 %  61 mm  2.90  52 turned  43 deg
 *                           offsets  -20.2 %  23 mm  2.62  50 turned  72 deg
 *                           this      -4.9 %   0 mm  1.81   0 turned  60 deg
 *
 * centres: Le & Hodgins 2016; offsets: delta mush alone. None of them knows of contact, and what keeps the volume
 * stretches; the pushing along normals that stood here before left the knee at 55 and the elbow at 69 degrees.
 *
 * @param P 3 x vertexCount, character space, metres. @param freedom per vertex 0..1: how far it may give way. @param
 * facing from `carriedNormals`, for the limb's triangles. @param matrices 16 x jointCount of the pose.
 */
export function* easeFlesh(
  gauge: JointGauge,
  P: Float32Array,
  freedom: Float32Array,
  facing: Float32Array,
  matrices: ArrayLike<number>,
  { rounds, touch, stretchLimit, leastLoss, overBone }: EaseOptions,
): Generator<number, void> {
  const skin = new PosedSkin(gauge, P, freedom, facing, matrices, { touch, stretchLimit });
  const { fold, bony, free, neighbours, normals } = skin;
  const body = gauge.rig.character.parts[gauge.region.part]!;
  const offsets = turnedOffsets(body.positions, body.skin!, matrices, free, neighbours);
  const strength = freedom.map((f) => RELAX * Math.min(1, 2 * f));
  const refill = new Refill(gauge, leastLoss);
  const room = new Float32Array(P.length);
  for (let round = 0; round < rounds; round++) {
    yield round / (rounds + LAST_LOOKS);
    skin.renewNormals();
    if (round % LOOK_AGAIN === 0) skin.look(true);
    if (fold) {
      layInFold(P, gauge, fold, skin.held, touch);
      if (bony) holdOverTip(P, gauge, fold, overBone);
    }
    refill.swell(P, normals, free, freedom, skin.held);
    relaxOnce(P, offsets, free, strength, neighbours, room);
    skin.keepLimits(PASSES);
  }
  if (fold) layInFold(P, gauge, fold, skin.held, touch);
  skin.keepLimits(LAST_PASSES);
  // what the fold left pressed is pushed out, whatever it was
  for (let last = 0; last < LAST_LOOKS && skin.look(false) > 0; last++) {
    yield (rounds + last) / (rounds + LAST_LOOKS);
    skin.keepLimits(LAST_PASSES);
  }
}

/** Skin of a joint in a pose while it is eased: what is pressed, what may move, and its limits. */
class PosedSkin {
  readonly fold: JointFold | null;
  readonly bony: boolean;
  readonly free: Uint32Array;
  readonly neighbours: Neighbours;
  readonly normals: Float32Array;
  /** Per vertex 0..1: how far it is held in the fold. */
  held: Float32Array;
  private readonly pressed: Float32Array;
  private readonly movable: ReadonlySet<number>;
  private readonly faces: FacesAt;
  private readonly finder: OverlapFinder;

  constructor(
    private readonly gauge: JointGauge,
    private readonly P: Float32Array,
    private readonly freedom: Float32Array,
    private readonly facing: Float32Array,
    matrices: ArrayLike<number>,
    private readonly limits: Pick<EaseOptions, "touch" | "stretchLimit">,
  ) {
    const { rig, region, rest } = gauge;
    const { part } = region;
    this.neighbours = neighboursOf(rig.character.parts[part]!);
    this.fold = jointFold(gauge, matrices);
    this.bony = bonyJoints(rig.character).has(region.joint);
    this.normals = new Float32Array(P.length);
    computeNormals(P, rig.normalFaces[part]!, rig.placeOf[part]!, this.normals);
    this.pressed = new Float32Array(freedom.length);
    this.held = new Float32Array(freedom.length);
    this.free = Uint32Array.from(freedom.keys()).filter((v) => freedom[v]! > 0.002);
    const first = skinOverlap(gauge.finder, rest, P, this.normals).depths;
    const deep = Array.from(freedom.keys()).filter((v) => this.deep(v, first) > 0);
    this.movable = withRings([...this.free, ...deep], this.neighbours, RINGS + SPREAD);
    this.faces = normalFacesAt(rig.normalFaces[part]!, this.movable);
    this.finder = onlyMoving(gauge.finder, P, Uint32Array.from(this.movable));
  }

  private deep(v: number, depths: Float32Array): number {
    return depths[v]! - this.gauge.restDepths[v]!;
  }

  renewNormals(): void {
    const { rig, region } = this.gauge;
    renewNormals(this.P, this.faces, rig.placeOf[region.part]!, this.normals);
  }

  /** Shortens edges and opens faces, pass after pass until nothing is amiss. */
  keepLimits(passes: number): void {
    const { rig, region, rest } = this.gauge;
    const triangles = rig.triangles[region.part]!;
    for (let pass = 0; pass < passes; pass++) {
      const amiss =
        shortenEdges(this.P, rest, region.edges, this.limits.stretchLimit, this.freedom) +
        openFaces(this.P, triangles, region.limbTriangles, this.facing, this.freedom);
      if (amiss === 0) break;
    }
  }

  /** Finds what is pressed now; what the fold does not answer is pushed out. @returns how many are pushed. */
  look(answered: boolean): number {
    const { P, gauge, fold, pressed, movable, neighbours, normals } = this;
    this.renewNormals();
    const { depths } = skinOverlap(this.finder, gauge.rest, P, normals);
    const push = new Map<number, number>();
    for (const v of movable) {
      const over = this.deep(v, depths);
      if (over <= PRESSED) continue;
      if (answered && (pressed[v] || (fold && crossesPlane(P, v, gauge, fold, over, this.bony)))) pressed[v] = 1;
      else if (over > this.limits.touch) push.set(v, over);
    }
    this.held = fadingRings(pressed, neighbours, RINGS);
    for (const [v, by] of spread(push, normals, neighbours))
      if (movable.has(v)) for (let c = 0; c < 3; c++) P[3 * v + c]! += RELIEF * by[c]!;
    return push.size;
  }
}

/** Vertices and the rings of neighbours round them. */
function withRings(vertices: Iterable<number>, { start, list }: Neighbours, rings: number): Set<number> {
  const reached = new Set(vertices);
  let rim = [...reached];
  for (let ring = 0; ring < rings; ring++) {
    const next: number[] = [];
    for (const v of rim)
      for (let k = start[v]!; k < start[v + 1]!; k++) {
        if (reached.has(list[k]!)) continue;
        reached.add(list[k]!);
        next.push(list[k]!);
      }
    rim = next;
  }
  return reached;
}

/**
 * Averages pushes along the normals with the neighbours' a few times, and scales them so that what is pressed is moved
 * as far as before. @returns per vertex reached, metres.
 */
function spread(
  push: ReadonlyMap<number, number>,
  normals: Float32Array,
  { start, list }: Neighbours,
): Map<number, [number, number, number]> {
  if (push.size === 0) return new Map();
  const vertices = [...withRings(push.keys(), { start, list }, SPREAD)];
  let now = new Map<number, [number, number, number]>(
    vertices.map((v) => {
      const depth = push.get(v) ?? 0;
      return [v, [-depth * normals[3 * v]!, -depth * normals[3 * v + 1]!, -depth * normals[3 * v + 2]!]];
    }),
  );
  for (let pass = 0; pass < SPREAD; pass++) {
    const next = new Map<number, [number, number, number]>();
    for (const v of vertices) {
      let [x, y, z] = now.get(v)!;
      for (let k = start[v]!; k < start[v + 1]!; k++) {
        const other = now.get(list[k]!);
        if (!other) continue;
        x += other[0];
        y += other[1];
        z += other[2];
      }
      const n = start[v + 1]! - start[v]! + 1;
      next.set(v, [x / n, y / n, z / n]);
    }
    now = next;
  }
  let most = 0;
  for (const by of now.values()) most = Math.max(most, Math.hypot(...by));
  const deepest = Math.max(...push.values());
  const scale = most > 0 ? Math.min(4, deepest / most) : 0;
  for (const by of now.values()) for (let c = 0; c < 3; c++) by[c]! *= scale;
  return now;
}
