import { NO_FITTING } from "../model/fitting";
import { createHash } from "node:crypto";
import { boxPart, rigidSkin, shapeOf, tube } from "../../tests/helpers/characters";
import { encodeAdded } from "../intake/addThings";
import { CLOSEST_TERMS } from "../formats/vrm/vrmTerms";
import { assertCharacter } from "../model/assertCharacter";
import type { Character } from "../model/character";
import { renameJoints } from "../skeleton/renameJoints";
import { encodePaint } from "../weights/keptPaint";
import { beginPaint, dabPaint } from "../weights/paintWeights";
import { applySteps } from "./applyStep";
import { encodeDeltas } from "./deltasBlob";
import { deliveryNames } from "../intake/relinkNames";
import { aimedStep, missingIn, replay } from "./replay";
import { stepSchema, type Step } from "./steps";

/**
 * Every operation that a ledger may hold, replayed on the same delivery, on one whose joints are called otherwise, and
 * on one of another net.
 */
const blobs = new Map<string, Uint8Array>();
const kept = (bytes: Uint8Array): string => {
  const hash = createHash("sha256").update(bytes).digest("hex");
  blobs.set(hash, bytes);
  return hash;
};
const make = (rings: number, sides: number): Character => {
  const limb = tube({ rings, sides });
  const hat = { ...boxPart("hat", [0.06, 0.03, 0.06], [0, 0.62, 0], "garment"), skin: rigidSkin(8, 1) };
  const [low, high] = [sides * Math.round(rings * 0.3), sides * Math.round(rings * 0.7)];
  return {
    ...limb,
    name: "limb",
    parts: [limb.parts[0]!, hat],
    shapes: [
      shapeOf("wide_left", { [low]: [0.01, 0, 0], [low + 1]: [0.01, 0, 0] }),
      shapeOf("bulge", { [high]: [0, 0, 0.01], [high + 1]: [0, 0, 0.01] }),
      shapeOf("flat", { [low]: [0, 0.001, 0] }),
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
      { shape: "flat", of: ["wide_left"], rule: "in-between", span: { from: 0, peak: 0.5, to: 1 }, enabled: true },
    ],
    mixes: [{ name: "happy", shares: [{ shape: "wide_left", weight: 0.5 }] }],
    clips: [
      {
        name: "nod",
        tracks: [
          {
            joint: "lower",
            path: "rotation",
            interpolation: "LINEAR",
            times: Float32Array.of(0, 1),
            values: Float32Array.of(0, 0, 0, 1, 0.38, 0, 0, 0.92),
          },
        ],
      },
    ],
  };
};
const base = make(33, 24);
const round = (rings: number): number[] => Array.from({ length: 24 }, (_, s) => 24 * rings + s);
const belt = encodeDeltas(
  base,
  shapeOf("x", Object.fromEntries([15, 16, 17].flatMap(round).map((v) => [v, [0.004, 0, 0]]))).deltas,
);
const painted = (): Uint8Array => {
  const paint = beginPaint(base, "limb");
  dabPaint(paint, 1, "add", 1, new Map(round(14).map((v) => [v, 1])), false, new Map());
  return encodePaint(base, paint)!;
};
const cap = encodeAdded({
  part: { ...boxPart("cap", [0.05, 0.02, 0.05], [0, 0.66, 0], "garment"), skin: rigidSkin(8, 1) },
  materials: [base.materials[0]!],
  joints: ["upper", "lower"],
  moves: [{ shape: "bulge", vertices: Uint32Array.of(0), deltas: Float32Array.of(0, 0, 0.01) }],
  skinned: true,
} as never);
const shake = encodeAdded({ ...base.clips[0]!, name: "shake" });
const driver = {
  shape: "fold",
  joint: "lower",
  axis: [1, 0, 0] as [number, number, number],
  fromDegrees: 0,
  toDegrees: 80,
  easing: "linear" as const,
  intensity: 1,
  enabled: true,
};

const HUMP = [
  { degrees: 0, weight: 0 },
  { degrees: 60, weight: 1 },
  { degrees: 120, weight: 0.25 },
];

