import {
  boxPart,
  characterWith,
  figureSkeleton,
  partOf,
  randomCharacter,
  randomPose,
  rigidSkin,
  shapeOf,
  tube,
} from "../../../tests/helpers/characters";
import { randomFrom } from "../../math/random";
import { deform, makeRig } from "../../deform/rig";
import { REST_MOMENT } from "../../evaluate/moment";
import { worldMatrices } from "../../evaluate/poseSkeleton";
import { translationOf } from "../../math/mat4";
import {
  DEFAULT_MATERIAL,
  faceCountOf,
  triangleCountOf,
  vertexCountOf,
  type Character,
  type ClipTrack,
} from "../../model/character";
import { humanoidMap } from "../../skeleton/humanoidMap";
import { applyRepair, describeRepair, repairChanges, repairSchema, type Repair } from "./repairs";

describe("weld", () => {
  /** Two quads side by side whose common edge is doubled. */
  const apart = partOf(
    "cloth",
    [
      [0, 0, 0],
      [1, 0, 0],
      [1, 1, 0],
      [0, 1, 0],
      [1, 0, 0],
      [2, 0, 0],
      [2, 1, 0],
      [1, 1, 0.00005],
    ],
    [
      [0, 1, 2, 3],
      [4, 5, 6, 7],
    ],
  );
  const weld = (c: Character, withinMm = 0.1): Character => applyRepair(c, { what: "weld", part: "cloth", withinMm });
  it("makes one vertex of those at one place", () => {
    const {
      parts: [part],
    } = weld(characterWith({ parts: [apart] }));
    expect(vertexCountOf(part!)).toBe(6);
    expect([...part!.corners]).toEqual([0, 1, 2, 3, 1, 4, 5, 2]);
  });
  it("leaves what is farther away", () =>
    expect(vertexCountOf(weld(characterWith({ parts: [apart] }), 0.01).parts[0]!)).toBe(7));
  it("keeps seams of texture and colour, and what a shape parts", () => {
    const uvs = Float32Array.from([0, 0, 1, 0, 1, 1, 0, 1, 0, 0, 1, 0, 1, 1, 0, 1]);
    expect(vertexCountOf(weld(characterWith({ parts: [{ ...apart, uvs }] })).parts[0]!)).toBe(8);
    expect(
      vertexCountOf(
        weld(characterWith({ parts: [apart], shapes: [shapeOf("open", { 2: [0, 0.01, 0], 7: [0, -0.01, 0] })] }))
          .parts[0]!,
      ),
    ).toBe(7);
  });
  it("carries shapes along and drops faces that vanish", () => {
    const c = characterWith({
      parts: [
        partOf(
          "cloth",
          [
            [0, 0, 0],
            [1, 0, 0],
            [0, 1, 0],
            [0, 0, 0.00001],
          ],
          [
            [0, 1, 2],
            [0, 3, 1],
          ],
        ),
      ],
      shapes: [shapeOf("s", { 1: [0, 0, 0.1] })],
    });
    const {
      parts: [part],
      shapes,
    } = weld(c);
    expect(faceCountOf(part!)).toBe(1);
    expect([...shapes[0]!.deltas[0]!.vertices]).toEqual([1]);
  });
});

describe("triangles only", () => {
  it("cuts every polygon as it is drawn, on the same vertices", () => {
    const box = boxPart();
    const {
      parts: [part],
    } = applyRepair(characterWith({ parts: [box] }), { what: "triangulate", part: "box" });
    expect([faceCountOf(part!), triangleCountOf(part!), vertexCountOf(part!)]).toEqual([12, 12, 8]);
  });
});

describe("scale and turn", () => {
  const start = randomCharacter(randomFrom(5), { joints: 6, vertices: 60 });
  const root = start.skeleton!.joints[0]!.name;
  const track = (path: "translation" | "rotation", values: number[]): ClipTrack => ({
    joint: root,
    path,
    interpolation: "LINEAR",
    times: Float32Array.from([0]),
    values: Float32Array.from(values),
  });
  const character: Character = {
    ...start,
    clips: [
      {
        name: "c",
        tracks: [track("translation", [0.1, 0.2, 0.3]), track("rotation", [0, Math.SQRT1_2, 0, Math.SQRT1_2])],
      },
    ],
  };
  // what is up along +Z and faces -Y comes from the axes of another program: y' = z, z' = -y, x' = x
  const repair: Repair = { what: "stand", factor: 0.01, up: "+Z", front: "-Y" };
  const after = applyRepair(character, repair);
  it("is in every pose the same figure, turned and scaled", () => {
    for (let i = 0; i < 4; i++) {
      const pose = { ...randomPose(randomFrom(10 + i), character), [root]: [0, 0, 0] as const };
      const weights = { "shape 0": 0.7, "shape 1": 0.4 };
      const P = deform(makeRig(character), { ...REST_MOMENT, pose, weights }).positions[0]!;
      const Q = deform(makeRig(after), { ...REST_MOMENT, pose, weights }).positions[0]!;
      for (let v = 0; v < P.length; v += 3) {
        expect(Q[v]).toBeCloseTo(0.01 * P[v]!, 6);
        expect(Q[v + 1]).toBeCloseTo(0.01 * P[v + 2]!, 6);
        expect(Q[v + 2]).toBeCloseTo(-0.01 * P[v + 1]!, 6);
      }
    }
  });
  it("moves the root's keys with it", () => {
    expect([...after.clips[0]!.tracks[0]!.values].map((x) => Number(x.toFixed(6)))).toEqual([0.001, 0.003, -0.002]);
  });
  it("is undone by the way back", () => {
    const back = applyRepair(after, { what: "stand", factor: 100, up: "-Z", front: "+Y" });
    back.parts[0]!.positions.forEach((x, i) => expect(x).toBeCloseTo(character.parts[0]!.positions[i]!, 5));
  });
  it("refuses up and front on one line", () =>
    expect(() => applyRepair(character, { what: "stand", factor: 1, up: "+Y", front: "-Y" })).toThrow(
      /cannot both lie along Y/,
    ));
});

