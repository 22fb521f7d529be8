import { IndexSet } from "../math/indexSet";
import { triangulate, type Part } from "../model/character";
import { smoothPlaces } from "../model/smoothPlaces";
import { addFaces, normalFacesOf, normalizeAt, type NormalFaces } from "./computeNormals";
import { drawnNormals } from "./placeNormals";
import { computeTangents, TangentSums } from "./computeTangents";

/** Lists by index: those of i are list[start[i]] .. list[start[i + 1]], rising. */
interface Lists {
  readonly start: Uint32Array;
  readonly list: Uint32Array;
}

/** By vertex, which entries of so many corners each it is a corner of. */
function entriesAt(count: number, corners: Uint32Array, size: number): Lists {
  const start = new Uint32Array(count + 1);
  for (const v of corners) start[v + 1]!++;
  for (let v = 0; v < count; v++) start[v + 1]! += start[v]!;
  const next = start.slice();
  const list = new Uint32Array(corners.length);
  for (let i = 0; i < corners.length; i++) list[next[corners[i]!]!++] = Math.floor(i / size);
  return { start, list };
}

/**
 * Normals and tangents of a part as it is drawn, at rest and where a shape has moved some of its vertices: only what
 * lies round those is computed, and comes out as it would for all.
 */
export class ShadedSurface {
  /** At rest: unit normals, 3 x vertexCount; tangents, 4 x vertexCount, null where none are asked for. */
  readonly normals: Float32Array<ArrayBuffer>;
  readonly tangents: Float32Array<ArrayBuffer> | null;
  private readonly placeOf: Uint32Array;
  private readonly members: Lists;
  private readonly faces: NormalFaces;
  private readonly quadsAt: Lists;
  private readonly trianglesAt: Lists;
  private readonly sums: TangentSums | null;
  private readonly cornersAt: Lists | null;
  private readonly triangles: Uint32Array;
  /** Of one moved surface. */
  private readonly normalsNow: Float32Array<ArrayBuffer>;
  private readonly moving: IndexSet;
  private readonly places: IndexSet;
  private readonly quads: IndexSet;
  private readonly others: IndexSet;
  private readonly vertices: IndexSet;
  private readonly cornersRound: IndexSet;

  /** @param part without corner look (see drawnPart). @param withTangents along its texture coordinates. */
  constructor(part: Part, withTangents: boolean) {
    const { positions } = part;
    const count = positions.length / 3;
    this.placeOf = smoothPlaces(part);
    this.members = entriesAt(count, this.placeOf, 1);
    this.faces = normalFacesOf(part, this.placeOf);
    this.quadsAt = entriesAt(count, this.faces.quads, 4);
    this.trianglesAt = entriesAt(count, this.faces.triangles, 3);
    this.normals = drawnNormals(part)(positions);
    this.triangles = triangulate(part).triangles;
    const uvs = withTangents ? part.uvs : null;
    this.tangents = uvs && computeTangents(positions, uvs, this.triangles, this.normals);
    this.sums = uvs && new TangentSums(uvs, this.triangles);
    this.cornersAt = uvs && entriesAt(count, this.triangles, 3);
    this.normalsNow = this.normals.slice();
    [this.moving, this.places, this.vertices] = [new IndexSet(count), new IndexSet(count), new IndexSet(count)];
    this.quads = new IndexSet(this.faces.quads.length / 4);
    this.others = new IndexSet(this.faces.triangles.length / 3);
    this.cornersRound = new IndexSet(this.triangles.length / 3);
  }

  /**
   * @param positions of all vertices, of which only `moved` are elsewhere than at rest.
   * @returns the vertices whose normals or tangents may be others there, and these, three and four numbers for each.
   */
  at(
    positions: Float32Array,
    moved: Uint32Array,
  ): { vertices: Uint32Array; normals: Float32Array; tangents: Float32Array | null } {
    this.findRound(moved);
    const places = this.places.members();
    const vertices = this.vertices.members();
    const { normalsNow: now, placeOf } = this;
    for (const v of vertices) now.fill(0, 3 * v, 3 * v + 3);
    const faces = this.facesRound();
    addFaces(positions, faces, now);
    for (const corners of [faces.quads, faces.triangles])
      for (const v of corners) if (!this.places.has(v)) now.set(this.normals.subarray(3 * v, 3 * v + 3), 3 * v);
    for (const v of places) {
      normalizeAt(now, 3 * v);
      if (now[3 * v] === 0 && now[3 * v + 1] === 0 && now[3 * v + 2] === 0) now[3 * v + 1] = 1;
    }
    for (const v of vertices) if (placeOf[v] !== v) now.copyWithin(3 * v, 3 * placeOf[v]!, 3 * placeOf[v]! + 3);
    const tangents = this.sums?.at(positions, now, vertices, this.cornersRound.members().sort()) ?? null;
    const normals = new Float32Array(3 * vertices.length);
    vertices.forEach((v, i) => {
      normals.set(now.subarray(3 * v, 3 * v + 3), 3 * i);
      now.set(this.normals.subarray(3 * v, 3 * v + 3), 3 * v);
    });
    return { vertices, normals, tangents };
  }

  /** Which places have other normals, and the faces round them. */
  private findRound(moved: Uint32Array): void {
    const { placeOf, members, faces, quadsAt, trianglesAt, moving, places, quads, others, vertices, cornersAt } = this;
    for (const set of [moving, places, quads, others, vertices, this.cornersRound]) set.clear();
    for (const v of moved) moving.add(placeOf[v]!);
    const each = ({ start, list }: Lists, v: number, visit: (i: number) => void): void => {
      for (let i = start[v]!; i < start[v + 1]!; i++) visit(list[i]!);
    };
    for (const v of moving.members()) {
      places.add(v);
      each(quadsAt, v, (q) => [0, 1, 2, 3].forEach((k) => places.add(faces.quads[4 * q + k]!)));
      each(trianglesAt, v, (t) => [0, 1, 2].forEach((k) => places.add(faces.triangles[3 * t + k]!)));
      // faces of many corners are cut otherwise for tangents
      if (cornersAt)
        each(members, v, (w) =>
          each(cornersAt, w, (t) => [0, 1, 2].forEach((k) => places.add(placeOf[this.triangles[3 * t + k]!]!))),
        );
    }
    for (const v of places.members()) {
      each(quadsAt, v, (q) => quads.add(q));
      each(trianglesAt, v, (t) => others.add(t));
      each(members, v, (w) => {
        vertices.add(w);
        if (cornersAt) each(cornersAt, w, (t) => this.cornersRound.add(t));
      });
    }
  }

  /** The faces that were found, in their order: sums come out the same to the last bit. */
  private facesRound(): NormalFaces {
    const chosen = (of: Uint32Array, set: IndexSet, size: number): Uint32Array => {
      const list = set.members().sort();
      const out = new Uint32Array(size * list.length);
      list.forEach((f, i) => out.set(of.subarray(size * f, size * (f + 1)), size * i));
      return out;
    };
    return { quads: chosen(this.faces.quads, this.quads, 4), triangles: chosen(this.faces.triangles, this.others, 3) };
  }
}
