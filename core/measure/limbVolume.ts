import type { JointRegion } from "./jointRegion";

/**
 * Volume in cubic metres of the limb over a joint: signed tetrahedra (divergence theorem) over its surface,
 * with every open end closed by a fan to the mean of its border.
 */
export function limbVolume(region: JointRegion, triangles: Uint32Array, P: Float32Array): number {
  let six = 0;
  const tetra = (
    ax: number,
    ay: number,
    az: number,
    bx: number,
    by: number,
    bz: number,
    cx: number,
    cy: number,
    cz: number,
  ): number => ax * (by * cz - bz * cy) + ay * (bz * cx - bx * cz) + az * (bx * cy - by * cx);
  for (const t of region.limbTriangles) {
    const a = 3 * triangles[3 * t]!;
    const b = 3 * triangles[3 * t + 1]!;
    const c = 3 * triangles[3 * t + 2]!;
    six += tetra(P[a]!, P[a + 1]!, P[a + 2]!, P[b]!, P[b + 1]!, P[b + 2]!, P[c]!, P[c + 1]!, P[c + 2]!);
  }
  const { borderEdges, capOfEdge, capCount } = region;
  const centre = new Float64Array(4 * capCount);
  for (let e = 0; e < capOfEdge.length; e++) {
    const o = 4 * capOfEdge[e]!;
    for (let k = 0; k < 3; k++) centre[o + k]! += P[3 * borderEdges[2 * e]! + k]!;
    centre[o + 3]!++;
  }
  for (let e = 0; e < capOfEdge.length; e++) {
    const o = 4 * capOfEdge[e]!;
    const n = centre[o + 3]!;
    const a = 3 * borderEdges[2 * e + 1]!;
    const b = 3 * borderEdges[2 * e]!;
    six += tetra(
      P[a]!,
      P[a + 1]!,
      P[a + 2]!,
      P[b]!,
      P[b + 1]!,
      P[b + 2]!,
      centre[o]! / n,
      centre[o + 1]! / n,
      centre[o + 2]! / n,
    );
  }
  return six / 6;
}
