import type { SkinMethod } from "../evaluate/moment";
import type { Character } from "../model/character";
import { kernelWith, type Kernel } from "./kernelModule";
import { packedSkin } from "./packedSkin";
import type { Deformed, PartShape, Rig } from "./rig";
import { dualQuaternions } from "./skinDual";

/** Where the numbers of one part stand in the kernel's memory, bytes. */
interface PartRoom {
  readonly vertexCount: number;
  readonly drawnCount: number;
  /** The part with its shapes, before skinning. */
  readonly rest: number;
  readonly drawn: number;
  readonly normals: number;
  readonly start: number;
  readonly joints: number;
  readonly weights: number;
  readonly copies: number;
  readonly quads: number;
  readonly quadCount: number;
  readonly triangles: number;
  readonly triangleCount: number;
  /** 0 when each vertex stands for itself. */
  readonly placeOf: number;
}

interface Room {
  readonly parts: readonly PartRoom[];
  /** Sums of normals while they are made, four numbers a vertex. */
  readonly sums: number;
  /** Matrices or dual quaternions of the joints. */
  readonly table: number;
  /** Where the shapes begin, and how many bytes there are for them. */
  readonly shapes: number;
  readonly shapeBytes: number;
}

type Row = Float32Array | Uint32Array | Uint16Array;

/** Room is given out from here on: 0 stands for what is not there. */
const FIRST = 16;
/** Bytes behind each array that the kernel may write, one row of four lanes. */
const PADDING = 16;
/** Room for shapes that are made or changed after the rig, beside those it has. */
const SPARE_SHAPES = 4e6;
const padded = (bytes: number): number => (bytes + PADDING + 15) & ~15;
/** Bytes of a shape's vertices; its deltas, three times as many, stand behind them. */
const verticesRoom = (count: number): number => padded(4 * count);
const shapeRoom = (count: number): number => verticesRoom(count) + padded(12 * count);

/**
 * Deforms for what is drawn, in single precision, four numbers at a time in WebAssembly; the tables of a rig stand in
 * the kernel's memory and what it makes is read there. What is measured is deformed the plain way (see rig.ts), in
 * double precision.
 */
export class DrawnDeform {
  readonly deformed: Deformed;
  private readonly blended: Float32Array[];
  private readonly matrices: Float32Array;
  private readonly bytes: Uint8Array;
  /** Where a shape's vertices and deltas stand, if they were brought in. */
  private shapes = new Map<Float32Array, { readonly vertices: number; readonly deltas: number }>();
  private shapesEnd: number;

  private constructor(
    private readonly kernel: Kernel,
    private readonly room: Room,
    buffer: ArrayBuffer,
    { shapes, skeleton }: Character,
  ) {
    const { parts, table } = room;
    this.bytes = new Uint8Array(buffer);
    this.shapesEnd = room.shapes;
    const rows = (at: number, count: number): Float32Array => new Float32Array(buffer, at, 3 * count);
    this.blended = parts.map((r) => rows(r.rest, r.vertexCount));
    this.matrices = new Float32Array(buffer, table, 16 * (skeleton?.joints.length ?? 0));
    const drawn = parts.map((r) => rows(r.drawn, r.drawnCount));
    this.deformed = {
      drawn,
      positions: parts.map((r, p) => (r.drawnCount === r.vertexCount ? drawn[p]! : rows(r.drawn, r.vertexCount))),
      normals: parts.map((r) => rows(r.normals, r.drawnCount)),
      matrices: parts.map(() => null),
      shapeWeights: new Float32Array(shapes.length),
    };
  }

  /**
   * @param mostShapes most room for shapes, bytes; what does not fit at once is brought in again.
   * @returns null where the platform cannot: see kernelWith.
   */
  static of(rig: Rig, mostShapes = 96e6): DrawnDeform | null {
    const { room, size, filled } = roomFor(rig, mostShapes);
    const made = kernelWith(size);
    if (!made) return null;
    const drawing = new DrawnDeform(made.kernel, room, made.buffer, rig.character);
    for (const [at, values] of filled) drawing.write(at, values);
    return drawing;
  }

  /** Adds the weighted shapes of one part to its bind positions; kept until it is asked for again. */
  blend(rig: Rig, part: number, weights: Float32Array): void {
    this.blended[part]!.set(rig.character.parts[part]!.positions);
    const { rest } = this.room.parts[part]!;
    for (const moved of rig.partShapes[part]!) {
      const weight = weights[moved.shape]!;
      if (weight === 0) continue;
      const { vertices, deltas } = this.broughtIn(moved);
      this.kernel.addShape(rest, vertices, deltas, moved.vertices.length, weight);
    }
  }

