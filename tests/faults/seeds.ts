import { encode } from "fast-png";
import { encodeAdded } from "../../core/intake/addThings";
import { encodeContainer } from "../../core/formats/container";
import { writeBvh } from "../../core/formats/bvh/writeBvh";
import { writeGlb } from "../../core/formats/glb/writeGlb";
import { writeObj } from "../../core/formats/obj/writeObj";
import { writePly } from "../../core/formats/writePly";
import { writeVrm } from "../../core/formats/vrm/writeVrm";
import { encodeDeltas } from "../../core/ledger/deltasBlob";
import { deliveryNames } from "../../core/intake/relinkNames";
import { DEFAULT_MATERIAL, type Character, type Clip } from "../../core/model/character";
import { encodePaint } from "../../core/weights/keptPaint";
import { beginPaint } from "../../core/weights/paintWeights";
import { boxPart, characterWith, figureSkeleton, rigidSkin, shapeOf, tube } from "../helpers/characters";

/** What a mutant is given to: each way reads it as the program does. */
export type Way =
  | "delivery"
  | "clip"
  | "part"
  | "target"
  | "scan"
  | "textures"
  | "ledger"
  | "joint map"
  | "profile"
  | "deltas"
  | "paint"
  | "added part"
  | "added clip"
  | "container"
  | "step";
export interface Seed {
  readonly way: Way;
  readonly name: string;
  readonly bytes: Uint8Array;
  /** Files that go along unchanged. */
  readonly beside?: readonly { readonly name: string; readonly bytes: Uint8Array }[];
}

const text = (s: string): Uint8Array => new TextEncoder().encode(s);
const clip: Clip = {
  name: "nod",
  tracks: [
    {
      joint: "lower",
      path: "rotation",
      interpolation: "LINEAR",
      times: Float32Array.of(0, 0.5, 1),
      values: Float32Array.of(0, 0, 0, 1, 0.38, 0, 0, 0.92, 0, 0, 0, 1),
    },
  ],
};
const png = (): Uint8Array =>
  new Uint8Array(encode({ width: 4, height: 4, channels: 3, depth: 8, data: new Uint8Array(48).map((_, i) => 5 * i) }));

/** The smallest character that holds one of everything a file can. */
export function fullCharacter(): Character {
  const limb = tube({ rings: 5, sides: 6 });
  const texture = { name: "skin", mimeType: "image/png", bytes: png() };
  const box = { ...boxPart("hat", [0.05, 0.05, 0.05], [0, 0.65, 0], "garment"), skin: rigidSkin(8, 1) };
  return {
    ...limb,
    name: "seed",
    materials: [
      {
        ...DEFAULT_MATERIAL,
        name: "skin",
        texture,
        maps: [{ ...texture, name: "bumps", slot: "normal", strength: 1 }],
      },
    ],
    parts: [
      {
        ...limb.parts[0]!,
        uvs: new Float32Array(2 * (limb.parts[0]!.positions.length / 3)).map((_, i) => (i % 7) / 7),
      },
      box,
    ],
    shapes: [
      shapeOf("wide", { 3: [0.01, 0, 0], 4: [0.02, 0, 0] }),
      shapeOf("lid_left", { 5: [0, 0.01, 0] }),
      shapeOf("bulge", { 8: [0, 0, 0.01] }),
    ],
    drivers: [
      {
        shape: "bulge",
        joint: "lower",
        axis: [1, 0, 0],
        fromDegrees: 0,
        toDegrees: 90,
        easing: "smooth",
        intensity: 1,
        enabled: true,
      },
    ],
    shapeDrivers: [
      { shape: "lid_left", of: ["wide"], rule: "in-between", span: { from: 0, peak: 0.5, to: 1 }, enabled: true },
    ],
    mixes: [{ name: "happy", shares: [{ shape: "wide", weight: 0.5 }] }],
    clips: [clip],
    jointMap: { lower: "leftLowerArm" },
  };
}
const figure = (): Character => {
  const skeleton = figureSkeleton();
  const body = { ...boxPart("body", [0.2, 0.8, 0.1], [0, 0.85, 0]), skin: rigidSkin(8, 0) };
  return characterWith({
    name: "figure",
    parts: [body],
    skeleton,
    shapes: [shapeOf("aa", { 1: [0, -0.01, 0] })],
    mixes: [{ name: "happy", shares: [{ shape: "aa", weight: 0.4 }] }],
  });
};

function binaryPly(c: Character): Uint8Array {
  const P = c.parts[0]!.positions;
  const faces = Array.from({ length: c.parts[0]!.faceStarts.length - 1 }, (_, f) =>
    Array.from(c.parts[0]!.corners.subarray(c.parts[0]!.faceStarts[f]!, c.parts[0]!.faceStarts[f + 1]!)),
  );
  const head = text(
    `ply\nformat binary_little_endian 1.0\nelement vertex ${P.length / 3}\nproperty float x\nproperty ` +
      `float y\nproperty float z\nelement face ${faces.length}\nproperty list uchar int vertex_indices\nend_header\n`,
  );
  const out = new Uint8Array(head.length + 4 * P.length + faces.reduce((n, f) => n + 1 + 4 * f.length, 0));
  const view = new DataView(out.buffer);
  out.set(head);
  let at = head.length;
  for (const x of P) view.setFloat32((at += 4) - 4, x, true);
  for (const f of faces) {
    view.setUint8(at++, f.length);
    for (const v of f) view.setInt32((at += 4) - 4, v, true);
  }
  return out;
}

