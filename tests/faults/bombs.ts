import { encodeContainer } from "../../core/formats/container";
import { glbOf, jsonOf } from "../helpers/glb";
import type { Seed } from "./seeds";

type Json = ReturnType<typeof jsonOf>["json"] & Record<string, unknown>;
const text = (s: string): Uint8Array => new TextEncoder().encode(s);
const glb = (change: (json: Json) => void, binary = jsonOf().binary): Uint8Array => {
  const { json } = jsonOf();
  change(json as Json);
  return glbOf(json, binary);
};
const chain = (count: number): object[] => [
  { mesh: 0, skin: 0 },
  ...Array.from({ length: count }, (_, i) => ({
    name: `joint ${i}`,
    translation: [0, 0.001, 0],
    ...(i + 1 < count ? { children: [i + 2] } : {}),
  })),
];
const zeros = (count: number, type = "VEC3"): object => ({ componentType: 5126, count, type });
/** JSON text with lists in lists, which cannot be written by the usual way. */
const deepGlb = (depth: number): Uint8Array => {
  const { json, binary } = jsonOf();
  const head = JSON.stringify({ ...json, extras: "DEEP" }).replace('"DEEP"', "[".repeat(depth) + "]".repeat(depth));
  const placeholder = glbOf({ x: "y".repeat(head.length) }, binary);
  const out = placeholder.slice();
  const length = new DataView(out.buffer).getUint32(12, true);
  out.fill(0x20, 20, 20 + length);
  out.set(text(head), 20);
  return out;
};
const bvh = (hierarchy: string, frames: string, values = "0 0 0"): Uint8Array =>
  text(`HIERARCHY\n${hierarchy}\nMOTION\nFrames: ${frames}\nFrame Time: 0.033\n${values}\n`);
const ROOT = "ROOT hips\n{\nOFFSET 0 0 0\nCHANNELS 3 Zrotation Xrotation Yrotation\nEnd Site\n{\nOFFSET 0 1 0\n}\n}";
const bent = (count: number): Float32Array =>
  Float32Array.from({ length: 3 * count }, (_, i) => Math.sin(7.1 * i + (i % 3)));

/**
 * Hand-made files that promise more than they hold, or hold what takes time by the square, or use words of the language
 * for names; each is to be read or refused at once.
 */
