import { boxPart, shapeOf, tube } from "../../tests/helpers/characters";
import { deform, makeRig } from "../deform/rig";
import { REST_MOMENT } from "../evaluate/moment";
import type { Character } from "../model/character";
import { applySteps } from "./applyStep";
import { encodeDeltas } from "./deltasBlob";
import { readLedgerFile } from "./ledgerFile";
import { deliveryNames, matchNames } from "../intake/relinkNames";
import { replay } from "./replay";
import type { Step } from "./steps";

const base: Character = { ...tube(), clips: [] };
const HASH = "a".repeat(64);
const P = base.parts[0]!.positions;
/** A smooth bulge round the middle, on every vertex near it. */
const bulge = shapeOf(
  "bulge",
  Object.fromEntries(
    Array.from({ length: P.length / 3 }, (_, v) => v)
      .filter((v) => Math.abs(P[3 * v + 1]! - 0.3) < 0.12)
      .map((v) => {
        const share = (1 - ((P[3 * v + 1]! - 0.3) / 0.12) ** 2) ** 2;
        return [v, [0.2 * share * P[3 * v]!, 0, 0.2 * share * P[3 * v + 2]!] as [number, number, number]];
      }),
  ),
);
const bytes = encodeDeltas(base, bulge.deltas);
const blobs = (hash: string): Uint8Array | undefined => (hash === HASH ? bytes : undefined);
const driver = {
  shape: "bulge",
  joint: "lower",
  axis: [1, 0, 0] as [number, number, number],
  fromDegrees: 0,
  toDegrees: 90,
  easing: "linear" as const,
  intensity: 1,
  enabled: true,
};
const make: Step = { op: "make correctives", items: [{ name: "bulge", label: "bulge", blob: HASH, driver }] };
const accept: Step = {
  op: "accept finding",
  check: "skeleton.required",
  part: null,
  joint: null,
  shape: null,
  clip: null,
  reason: "a limb only",
};
const posed = (c: Character): Float32Array =>
  deform(makeRig(c), { ...REST_MOMENT, pose: { [c.skeleton!.joints[1]!.name]: [90, 0, 0] } }, { normals: false })
    .positions[0]!;

describe("names of another delivery", () => {
  it("match by the same words after what all begin with", () => {
    const from = {
      joints: ["a:hips", "a:leftArm", "a:head"].map((name) => ({ name, bone: null })),
      parts: [],
      shapes: ["AU1 left"],
      clips: ["Walk"],
    };
    const to = {
      joints: ["b_left_arm", "b_hips", "b_head"].map((name) => ({ name, bone: null })),
      parts: [],
      shapes: ["AU1_left"],
      clips: ["walk"],
    };
    const matches = matchNames(from, to);
    expect([...matches.joints]).toEqual([
      ["a:hips", "b_hips"],
      ["a:leftArm", "b_left_arm"],
      ["a:head", "b_head"],
    ]);
    expect([...matches.shapes, ...matches.clips]).toEqual([
      ["AU1 left", "AU1_left"],
      ["Walk", "walk"],
    ]);
  });
  it("match by the bone where words differ, and parts by being alone of their kind", () => {
    const from = {
      joints: [{ name: "elbow", bone: "leftLowerArm" }],
      parts: [
        { name: "skin", kind: "body" as const, vertices: 8 },
        { name: "sock", kind: "garment" as const, vertices: 4 },
      ],
      shapes: [],
      clips: [],
    };
    const to = {
      joints: [{ name: "joint_17", bone: "leftLowerArm" }],
      parts: [
        { name: "figure", kind: "body" as const, vertices: 9 },
        { name: "shoe", kind: "garment" as const, vertices: 4 },
        { name: "hat", kind: "garment" as const, vertices: 4 },
      ],
      shapes: [],
      clips: [],
    };
    const matches = matchNames(from, to);
    expect([...matches.joints]).toEqual([["elbow", "joint_17"]]);
    expect([...matches.parts]).toEqual([["skin", "figure"]]);
  });
});