describe("on the ground", () => {
  it("stands with the lowest point at zero, posed the same", () => {
    const c = randomCharacter(randomFrom(8), { joints: 5, vertices: 30 });
    const after = applyRepair(c, { what: "ground" });
    const [P, Q] = [c, after].map(
      (x) => deform(makeRig(x), { ...REST_MOMENT, pose: { "joint 1": [20, 40, 0] } }).positions[0]!,
    ) as [Float32Array, Float32Array];
    const low = Math.min(...Array.from(c.parts[0]!.positions).filter((_, i) => i % 3 === 1));
    expect(Math.min(...Array.from(after.parts[0]!.positions).filter((_, i) => i % 3 === 1))).toBeCloseTo(0, 6);
    P.forEach((x, i) => expect(Q[i]!).toBeCloseTo(i % 3 === 1 ? x - low : x, 5));
  });
});

describe("materials", () => {
  it("gives each kind of part its own and joins those that look alike", () => {
    const skin = { ...DEFAULT_MATERIAL, name: "skin" };
    const c = characterWith({
      materials: [skin, { ...skin, name: "skin copy" }, { ...skin, name: "unused" }],
      parts: [
        boxPart("body"),
        { ...boxPart("arm"), groups: [{ material: 1, faceStart: 0, faceCount: 6 }] },
        boxPart("hair", undefined, undefined, "hair"),
      ],
    });
    const after = applyRepair(c, { what: "materials" });
    expect(after.materials.map((m) => m.name)).toEqual(["skin", "skin hair"]);
    expect(after.parts.map((p) => p.groups[0]!.material)).toEqual([0, 0, 1]);
  });
});

describe("seat", () => {
  it("moves, turns and scales a part about its middle, shapes with it", () => {
    const c = characterWith({
      parts: [boxPart("cap", [0.1, 0.1, 0.1], [0, 1, 0], "hair")],
      shapes: [shapeOf("s", { 0: [0.01, 0, 0] })],
    });
    const after = applyRepair(c, { what: "seat", part: "cap", moveMm: [10, 0, 0], turn: [0, 90, 0], scale: 2 });
    const P = after.parts[0]!.positions;
    // corner -x -y -z: turned by 90 degrees about y it lies at -x -y +z, twice as far out
    expect([P[0], P[1], P[2]].map((x) => Number(x!.toFixed(5)))).toEqual([-0.19, 0.8, 0.2]);
    expect([...after.shapes[0]!.deltas[0]!.deltas].map((x) => Number(x.toFixed(5)) + 0)).toEqual([0, 0, -0.02]);
  });
});

describe("covered skin", () => {
  it("goes where a garment lies over it, one ring inside the border", () => {
    const limb = tube();
    const shell = tube({ radius: 0.055 }).parts[0]!;
    // a sleeve over the middle third
    const sleeveFaces = Array.from({ length: faceCountOf(shell) }, (_, f) =>
      Array.from(shell.corners.subarray(shell.faceStarts[f]!, shell.faceStarts[f + 1]!)),
    ).filter((f) => f.every((v) => shell.positions[3 * v + 1]! > 0.2 && shell.positions[3 * v + 1]! < 0.4));
    const sleeve = {
      ...partOf(
        "sleeve",
        Array.from(
          { length: vertexCountOf(shell) },
          (_, v) => [shell.positions[3 * v]!, shell.positions[3 * v + 1]!, shell.positions[3 * v + 2]!] as const,
        ),
        sleeveFaces,
      ),
      kind: "garment" as const,
    };
    const c = { ...limb, parts: [...limb.parts, sleeve] };
    const after = applyRepair(c, { what: "cut covered", part: "sleeve", coverMm: 3 });
    const gone = faceCountOf(c.parts[0]!) - faceCountOf(after.parts[0]!);
    expect(gone).toBeGreaterThan(5 * 24);
    expect(gone).toBeLessThan(sleeveFaces.length);
    expect(() => applyRepair(c, { what: "cut covered", part: "sleeve", coverMm: 30 })).toThrow(
      /covers no skin by 30.0 mm/,
    );
  });
});