export function makeBombs(base: Uint8Array): (Seed & { readonly what: string })[] {
  const one = (what: string, name: string, bytes: Uint8Array, more: Partial<Seed> = {}) => ({
    what,
    way: "delivery" as const,
    name,
    bytes,
    ...more,
  });
  const asClip = { way: "clip" as const, beside: [{ name: "base.glb", bytes: base }] };
  const points = 120_000;
  const normals = new Uint8Array(24 * points);
  new Float32Array(normals.buffer, 12 * points, 3 * points).set(bent(points));
  const spread = new Uint8Array(12 * 3000);
  return [
    one(
      "two milliards of triangles as one polygon run",
      "runs.glb",
      glb(
        (j) =>
          ((j.meshes[0] as Record<string, unknown>)["extras"] = {
            yxomorph: { kind: "body", polygons: [3, 2_000_000_000] },
          }),
      ),
    ),
    one(
      "smoothing runs without end",
      "smoothing.glb",
      glb(
        (j) =>
          ((j.meshes[0] as Record<string, unknown>)["extras"] = {
            yxomorph: { kind: "body", smoothing: [1, 4_000_000_000] },
          }),
      ),
    ),
    one(
      "fifty million vertices without data",
      "zeros.glb",
      glb((j) => (j.accessors[0] = zeros(50_000_000) as never)),
    ),
    one(
      "targets without data over and over",
      "targets.glb",
      glb((j) => {
        (j.meshes[0]!.primitives[0] as Record<string, unknown>)["targets"] = Array.from({ length: 60 }, () => ({
          POSITION: 2,
        }));
        j.accessors[0] = zeros(50_000_000) as never;
        j.accessors.push(zeros(50_000_000) as never);
      }),
    ),
    one(
      "clip keys without data",
      "keys.glb",
      glb((j) => {
        j.accessors.push(zeros(30_000_000, "SCALAR") as never, zeros(30_000_000, "VEC4") as never);
        j["animations"] = [
          { channels: [{ sampler: 0, target: { node: 0, path: "rotation" } }], samplers: [{ input: 2, output: 3 }] },
        ];
      }),
    ),
    one(
      "the same mesh a hundred thousand times",
      "instances.glb",
      glb((j) => {
        j.nodes = Array.from({ length: 100_000 }, () => ({ mesh: 0 }));
        j.accessors[0]!.count = 3;
      }),
    ),
    one(
      "compressed data that opens to terabytes",
      "meshopt.glb",
      glb(
        (j) =>
          ((j.bufferViews[0] as Record<string, unknown>)["extensions"] = {
            EXT_meshopt_compression: { buffer: 0, byteLength: 36, byteStride: 12, count: 4e11, mode: "ATTRIBUTES" },
          }),
      ),
    ),
    one(
      "4 999 joints in one chain",
      "chain.glb",
      glb((j) => {
        j.nodes = chain(4999) as never;
        j["skins"] = [{ joints: Array.from({ length: 4999 }, (_, i) => i + 1) }];
        j.scenes = [{ nodes: [0, 1] }];
      }),
    ),
    one(
      "100 000 nodes in one chain",
      "long.glb",
      glb((j) => {
        j.nodes = chain(100_000) as never;
        j["skins"] = [{ joints: [1] }];
        j.scenes = [{ nodes: [0, 1] }];
      }),
    ),
    one(
      "100 000 nodes side by side under one joint",
      "wide.glb",
      glb((j) => {
        j.nodes = [
          { mesh: 0, skin: 0 },
          { children: Array.from({ length: 100_000 }, (_, i) => i + 2) },
          ...Array.from({ length: 100_000 }, () => ({})),
        ] as never;
        j["skins"] = [{ joints: [1] }];
        j.scenes = [{ nodes: [0, 1] }];
      }),
    ),
    one("lists in lists, 200 000 deep", "deep.glb", deepGlb(200_000)),
    one(
      "every vertex at one place, each with a normal of its own",
      "normals.glb",
      glb((j) => {
        j.meshes[0]!.primitives[0] = { attributes: { POSITION: 0, NORMAL: 1 } } as never;
        j.accessors = [
          { bufferView: 0, componentType: 5126, count: points, type: "VEC3", min: [0, 0, 0], max: [0, 0, 0] },
          { bufferView: 1, componentType: 5126, count: points, type: "VEC3" },
        ] as never;
        j.bufferViews = [
          { buffer: 0, byteOffset: 0, byteLength: 12 * points },
          { buffer: 0, byteOffset: 12 * points, byteLength: 12 * points },
        ];
        j.buffers = [{ byteLength: normals.length }];
      }, normals),
    ),
    one(
      "as many skins as joints",
      "skins.glb",
      glb((j) => {
        j.nodes = [
          ...Array.from({ length: 800 }, (_, i) => ({ mesh: 0, skin: i })),
          ...Array.from({ length: 3000 }, () => ({})),
        ] as never;
        j["skins"] = Array.from({ length: 800 }, () => ({ joints: Array.from({ length: 3000 }, (_, i) => 800 + i) }));
        j.scenes = [{ nodes: Array.from({ length: 3800 }, (_, i) => i) }];
      }),
    ),
    one(
      "joints named like parts of the language",
      "names.glb",
      glb((j) => {
        const names = ["constructor", "__proto__", "toString", "hasOwnProperty", "valueOf"];
        j.nodes = [{ mesh: 0 }, ...names.map((name) => ({ name, mesh: 0, skin: 0 }))] as never;
        j.meshes.push({
          name: "__proto__",
          primitives: j.meshes[0]!.primitives,
          extras: { targetNames: ["constructor"] },
        } as never);
        j["skins"] = [{ joints: [1, 2, 3, 4, 5] }];
        j.scenes = [{ nodes: [0, 1, 2, 3, 4, 5] }];
      }),
    ),
    one(
      "numbers where names should be",
      "numbers.glb",
      glb((j) => (j["materials"] = [{ name: 7 }])),
    ),
    one(
      "factors too large for a number",
      "factors.glb",
      glbOf(
        JSON.parse(
          '{"asset":{"version":"2.0"},"materials":[{"pbrMetallicRoughness":{"baseColorFactor":[1e999,1,1,1]}}],"meshes":[],"nodes":[]}',
        ) as object,
        new Uint8Array(0),
      ),
    ),
    one(
      "a matrix that is no place",
      "matrix.glb",
      glb((j) => (j.nodes = [{ mesh: 0, matrix: [0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0] }] as never)),
    ),
    one(
      "positions of two numbers",
      "vec2.glb",
      glb((j) => (j.accessors[0]!.type = "VEC2")),
    ),
    one(
      "indices of signed bytes",
      "signed.glb",
      glb((j) => (j.accessors[1]!.componentType = 5120)),
    ),
    one(
      "a milliard of frames of nothing",
      "frames.bvh",
      bvh("ROOT hips\n{\nOFFSET 0 0 0\nCHANNELS 0\n}", "1000000000", ""),
      asClip,
    ),
    one("a milliard of frames of three numbers", "more frames.bvh", bvh(ROOT, "1000000000"), asClip),
    one(
      "a milliard of channels",
      "channels.bvh",
      bvh("ROOT hips\n{\nOFFSET 0 0 0\nCHANNELS 1000000000 Xrotation\n}", "1"),
      asClip,
    ),
    one(
      "joints 20 000 deep",
      "deep.bvh",
      bvh(
        `${"ROOT a\n{\nOFFSET 0 0 0\nCHANNELS 1 Xrotation\n"}${"JOINT b\n{\nOFFSET 0 0 0\n".repeat(20_000)}${"}\n".repeat(20_001)}`,
        "1",
        "0",
      ),
      asClip,
    ),
    one(
      "forty million vertices in a line",
      "count.ply",
      text(
        "ply\nformat ascii 1.0\nelement vertex 7999999\nproperty float x\nproperty float y\nproperty " +
          "float z\nelement face 1\nproperty list uchar int vertex_indices\nend_header\n0 0 0\n",
      ),
      { way: "scan" },
    ),
    one(
      "a list of four milliards",
      "list.ply",
      text(
        "ply\nformat ascii 1.0\nelement vertex 3\nproperty float x\nproperty float y\nproperty float " +
          ("z\nelement face 1\nproperty list uint int " +
            "vertex_indices\nend_header\n0 0 0\n1 0 0\n0 1 0\n4000000000 0 1 2\n"),
      ),
      { way: "scan" },
    ),
    one(
      "no faces at all",
      "cloud.ply",
      text(
        "ply\nformat ascii 1.0\nelement vertex 3\nproperty float x\nproperty " +
          "float y\nproperty float z\nend_header\n0 0 0\n1 0 0\n0 1 0\n",
      ),
      { way: "target" },
    ),
    one(
      "one face of a million corners",
      "face.obj",
      text(`v 0 0 0\nv 1 0 0\nv 0 1 0\nf ${"1 2 3 ".repeat(333_333)}\n`),
    ),
    one(
      "many faces on one edge",
      "fan.obj",
      text(
        `v 0 0 0\nv 0 1 0\n${Array.from({ length: 40_000 }, (_, i) => `v ${Math.cos(i)} 0 ${Math.sin(i)}\nf ` + `1 2 ${i + 3}`).join("\n")}\n`,
      ),
    ),
    one(
      "normals without end at one vertex",
      "stars.obj",
      text(
        "v 0 0 0\nv 1 0 0\nv 0 1 " +
          `0\n${Array.from({ length: 40_000 }, (_, i) => `vn ${Math.sin(i)} ${Math.cos(3 * i)} ` + `${Math.sin(5 * i)}\nf 1//${i + 1} 2//${i + 1} 3//${i + 1}`).join("\n")}\n`,
      ),
    ),
    one(
      "as many materials as faces",
      "materials.obj",
      text(
        `v 0 0 0\nv 1 0 0\nv 0 1 0\n${Array.from({ length: 30_000 }, (_, i) => `usemtl m${i}\nf 1 2 3`).join("\n")}\n`,
      ),
    ),
    one(
      "as many objects as faces",
      "objects.obj",
      text(
        Array.from({ length: 8_000 }, (_, i) => `o part${i}\nv ${i} 0 0\nv ${i} 1 0\nv ${i} 0 1\nf -1 -2 -3`).join(
          "\n",
        ),
      ),
    ),
    one(
      "a picture that says it is a million wide",
      "wide.png",
      Uint8Array.from([
        0x89, 0x50, 0x4e, 0x47, 13, 10, 26, 10, 0, 0, 0, 13, 0x49, 0x48, 0x44, 0x52, 0, 0x0f, 0x42, 0x40, 0, 0x0f, 0x42,
        0x40, 8, 6, 0, 0, 0, 0, 0, 0, 0,
      ]),
      { way: "textures" },
    ),
    one(
      "stored movement of more vertices than there are",
      "deltas",
      encodeContainer({
        deltas: [
          { part: "limb", vertexCount: 32, vertices: Uint32Array.of(4_000_000_000), deltas: new Float32Array(3) },
        ],
      }),
      { way: "deltas" },
    ),
    one(
      "a stored array outside of its bytes",
      "container",
      text('YXO1\u0022\u0000\u0000\u0000{"a":{"$":"f32","at":8,"n":900000}}'),
      { way: "container" },
    ),
    one("nothing but zeros", "zero.glb", new Uint8Array(36_000)),
    one("spread", "spread.obj", spread),
  ];
}