describe("replay", () => {
  it("on the same delivery makes the same character", async () => {
    const run = await replay(base, deliveryNames(base), [make, accept], blobs);
    expect(run.steps.map((s) => [s.outcome, s.note])).toEqual([
      ["applied", ""],
      ["applied", ""],
    ]);
    expect(posed(run.character)).toEqual(posed(applySteps(base, [make], blobs)));
  });
  it("carries a sculpt to a mesh of another count by surface: the same form to a tenth of a millimetre", async () => {
    const fine = tube({ rings: 65, sides: 48 });
    const run = await replay(fine, deliveryNames(base), [make], blobs);
    expect(run.steps[0]).toMatchObject({
      outcome: "applied",
      note: expect.stringMatching(/Carried over by surface, up to 0\.\d mm/) as string,
    });
    // every vertex of the coarse tube is one of the fine one: ring 2r, side 2s
    const [a, b] = [posed(applySteps(base, [make], blobs)), posed(run.character)];
    for (let r = 0; r < 33; r++)
      for (let s = 0; s < 24; s++)
        for (let c = 0; c < 3; c++)
          expect(Math.abs(a[3 * (24 * r + s) + c]! - b[3 * (48 * 2 * r + 2 * s) + c]!)).toBeLessThan(1e-4);
  });
  it("tells the steps that cannot be applied, and goes on with the others", async () => {
    const steps: Step[] = [
      { op: "map joint", joint: "tail", bone: "hips" },
      { op: "remove corrective", name: "gone" },
      make,
      accept,
    ];
    const run = await replay(base, deliveryNames(base), steps, blobs);
    expect(run.steps.map((s) => s.outcome)).toEqual(["waits", "waits", "applied", "applied"]);
    expect(run.steps[0]!.note).toMatch(/no joint named tail/);
    expect(run.character.shapes.map((s) => s.name)).toEqual(["bulge"]);
  });
  it("leaves out a repair whose fault is not there, and makes it where it is", async () => {
    const mend: Step = {
      op: "mend",
      check: "mesh.loose",
      part: "limb",
      joint: null,
      shape: null,
      clip: null,
      limit: 0,
    };
    expect((await replay(base, deliveryNames(base), [mend], blobs)).steps[0]!.outcome).toBe("not needed");
    const part = base.parts[0]!;
    const loose: Character = {
      ...base,
      parts: [
        {
          ...part,
          positions: Float32Array.from([...part.positions, 5, 5, 5]),
          skin: {
            ...part.skin!,
            joints: Uint16Array.from([...part.skin!.joints, 0, 0]),
            weights: Float32Array.from([...part.skin!.weights, 1, 0]),
          },
        },
      ],
    };
    const run = await replay(loose, deliveryNames(base), [mend], blobs);
    expect(run.steps[0]!.outcome).toBe("applied");
    expect(run.character.parts[0]!.positions.length).toBe(part.positions.length);
  });
  it("waits where nothing of the surface is left, or the part is gone", async () => {
    const far: Character = { ...base, parts: [{ ...boxPart("limb", [0.1, 0.1, 0.1], [5, 0, 0]) }] };
    expect((await replay(far, deliveryNames(base), [make], blobs)).steps[0]).toMatchObject({
      outcome: "waits",
      note: expect.stringMatching(/Nothing of limb lies near/) as string,
    });
    const other: Character = { ...base, parts: [{ ...boxPart("hat"), kind: "hair" }] };
    expect((await replay(other, deliveryNames(base), [make], blobs)).steps[0]).toMatchObject({
      outcome: "waits",
      note: expect.stringMatching(/no part named limb/) as string,
    });
  });
});

describe("a ledger file", () => {
  const file = {
    format: "yxomorph ledger",
    version: 1,
    character: "limb",
    names: deliveryNames(base),
    steps: [make],
    blobs: { [HASH]: "AAAA" },
  };
  it("reads as it was written", () => expect(readLedgerFile(JSON.stringify(file), "l.json")).toEqual(file));
  it.each<[string, string, RegExp]>([
    ["no JSON", "{", /not JSON/],
    ["another format", JSON.stringify({ ...file, format: "x" }), /format/],
    ["a step that is none", JSON.stringify({ ...file, steps: [{ op: "fly" }] }), /steps\.0/],
    ["geometry under no hash", JSON.stringify({ ...file, blobs: { x: "AAAA" } }), /blobs/],
  ])("is refused with its place: %s", (_what, text, pattern) =>
    expect(() => readLedgerFile(text, "l.json")).toThrow(pattern),
  );
});