/** One step of each operation; a new operation without one does not compile. */
const STEPS: { readonly [Op in Step["op"]]: Extract<Step, { op: Op }> } = {
  "fit clip": { op: "fit clip", clip: "nod", fitting: { ...NO_FITTING, chin: 5 } },
  "map joint": { op: "map joint", joint: "lower", bone: "leftLowerArm" },
  "map joints": { op: "map joints", map: { upper: "leftUpperArm", lower: "leftLowerArm" } },
  "make correctives": {
    op: "make correctives",
    items: [{ name: "fold", label: "fold", blob: kept(belt), driver }],
    sampled: [
      {
        set: {
          name: "whole swing",
          joints: [{ joint: "lower", along: [0, 1, 0] }],
          samples: [{ name: "forward", shape: "swung", turns: [[0.6, 0, 0, 0.8]] }],
          kernel: "gaussian",
          radiusDegrees: 60,
          twistShare: 0.5,
          group: "corrective",
          enabled: true,
        },
        shapes: [{ name: "swung", label: "swung", blob: kept(belt) }],
      },
    ],
  },
  "edit corrective": {
    op: "edit corrective",
    name: "bulge",
    blob: kept(belt),
    edits: [{ name: "wide_left", blob: kept(belt) }],
  },
  "set driver": {
    op: "set driver",
    name: "bulge",
    driver: { joint: "lower", toDegrees: 70 },
    edits: [{ name: "wide_left", blob: kept(belt) }],
  },
  "remove corrective": { op: "remove corrective", name: "bulge" },
  "add shapes": { op: "add shapes", source: "files", items: [{ name: "new", label: "new", blob: kept(belt) }] },
  "derive shapes": {
    op: "derive shapes",
    items: [{ name: "double", label: "double", from: { way: "mix", of: [{ shape: "wide_left", weight: 2 }] } }],
  },
  "edit shapes": { op: "edit shapes", items: [{ name: "wide_left", blob: kept(belt) }] },
  "set shape driver": { op: "set shape driver", name: "flat", driver: { enabled: false } },
  "set mix": { op: "set mix", mixes: [{ name: "sad", shares: [{ shape: "bulge", weight: 0.2 }] }] },
  "remove mix": { op: "remove mix", name: "happy" },
  bake: { op: "bake", weights: { wide_left: 1 }, keep: true },
  "new face": {
    op: "new face",
    source: "a scan",
    base: kept(belt),
    jointOffsets: [{ joint: "lower", offset: [0, 0.001, 0] }],
    shapes: [{ name: "wide_left", blob: kept(belt) }],
  },
  "choose shapes": {
    op: "choose shapes",
    choice: { rules: [{ keep: false, by: "word", text: "wide" }], favourites: [] },
  },
  "follow skin": { op: "follow skin", follow: { part: "hat", reachMm: 60, keep: true } },
  "stop following": { op: "stop following", part: "hat" },
  "add twist joints": {
    op: "add twist joints",
    limbs: [{ joint: "upper", end: "lower", steps: 2 }],
    edits: [{ name: "bulge", blob: kept(belt) }],
  },
  "remove shapes": { op: "remove shapes", names: ["wide_left"] },
  mend: { op: "mend", check: "mesh.loose", part: "limb", joint: null, shape: null, clip: null, limit: 0 },
  "mend all": {
    op: "mend all",
    check: "mesh.loose",
    places: [{ part: "limb", joint: null, shape: null, clip: null, limit: 0 }],
  },
  "remove clips": { op: "remove clips", names: ["nod"] },
  "drive shapes": {
    op: "drive shapes",
    items: [
      {
        name: "wide_left",
        driver: {
          joint: "lower",
          axis: [1, 0, 0],
          fromDegrees: 0,
          toDegrees: 60,
          easing: "linear",
          intensity: 1,
          enabled: true,
        },
        rule: null,
      },
    ],
  },
  "drive by pose": {
    op: "drive by pose",
    controls: ["effort"],
    items: [
      {
        name: "wide_left",
        driver: {
          terms: [
            { kind: "angle", joint: "lower", axis: [1, 0, 0], points: HUMP, between: "smooth" },
            {
              kind: "direction",
              joint: "upper",
              along: [0, 1, 0],
              towards: [0, 0, 1],
              fullDegrees: 10,
              noneDegrees: 100,
            },
            { kind: "weight", shape: "effort", atNone: 0.5 },
          ],
          rule: "product",
          group: "muscle",
          intensity: 1,
          enabled: true,
        },
      },
    ],
  },
  "sample poses": {
    op: "sample poses",
    set: {
      name: "swing",
      joints: [{ joint: "lower", along: [0, 1, 0] }],
      samples: [
        { name: "forward", shape: "fold", turns: [[0.6, 0, 0, 0.8]] },
        { name: "aside", shape: "wide_left", turns: [[0, 0, 0.6, 0.8]] },
      ],
      kernel: "gaussian",
      radiusDegrees: 60,
      twistShare: 0,
      group: "corrective",
      enabled: true,
    },
    shapes: [{ name: "fold", label: "fold", blob: kept(belt) }],
  },
  "remove samples": { op: "remove samples", name: "swing" },
  "vrm terms": {
    op: "vrm terms",
    terms: { ...CLOSEST_TERMS, authors: ["the made-up studio"], avatarPermission: "everyone" },
  },
  "reopen finding": { op: "reopen finding", check: "mesh.loose", part: "limb", joint: null, shape: null, clip: null },
  rename: { op: "rename", kind: "shapes", names: [{ from: "wide_left", to: "broad" }] },
  "bind in pose": { op: "bind in pose", pose: { lower: [20, 0, 0] } },
  "retarget pose": { op: "retarget pose", turns: { lower: [0.1, 0, 0, 0.995] } },
  "add parts": { op: "add parts", source: "cap.glb", items: [{ name: "cap", blob: kept(cap) }] },
  "add joints": {
    op: "add joints",
    source: "hand.glb",
    joints: [{ name: "hand", parent: "lower", rest: [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0.6, 0, 1] }],
  },
  "add clips": { op: "add clips", source: "shake.bvh", items: [{ name: "shake", blob: kept(shake) }] },
  repair: { op: "repair", repair: { what: "triangulate", part: "limb" } },
  "part kind": { op: "part kind", part: "hat", kind: "hair" },
  "set materials": { op: "set materials", settings: [{ material: "default", opacity: "mask", alphaCutoff: 0.3 }] },
  "drop map": { op: "drop map", material: "default", slot: "normal" },
  "take textures": {
    op: "take textures",
    items: [
      {
        material: "default",
        slot: "base colour",
        name: "skin_color",
        mimeType: "image/png",
        blob: kept(Uint8Array.of(1, 2)),
      },
    ],
    settings: [{ material: "default", baseColor: [1, 1, 1] }],
  },
  "change weights": {
    op: "change weights",
    part: "limb",
    change: {
      ...(
        stepSchema.parse({ op: "change weights", part: "limb", change: { tool: "smooth" } }) as Extract<
          Step,
          { op: "change weights" }
        >
      ).change,
    },
  },
  "paint weights": { op: "paint weights", part: "limb", joints: ["lower"], blob: kept(painted()) },
  "accept finding": {
    op: "accept finding",
    check: "mesh.loose",
    part: "limb",
    joint: null,
    shape: null,
    clip: null,
    reason: "meant",
  },
};
/** Steps that must stand before one can be made. */
const BEFORE: Partial<Record<Step["op"], Step[]>> = {
  "stop following": [STEPS["follow skin"]],
  "remove samples": [STEPS["sample poses"]],
};
const source = (hash: string): Uint8Array | undefined => blobs.get(hash);
const from = deliveryNames(base);
const run = (on: Character, op: Step["op"]) => replay(on, from, [...(BEFORE[op] ?? []), STEPS[op]], source);
/** Repairs that this limb does not need. */
const needless = (op: Step["op"]): boolean => op === "mend" || op === "mend all";
const OPS = Object.keys(STEPS) as Step["op"][];

