import { edgeStretch } from "../measure/edgeStretch";
import { limbVolume } from "../measure/limbVolume";
import type { JointGauge } from "../measure/measureJoint";

/** Share of the missing volume by which the pressure rises in a round. */
const GAIN = 0.35;
/** Pressure at most, metres of swelling a round. */
const MOST = 0.006;
/** Skin stretched farther than this swells no more, and swells ever less over the step before it, ratio. */
const TAUT = 1.7;
const TAUT_STEP = 0.4;

/**
 * Gives missing volume back: free skin swells along its normals by a pressure that rises while volume is missing and
 * falls when there is too much (the multiplier of a constraint on the volume).
 */
export class Refill {
  private pressure = 0;
  private readonly slack: Float32Array;
  private readonly taut: Float32Array;

  /** @param leastLoss loss of volume that is left, share. */
  constructor(
    private readonly gauge: JointGauge,
    private readonly leastLoss: number,
  ) {
    this.slack = new Float32Array(gauge.rest.length / 3);
    this.taut = new Float32Array(gauge.rest.length / 3);
  }

  /**
   * One round, in place. @param free per vertex 0..1 how far it may move. @param held per vertex 0..1: in contact, and
   * so not free to swell. @returns how far the freest skin swelled, metres.
   */
  swell(P: Float32Array, normals: Float32Array, movable: Uint32Array, free: Float32Array, held: Float32Array): number {
    const { region, rest, rig, restVolume } = this.gauge;
    const triangles = rig.triangles[region.part]!;
    const missing = (1 - this.leastLoss) * restVolume - limbVolume(region, triangles, P);
    if (missing <= 0 && this.pressure === 0) return 0;
    const { slack, taut } = this;
    taut.fill(0);
    edgeStretch(region.edges, rest, P).forEach((s, e) => {
      for (const v of [region.edges[2 * e]!, region.edges[2 * e + 1]!]) if (s > taut[v]!) taut[v] = s;
    });
    for (const v of movable) {
      const loose = Math.max(0, Math.min(1, (TAUT - taut[v]!) / TAUT_STEP));
      slack[v] = free[v]! * Math.max(0, 1 - 1.2 * held[v]!) * loose;
    }
    const area = freeArea(P, triangles, region.limbTriangles, slack);
    if (area <= 0) return 0;
    this.pressure = Math.max(0, Math.min(MOST, this.pressure + (GAIN * missing) / area));
    if (this.pressure > 0)
      for (const v of movable)
        for (let c = 0; c < 3; c++) P[3 * v + c]! += this.pressure * slack[v]! * normals[3 * v + c]!;
    return this.pressure;
  }
}

/** Area of triangles, each weighted by how free its corners are, square metres. */
function freeArea(P: Float32Array, triangles: Uint32Array, chosen: Uint32Array, slack: Float32Array): number {
  let area = 0;
  for (const t of chosen) {
    const [va, vb, vc] = [triangles[3 * t]!, triangles[3 * t + 1]!, triangles[3 * t + 2]!];
    const share = (slack[va]! + slack[vb]! + slack[vc]!) / 3;
    if (share === 0) continue;
    const [a, b, c] = [3 * va, 3 * vb, 3 * vc];
    const [ux, uy, uz] = [P[b]! - P[a]!, P[b + 1]! - P[a + 1]!, P[b + 2]! - P[a + 2]!];
    const [vx, vy, vz] = [P[c]! - P[a]!, P[c + 1]! - P[a + 1]!, P[c + 2]! - P[a + 2]!];
    area += (share * Math.hypot(uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx)) / 2;
  }
  return area;
}