/** One of every kind of file and of every kind of stored geometry that the program reads. */
export async function makeSeeds(): Promise<Seed[]> {
  const full = fullCharacter();
  const plain = {
    ...full,
    parts: [full.parts[0]!],
    shapes: [],
    drivers: [],
    shapeDrivers: [],
    mixes: [],
    clips: [],
    materials: [{ ...DEFAULT_MATERIAL, name: "skin" }],
  };
  const glb = await writeGlb(full);
  const vrm = await writeVrm(figure());
  const obj = `mtllib skin.mtl\nusemtl skin\n${writeObj(plain, [plain.parts[0]!.positions])}`;
  const mtl = text("newmtl skin\nKd 0.8 0.6 0.5\nNs 20\nmap_Kd skin.png\n");
  const target = writeObj(plain, [plain.parts[0]!.positions.map((x, i) => (i === 9 ? x + 0.01 : x))]);
  const bvh = text(writeBvh(full.skeleton!, clip, {}));
  const walk = text(
    writeBvh(figure().skeleton!, { ...clip, tracks: clip.tracks.map((t) => ({ ...t, joint: "leftLowerArm" })) }, {}),
  );
  const base = { name: "base.glb", bytes: glb };
  const delta = encodeDeltas(full, full.shapes[0]!.deltas);
  const paint = beginPaint(full, "limb");
  paint.dense[0]! += 0.25;
  const ledger = {
    format: "yxomorph ledger",
    version: 1,
    character: "seed",
    names: deliveryNames(full),
    steps: [
      { op: "map joint", joint: "lower", bone: "rightLowerArm" },
      { op: "repair", repair: { what: "weld", part: "limb", withinMm: 0.1 } },
      { op: "accept finding", check: "mesh.loose", part: "limb", joint: null, shape: null, reason: "meant" },
    ],
    blobs: {},
  };
  const { skin: _skin, ...hat } = { ...full.parts[1]!, name: "cap" };
  return [
    { way: "delivery", name: "seed.glb", bytes: glb },
    { way: "delivery", name: "seed.vrm", bytes: vrm },
    {
      way: "delivery",
      name: "seed.obj",
      bytes: text(obj),
      beside: [
        { name: "skin.mtl", bytes: mtl },
        { name: "skin.png", bytes: png() },
      ],
    },
    {
      way: "delivery",
      name: "skin.mtl",
      bytes: mtl,
      beside: [
        { name: "seed.obj", bytes: text(obj) },
        { name: "skin.png", bytes: png() },
      ],
    },
    {
      way: "delivery",
      name: "smile.obj",
      bytes: text(target),
      beside: [{ name: "base.obj", bytes: text(writeObj(plain, [plain.parts[0]!.positions])) }],
    },
    { way: "clip", name: "nod.bvh", bytes: bvh, beside: [base] },
    { way: "clip", name: "walk.bvh", bytes: walk, beside: [{ name: "figure.vrm", bytes: vrm }] },
    {
      way: "part",
      name: "hair.glb",
      bytes: await writeGlb({
        ...plain,
        name: "hair",
        skeleton: null,
        parts: [{ ...boxPart("hair", [0.05, 0.05, 0.05], [0, 0.6, 0], "hair") }],
      }),
      beside: [base],
    },
    {
      way: "part",
      name: "hair.obj",
      bytes: text(
        writeObj(characterWith({ parts: [boxPart("hair", [0.05, 0.05, 0.05], [0, 0.6, 0], "hair")] }), [
          boxPart("hair", [0.05, 0.05, 0.05], [0, 0.6, 0]).positions,
        ]),
      ),
      beside: [base],
    },
    { way: "target", name: "wide.obj", bytes: text(target) },
    { way: "target", name: "wide.ply", bytes: text(writePly(plain, [plain.parts[0]!.positions])) },
    { way: "target", name: "wide.glb", bytes: glb },
    { way: "scan", name: "head.ply", bytes: binaryPly(plain) },
    { way: "textures", name: "skin.png", bytes: png() },
    { way: "ledger", name: "ledger.json", bytes: text(JSON.stringify(ledger)) },
    {
      way: "joint map",
      name: "map.json",
      bytes: text(JSON.stringify({ format: "yxomorph joint map", version: 1, bones: { leftLowerArm: "lower" } })),
    },
    {
      way: "profile",
      name: "profile.json",
      bytes: text(JSON.stringify({ name: "own", limits: { "weights.count": 4 } })),
    },
    { way: "deltas", name: "deltas", bytes: delta },
    { way: "paint", name: "paint", bytes: encodePaint(full, paint)! },
    {
      way: "added part",
      name: "part",
      bytes: encodeAdded({
        part: { ...hat, skin: null },
        materials: [{ ...DEFAULT_MATERIAL, name: "felt" }],
        joints: [],
        moves: [{ shape: "wide", vertices: Uint32Array.of(1), deltas: Float32Array.of(0, 0, 0.01) }],
      } as never),
    },
    { way: "added clip", name: "clip", bytes: encodeAdded({ ...clip, name: "shake" }) },
    { way: "container", name: "character", bytes: encodeContainer(full) },
    {
      way: "step",
      name: "step.json",
      bytes: text(
        JSON.stringify({
          op: "add shapes",
          source: "files",
          items: [
            {
              name: "new",
              label: "new",
              blob: "0".repeat(64),
              driver: { of: ["wide"], rule: "in-between", span: { from: 0, peak: 0.5, to: 1 }, enabled: true },
            },
          ],
        }),
      ),
    },
  ];
}
