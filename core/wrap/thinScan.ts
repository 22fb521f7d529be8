import { MeshoptSimplifier } from "meshoptimizer/simplifier";
import type { PlainMesh } from "../formats/readPly";
import { evenFaceStarts, triangulate } from "../model/character";
import { placesOf } from "../model/places";
import { scanPart } from "./placeScan";

await MeshoptSimplifier.ready;

/** A scan is laid on by at most so many triangles: finer than the skin's own net, and quick to turn on the stage. */
export const MOST_TRIANGLES = 60_000;

/**
 * A scan with fewer triangles where it has more than are of use (quadric errors after Garland & Heckbert 1997, by
 * meshoptimizer); vertices are left out, never moved.
 */
export function thinScan(mesh: PlainMesh, most = MOST_TRIANGLES): PlainMesh {
  const { triangles } = triangulate(scanPart(mesh));
  if (triangles.length <= 3 * most) return mesh;
  // scanners often write every triangle with corners of its own: only what hangs together can be thinned
  const places = placesOf(mesh.positions);
  const joined = compact(
    mesh.positions,
    triangles.map((v) => places[v]!),
  );
  const [kept] = MeshoptSimplifier.simplify(joined.corners, joined.positions, 3, 3 * most, 1);
  return { ...compact(joined.positions, kept), faceStarts: evenFaceStarts(kept.length / 3, 3) };
}

/** Only the vertices that corners use, in the order in which they come. */
function compact(P: Float32Array, used: Uint32Array): { positions: Float32Array; corners: Uint32Array } {
  const row = new Int32Array(P.length / 3).fill(-1);
  const positions: number[] = [];
  const corners = used.map((v) => {
    if (row[v]! < 0) row[v] = positions.push(P[3 * v]!, P[3 * v + 1]!, P[3 * v + 2]!) / 3 - 1;
    return row[v]!;
  });
  return { positions: Float32Array.from(positions), corners };
}
