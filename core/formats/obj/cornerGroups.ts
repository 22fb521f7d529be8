import { groupsByCorner } from "../../model/cornerLook";
import { placesOf } from "../../model/places";
import { MOST_NORMALS, normalsAlike } from "../../model/smoothPlaces";

/**
 * Groups of corners that share their normal, from the normals of a file: at one place those that differ by more than
 * rounding are apart. The file's own smoothing groups are kept where they say the same; else faces are numbered over
 * edges that are not hard, and where that tells too little the corners of each place.
 * @param normals 3 x corners.length, of any length. @param ofFile groups by corner, or null.
 * @returns null where no edge is hard and the file names no groups.
 */
export function groupsOfNormals(
  positions: Float32Array,
  corners: Uint32Array,
  faceStarts: Uint32Array,
  normals: Float32Array,
  ofFile: Uint32Array | null,
): Uint32Array | null {
  const places = placesOf(positions);
  // clusters of alike normals at each place, numbered by the corner met first
  const cluster = new Uint32Array(corners.length);
  const firsts = new Map<number, number[]>();
  let hard = false;
  corners.forEach((v, k) => {
    const place = places[v]!;
    const list = firsts.get(place) ?? [];
    firsts.set(place, list);
    const same = list.find((q) => normalsAlike(normals, q, k));
    cluster[k] = same ?? k;
    if (same !== undefined) return;
    if (list.length > 0) hard = true;
    if (list.length < MOST_NORMALS) list.push(k);
  });
  if (ofFile && saysTheSame(places, corners, cluster, ofFile)) return ofFile;
  if (!hard) return null;
  const byFace = facesJoined(cluster, faceStarts);
  if (saysTheSame(places, corners, cluster, byFace)) return byFace;
  return cluster.map((k) => k + 1);
}

/** Do two groupings part the same corners at every place? A group of 0 is shared by no two faces. */
function saysTheSame(places: Uint32Array, corners: Uint32Array, cluster: Uint32Array, groups: Uint32Array): boolean {
  const clusterOf = new Map<string, number>();
  const groupOf = new Map<number, number>();
  for (let k = 0; k < corners.length; k++) {
    const key = groups[k] === 0 ? `flat ${k}` : `${places[corners[k]!]} ${groups[k]}`;
    const c = clusterOf.get(key) ?? cluster[k]!;
    clusterOf.set(key, c);
    if (c !== cluster[k]) return false;
    // one cluster under two groups: what is smooth would be parted
    const g = groupOf.get(cluster[k]!) ?? groups[k]!;
    groupOf.set(cluster[k]!, g);
    if (g !== groups[k] || (groups[k] === 0 && cluster[k] !== k)) return false;
  }
  return true;
}

/** Faces that share a cluster get one number, from 1 in order of the faces. */
function facesJoined(cluster: Uint32Array, faceStarts: Uint32Array): Uint32Array {
  const faceCount = faceStarts.length - 1;
  const root = Uint32Array.from({ length: faceCount }, (_, f) => f);
  const find = (f: number): number => {
    while (root[f] !== f) f = root[f] = root[root[f]!]!;
    return f;
  };
  const faceOf = new Int32Array(cluster.length).fill(-1);
  for (let f = 0; f < faceCount; f++)
    for (let k = faceStarts[f]!; k < faceStarts[f + 1]!; k++) {
      const other = faceOf[cluster[k]!]!;
      if (other >= 0) root[Math.max(find(f), find(other))] = Math.min(find(f), find(other));
      else faceOf[cluster[k]!] = f;
    }
  const number = new Map<number, number>();
  return groupsByCorner(
    faceStarts,
    Array.from({ length: faceCount }, (_, f) => {
      const r = find(f);
      if (!number.has(r)) number.set(r, number.size + 1);
      return number.get(r)!;
    }),
  );
}