it.each(OPS)("the operation %s is one the ledger takes", (op) =>
  expect(stepSchema.parse(STEPS[op])).toEqual(STEPS[op]),
);

describe("on the same delivery", () => {
  it.each(OPS)("%s makes what it made", async (op) => {
    const { character, steps } = await run(base, op);
    assertCharacter(character);
    // a repair is not needed where the fault is not
    expect(steps.at(-1)).toMatchObject({
      outcome: needless(op) ? "not needed" : "applied",
      note:
        op === "mend"
          ? "This delivery does not have the fault."
          : needless(op)
            ? "This delivery has none of these faults."
            : "",
    });
    if (!needless(op)) expect(character).toEqual(applySteps(base, [...(BEFORE[op] ?? []), STEPS[op]], source));
  });
});

describe("on a delivery whose joints are called otherwise", () => {
  const prefixed = renameJoints(
    base,
    new Map([
      ["upper", "rig:Upper_jnt"],
      ["lower", "rig:Lower_jnt"],
    ]),
  );
  const other = renameJoints(
    base,
    new Map([
      ["upper", "quay:upper"],
      ["lower", "quay:lower"],
    ]),
  );
  it.each(OPS)("%s is applied, what it brings bound to the joints that are there", async (op) => {
    const { character, steps } = await run(other, op);
    assertCharacter(character);
    expect(steps.at(-1)!.outcome).toBe(needless(op) ? "not needed" : "applied");
    if (op === "add parts") expect(character.parts.at(-1)!.skin).not.toBeNull();
    if (op === "add clips") expect(character.clips.at(-1)!.tracks[0]!.joint).toBe("quay:lower");
    if (op === "paint weights") expect(character.parts[0]!.skin!.weights).not.toEqual(other.parts[0]!.skin!.weights);
  });
  it("a joint that nothing tells of is asked for by name", async () => {
    const { steps } = await run(prefixed, "paint weights");
    expect(["applied", "waits"]).toContain(steps[0]!.outcome);
    if (steps[0]!.outcome === "waits") expect(steps[0]!.note).toMatch(/no joint named/);
  });
});