describe("added joints", () => {
  /** A ball with many points, round enough for an eyeball. */
  const ball = (name: string, x: number): Character["parts"][number] => {
    const points = Array.from({ length: 60 }, (_, i) => {
      const [u, w] = [Math.acos(1 - (2 * (i + 0.5)) / 60), Math.PI * (1 + Math.sqrt(5)) * i];
      return [
        x + 0.012 * Math.sin(u) * Math.cos(w),
        1.6 + 0.012 * Math.cos(u),
        0.07 + 0.012 * Math.sin(u) * Math.sin(w),
      ] as const;
    });
    return {
      ...partOf(
        name,
        points,
        Array.from({ length: 20 }, (_, f) => [3 * f, 3 * f + 1, 3 * f + 2]),
      ),
      kind: "eye",
    };
  };
  const skeleton = figureSkeleton();
  const teeth = { ...boxPart("lower teeth", [0.02, 0.005, 0.01], [0, 1.53, 0.08], "teeth"), skin: rigidSkin(8, 5) };
  const c = characterWith({ skeleton, parts: [ball("eye l", 0.031), ball("eye r", -0.031), teeth] });
  it("stand in the eyeball's centre under the head, with the eye bound to them", () => {
    const after = applyRepair(c, { what: "add joint", bone: "leftEye" });
    const j = humanoidMap(after.skeleton!, after.jointMap).jointOfBone.get("leftEye")!;
    expect(after.skeleton!.joints[after.skeleton!.joints[j]!.parent]!.name).toBe("head");
    const at = translationOf(worldMatrices(after.skeleton!, {}), 16 * j);
    expect(Math.hypot(at[0] - 0.031, at[1] - 1.6, at[2] - 0.07)).toBeLessThan(1e-4);
    expect(after.parts[0]!.skin!.joints[0]).toBe(j);
    expect(deform(makeRig(after), REST_MOMENT).positions[0]![0]).toBeCloseTo(c.parts[0]!.positions[0]!, 6);
  });
  it("put the jaw behind and below the eyes, with the lower teeth on it", () => {
    const after = applyRepair(c, { what: "add joint", bone: "jaw" });
    const j = after.skeleton!.joints.findIndex((x) => x.name === "jaw");
    const at = translationOf(worldMatrices(after.skeleton!, {}), 16 * j);
    expect(at[1]).toBeLessThan(1.6);
    expect(at[2]).toBeLessThan(0.03);
    expect(after.parts[2]!.skin!.joints[0]).toBe(j);
  });
  it("are refused where the bone has one, or no eyeball tells the place", () => {
    expect(() =>
      applyRepair(applyRepair(c, { what: "add joint", bone: "jaw" }), { what: "add joint", bone: "jaw" }),
    ).toThrow(/is the jaw already/);
    expect(() => applyRepair({ ...c, parts: [teeth] }, { what: "add joint", bone: "rightEye" })).toThrow(
      /eyeballs are not there/,
    );
  });
});

describe("every repair", () => {
  const all: Repair[] = [
    { what: "weld", part: "limb", withinMm: 0.1 },
    { what: "triangulate", part: "limb" },
    { what: "stand", factor: 2, up: "+Y", front: "+Z" },
    { what: "materials" },
    { what: "reduce", triangles: 400 },
    { what: "seat", part: "limb", moveMm: [1, 0, 0], turn: [0, 0, 0], scale: 1 },
  ];
  it.each(all.map((r) => [r.what, r] as const))(
    "%s is a step with a sentence, and tells what it changes",
    (_what, repair) => {
      expect(repairSchema.parse(JSON.parse(JSON.stringify(repair)))).toEqual(repair);
      expect(describeRepair(repair).length).toBeGreaterThan(12);
      const c = tube();
      const changes = repairChanges(c, applyRepair(c, repair));
      if (repair.what === "stand")
        expect(changes).toEqual([
          {
            of: "stature, m",
            before: expect.closeTo(0.6, 3) as number,
            after: expect.closeTo(1.2, 3) as number,
            digits: 3,
          },
        ]);
      if (repair.what === "triangulate") expect(changes.map((x) => x.of)).toEqual(["faces"]);
      if (repair.what === "reduce") expect(changes.find((x) => x.of === "triangles")!.after).toBeLessThanOrEqual(400);
    },
  );
  it("of a part that is not there is refused", () =>
    expect(() => applyRepair(tube(), { what: "weld", part: "tail", withinMm: 1 })).toThrow(/no part named tail/));
});
