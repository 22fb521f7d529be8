import {
  BufferAttribute,
  BufferGeometry,
  DoubleSide,
  DynamicDrawUsage,
  Mesh,
  MeshStandardMaterial,
  type TypedArray,
} from "three";
import { computeNormals } from "~core/deform/computeNormals";
import { vertexCountOf, type Part } from "~core/model/character";
import { placesOf } from "~core/model/places";
import { fineRows, subdivide, type FineNet } from "~core/surface/subdivide";

/** A part drawn subdivided once, from its own deformed vertices. Looks only: brushes act on the part itself. */
export class FinerPart {
  readonly mesh: Mesh<BufferGeometry, MeshStandardMaterial>;
  private readonly net: FineNet;
  private readonly positions: Float32Array;
  private readonly normals: Float32Array;
  private readonly colors: Float32Array;

  constructor(
    shape: Part,
    readonly part: number,
  ) {
    // seams are no borders: the first vertex at a place stands for all there
    const places = placesOf(shape.positions);
    const corners = shape.corners.map((v) => places[v]!);
    this.net = subdivide({ vertexCount: vertexCountOf(shape), corners, faceStarts: shape.faceStarts });
    const size = 3 * this.net.vertexCount;
    [this.positions, this.normals, this.colors] = [
      new Float32Array(size),
      new Float32Array(size),
      new Float32Array(size),
    ];
    const geometry = new BufferGeometry();
    const attribute = (array: Float32Array): BufferAttribute =>
      new BufferAttribute(array, 3).setUsage(DynamicDrawUsage);
    geometry.setAttribute("position", attribute(this.positions));
    geometry.setAttribute("normal", attribute(this.normals));
    geometry.setAttribute("color", attribute(this.colors));
    const quads = this.net.corners;
    const triangles = new Uint32Array((quads.length / 4) * 6);
    for (let q = 0, t = 0; q < quads.length; q += 4, t += 6)
      triangles.set([quads[q]!, quads[q + 1]!, quads[q + 2]!, quads[q]!, quads[q + 2]!, quads[q + 3]!], t);
    geometry.setIndex(new BufferAttribute(triangles, 1));
    this.mesh = new Mesh(
      geometry,
      new MeshStandardMaterial({ vertexColors: true, roughness: 0.75, metalness: 0, side: DoubleSide }),
    );
    this.mesh.frustumCulled = false;
    this.mesh.name = `${shape.name}, subdivided`;
  }

  /** @param coarse 3 x the part's vertices, metres, deformed. @param colors 3 or more x its vertices, linear RGB. */
  update(coarse: Float32Array, colors: TypedArray): void {
    const { stencils, corners } = this.net;
    fineRows(stencils, coarse, this.positions);
    fineRows(stencils, colors, this.colors);
    computeNormals(this.positions, { quads: corners, triangles: NONE }, null, this.normals);
    for (const name of ["position", "normal", "color"]) this.mesh.geometry.getAttribute(name).needsUpdate = true;
  }

  dispose(): void {
    this.mesh.geometry.dispose();
    this.mesh.material.dispose();
  }
}
const NONE = new Uint32Array(0);