  private broughtIn({ vertices, deltas }: PartShape): { readonly vertices: number; readonly deltas: number } {
    const known = this.shapes.get(deltas);
    if (known) return known;
    const bytes = shapeRoom(vertices.length);
    const { shapes, shapeBytes } = this.room;
    if (this.shapesEnd + bytes > shapes + shapeBytes) {
      this.shapes.clear();
      this.shapesEnd = shapes;
    }
    const places = { vertices: this.shapesEnd, deltas: this.shapesEnd + verticesRoom(vertices.length) };
    this.write(places.vertices, vertices);
    this.write(places.deltas, deltas);
    this.shapes.set(deltas, places);
    this.shapesEnd += bytes;
    return places;
  }

  private write(at: number, values: Row): void {
    this.bytes.set(new Uint8Array(values.buffer, values.byteOffset, values.byteLength), at);
  }

  /** Skins one part, and makes its copies and normals. @param joints those that hold its vertices. */
  skin(part: number, joints: Uint16Array | null, method: SkinMethod): void {
    const r = this.room.parts[part]!;
    const { kernel } = this;
    const { table, sums } = this.room;
    const matrices = this.deformed.matrices[part];
    if (!joints || !matrices) this.deformed.positions[part]!.set(this.blended[part]!);
    else if (method === "dual") {
      this.matrices.set(dualQuaternions(matrices));
      kernel.skinDual(r.rest, r.drawn, r.vertexCount, r.start, r.joints, r.weights, table);
    } else {
      for (const j of joints) for (let i = 16 * j; i < 16 * j + 16; i++) this.matrices[i] = matrices[i]!;
      kernel.skinLinear(r.rest, r.drawn, r.vertexCount, r.start, r.joints, r.weights, table);
    }
    kernel.copyRows(r.drawn, r.copies, r.drawnCount - r.vertexCount, r.drawn + 12 * r.vertexCount);
    const { quads, quadCount, triangles, triangleCount, placeOf, drawnCount } = r;
    kernel.computeNormals(r.drawn, quads, quadCount, triangles, triangleCount, placeOf, drawnCount, sums, r.normals);
  }
}

/** Gives each array of a rig its place in a memory. @returns with what stands in it from the start. */
function roomFor(
  rig: Rig,
  mostShapes: number,
): { room: Room; size: number; filled: readonly (readonly [at: number, values: Row])[] } {
  let size = FIRST;
  const filled: (readonly [at: number, values: Row])[] = [];
  const room = (bytes: number): number => {
    const at = size;
    size += padded(bytes);
    return at;
  };
  const put = (values: Row): number => {
    const at = room(values.byteLength);
    filled.push([at, values]);
    return at;
  };
  const parts = rig.character.parts.map(({ positions, skin }, p): PartRoom => {
    const { copies, faces, placeOf } = rig.drawn[p]!;
    const packed = skin && packedSkin(skin);
    const vertexCount = positions.length / 3;
    const drawnCount = vertexCount + copies.length;
    return {
      vertexCount,
      drawnCount,
      rest: room(12 * vertexCount),
      drawn: room(12 * drawnCount),
      normals: room(12 * drawnCount),
      start: packed ? put(packed.start) : 0,
      joints: packed ? put(packed.joints) : 0,
      weights: packed ? put(packed.weights) : 0,
      copies: put(copies),
      quads: put(faces.quads),
      quadCount: faces.quads.length / 4,
      triangles: put(faces.triangles),
      triangleCount: faces.triangles.length / 3,
      placeOf: placeOf ? put(placeOf) : 0,
    };
  });
  const sums = room(16 * Math.max(0, ...parts.map((r) => r.drawnCount)));
  const table = room(64 * (rig.character.skeleton?.joints.length ?? 0));
  const all = rig.partShapes.flat().reduce((sum, s) => sum + shapeRoom(s.vertices.length), 0);
  // a shape alone always fits, also one that moves every vertex of the largest part
  const largest = shapeRoom(Math.max(0, ...parts.map((r) => r.vertexCount)));
  const shapeBytes = Math.max(Math.min(mostShapes, all + SPARE_SHAPES), largest);
  const shapes = room(shapeBytes);
  return { room: { parts, sums, table, shapes, shapeBytes }, size, filled };
}