describe("on a delivery of another net", () => {
  const finer = make(65, 48);
  it.each(OPS)("%s is applied, or says in words why it waits", async (op) => {
    const { character, steps } = await run(finer, op);
    assertCharacter(character);
    const last = steps.at(-1)!;
    if (last.outcome === "waits") expect(last.note).toMatch(/^\S.*\.$/);
    expect(last.note).not.toMatch(/undefined|Cannot read/);
    // painted weights belong to the vertices they were painted on; all else is carried over
    expect(last.outcome).toBe(op === "paint weights" ? "waits" : needless(op) ? "not needed" : "applied");
  });
});

describe("a step that waits", () => {
  it.each(OPS)("%s names what is missing, and nothing of what is here", (op) =>
    expect(missingIn(STEPS[op], base).filter((m) => !["fold", "hand", "effort"].includes(m.name))).toEqual([]),
  );
  it("is aimed at what is meant, and then applies", async () => {
    const bare = {
      ...base,
      parts: [{ ...base.parts[0]!, name: "leg" }, base.parts[1]!],
      skeleton: { ...base.skeleton!, joints: base.skeleton!.joints.map((j, i) => ({ ...j, name: `q${i}` })) },
    };
    const step = STEPS["paint weights"];
    expect(missingIn(step, bare)).toEqual([
      { kind: "part", name: "limb" },
      { kind: "joint", name: "lower" },
    ]);
    const aimed = aimedStep(step, { "part limb": "leg", "joint lower": "q1" });
    expect(aimed).toMatchObject({ part: "leg", joints: ["q1"] });
    expect(missingIn(aimed, bare)).toEqual([]);
    const kind = aimedStep(STEPS["part kind"], { "part hat": "leg" });
    expect((await replay(bare, deliveryNames(bare), [kind], source)).steps[0]!.outcome).toBe("applied");
  });
});

describe("a repair whose place is gone", () => {
  it("says so, which is something else than that the fault is not there", async () => {
    const { steps } = await replay(
      { ...base, parts: [base.parts[1]!], shapes: [], drivers: [], shapeDrivers: [], mixes: [] },
      { ...from, parts: from.parts },
      [{ ...STEPS.mend, part: "scarf" }],
      source,
    );
    expect(steps[0]).toMatchObject({ outcome: "waits", note: "This delivery has no part named scarf." });
  });
});
