import validator from "gltf-validator";
import { deform, makeRig } from "../../core/deform/rig";
import { REST_MOMENT } from "../../core/evaluate/moment";
import { readGlb } from "../../core/formats/glb/readGlb";
import { writeGlb } from "../../core/formats/glb/writeGlb";
import { shapeOf, tube } from "../helpers/characters";
import { glbOf } from "../helpers/glb";

/**
 * Rules of the glTF 2.0 specification (Khronos, glTF-2.0 registry text) that a reader of skins, morph targets and
 * sparse accessors must keep, each on a file written by hand here.
 */
class Chunk {
  private readonly parts: Uint8Array[] = [];
  readonly views: { buffer: 0; byteOffset: number; byteLength: number }[] = [];
  private length = 0;
  add(data: Float32Array | Uint16Array | Uint8Array): number {
    const bytes = new Uint8Array(data.buffer, data.byteOffset, data.byteLength);
    const padded = new Uint8Array(Math.ceil(bytes.length / 4) * 4);
    padded.set(bytes);
    this.views.push({ buffer: 0, byteOffset: this.length, byteLength: bytes.length });
    this.parts.push(padded);
    this.length += padded.length;
    return this.views.length - 1;
  }
  bytes(): Uint8Array {
    return Uint8Array.from(this.parts.flatMap((p) => [...p]));
  }
}

const POINTS = Float32Array.from([0, 0, 0, 1, 0, 0, 0, 1, 0]);

function triangle(
  extra: (chunk: Chunk) => {
    accessors?: object[];
    attributes?: object;
    targets?: object[];
    mesh?: object;
    nodes: object[];
    skins?: object[];
  },
): Uint8Array {
  const chunk = new Chunk();
  const base = chunk.add(POINTS);
  const more = extra(chunk);
  const body = chunk.bytes();
  return glbOf(
    {
      asset: { version: "2.0" },
      scene: 0,
      scenes: [{ nodes: [0] }],
      nodes: more.nodes,
      ...(more.skins ? { skins: more.skins } : {}),
      meshes: [
        {
          name: "tri",
          primitives: [
            { attributes: { POSITION: 0, ...more.attributes }, ...(more.targets ? { targets: more.targets } : {}) },
          ],
          ...more.mesh,
        },
      ],
      accessors: [
        { bufferView: base, componentType: 5126, count: 3, type: "VEC3", min: [0, 0, 0], max: [1, 1, 0] },
        ...(more.accessors ?? []),
      ],
      bufferViews: chunk.views,
      buffers: [{ byteLength: body.length }],
    },
    body,
  );
}

describe("sparse accessors (section 3.6.2.3)", () => {
  it("start from zeros when there is no buffer view, and put values at their indices", async () => {
    const glb = triangle((c) => {
      const indices = c.add(Uint8Array.of(2));
      const values = c.add(Float32Array.of(0.25, 0.5, -1));
      return {
        nodes: [{ mesh: 0 }],
        targets: [{ POSITION: 1 }],
        mesh: { extras: { targetNames: ["push"] } },
        accessors: [
          {
            componentType: 5126,
            count: 3,
            type: "VEC3",
            min: [0, 0, -1],
            max: [0.25, 0.5, 0],
            sparse: { count: 1, indices: { bufferView: indices, componentType: 5121 }, values: { bufferView: values } },
          },
        ],
      };
    });
    const { shapes } = await readGlb(glb, "sparse.glb");
    expect(shapes.map((s) => s.name)).toEqual(["push"]);
    expect([...shapes[0]!.deltas[0]!.vertices]).toEqual([2]);
    expect([...shapes[0]!.deltas[0]!.deltas]).toEqual([0.25, 0.5, -1]);
  });
  it("replace only the named elements of a dense base", async () => {
    const glb = triangle((c) => {
      const dense = c.add(Float32Array.of(0.1, 0, 0, 0.1, 0, 0, 0.1, 0, 0));
      const indices = c.add(Uint16Array.of(1));
      const values = c.add(Float32Array.of(0, 0.3, 0));
      return {
        nodes: [{ mesh: 0 }],
        targets: [{ POSITION: 1 }],
        accessors: [
          {
            bufferView: dense,
            componentType: 5126,
            count: 3,
            type: "VEC3",
            min: [0, 0, 0],
            max: [0.1, 0.3, 0],
            sparse: { count: 1, indices: { bufferView: indices, componentType: 5123 }, values: { bufferView: values } },
          },
        ],
      };
    });
    const { shapes } = await readGlb(glb, "sparse.glb");
    const dense = new Float32Array(9);
    shapes[0]!.deltas[0]!.vertices.forEach((v, k) =>
      dense.set(shapes[0]!.deltas[0]!.deltas.subarray(3 * k, 3 * k + 3), 3 * v),
    );
    [0.1, 0, 0, 0, 0.3, 0, 0.1, 0, 0].forEach((x, i) => expect(dense[i]).toBeCloseTo(x, 6));
  });
});

describe("skins (section 3.7.3)", () => {
  const skinned = (
    node: object,
    skin: object,
    c: Chunk,
  ): { nodes: object[]; skins: object[]; attributes: object; accessors: object[] } => ({
    nodes: [{ children: [1, 2] }, { mesh: 0, skin: 0, ...node }, { name: "bone", translation: [0, 1, 0] }],
    skins: [{ joints: [2], ...skin }],
    attributes: { JOINTS_0: 1, WEIGHTS_0: 2 },
    accessors: [
      { bufferView: c.add(new Uint8Array(12)), componentType: 5121, count: 3, type: "VEC4" },
      {
        bufferView: c.add(Float32Array.from([1, 0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0])),
        componentType: 5126,
        count: 3,
        type: "VEC4",
      },
    ],
  });
  const posed = async (glb: Uint8Array): Promise<number[]> => {
    const character = await readGlb(glb, "skin.glb");
    return [...deform(makeRig(character), REST_MOMENT).positions[0]!].map((x) => Math.round(x * 1e6) / 1e6 + 0);
  };
  it("take a missing inverse bind matrix as the identity", async () =>
    expect(await posed(triangle((c) => skinned({}, {}, c)))).toEqual([0, 1, 0, 1, 1, 0, 0, 2, 0]));
  it("leave the transform of the skinned mesh's own node out: only joints move it", async () =>
    expect(await posed(triangle((c) => skinned({ translation: [50, 0, 0], scale: [3, 3, 3] }, {}, c)))).toEqual([
      0, 1, 0, 1, 1, 0, 0, 2, 0,
    ]));
  it("apply the inverse bind matrix before the joint's", async () => {
    const glb = triangle((c) => {
      const base = skinned({}, {}, c);
      const m = c.add(Float32Array.from([1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, -1, 0, 1]));
      return {
        ...base,
        skins: [{ joints: [2], inverseBindMatrices: 3 }],
        accessors: [...base.accessors, { bufferView: m, componentType: 5126, count: 1, type: "MAT4" }],
      };
    });
    expect(await posed(glb)).toEqual([...POINTS]);
  });
});

describe("what is written", () => {
  it(
    "has weights that sum to one and joints of zero where the " +
      "weight is zero (3.7.3.3), by the Khronos validator's own rules",
    async () => {
      const report = await validator.validateBytes(
        await writeGlb({ ...tube(), shapes: [shapeOf("s", { 3: [0, 0, 0.01] })] }),
      );
      expect(report.issues.messages.filter((m) => m.severity <= 1)).toEqual([]);
    },
  );
});
