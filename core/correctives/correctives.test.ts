import {
  characterWith,
  figureSkeleton,
  partOf,
  randomCharacter,
  randomPose,
  shapeOf,
  skeletonOf,
  tube,
} from "../../tests/helpers/characters";
import { between, randomFrom } from "../../tests/helpers/random";
import { deform, makeRig, withShapes } from "../deform/rig";
import { REST_MOMENT, type Moment } from "../evaluate/moment";
import { makeJointGauge, measureJoint, withRig } from "../measure/measureJoint";
import { NO_JOINT, type Character, type Driver, type ShapeDelta } from "../model/character";
import { neighboursOf } from "../model/neighbours";
import { areaMask, brushDab, type BrushDab } from "./brush";
import { correctiveFromSculpt, withTrialShape } from "./correctiveFromSculpt";
import { inverseSkin } from "./inverseSkin";
import { mirrorCorrective, mirrorDriver } from "./mirrorCorrective";
import { mirrorDeltas, mirrorName } from "../shapes/mirrorDeltas";
import { proposeSculpt, sculptMoment } from "./proposeSculpt";
import { dabSketch, deformSketch, revertStroke, sketchDeltas, startSketch, type StrokeRecord } from "./sketch";

/** A limb along x: two joints, blended in the middle, symmetric partner on the other side. */
function arms(): Character {
  const points: [number, number, number][] = [];
  const faces: number[][] = [];
  const sides = 12;
  for (const s of [1, -1]) {
    const start = points.length;
    for (let r = 0; r < 15; r++)
      for (let k = 0; k < sides; k++)
        points.push([
          s * (0.2 + 0.03 * r),
          1 + 0.04 * Math.cos((2 * Math.PI * k) / sides),
          0.04 * Math.sin((2 * Math.PI * k) / sides),
        ]);
    for (let r = 0; r < 14; r++)
      for (let k = 0; k < sides; k++) {
        const q = [
          start + r * sides + k,
          start + (r + 1) * sides + k,
          start + (r + 1) * sides + ((k + 1) % sides),
          start + r * sides + ((k + 1) % sides),
        ];
        faces.push(s > 0 ? q.reverse() : q);
      }
  }
  const skeleton = skeletonOf([
    { name: "hips", parent: NO_JOINT, translation: [0, 1, 0] },
    { name: "leftUpperArm", parent: 0, translation: [0.2, 0, 0] },
    { name: "leftLowerArm", parent: 1, translation: [0.21, 0, 0] },
    { name: "rightUpperArm", parent: 0, translation: [-0.2, 0, 0] },
    { name: "rightLowerArm", parent: 3, translation: [-0.21, 0, 0] },
  ]);
  const joints = new Uint16Array(2 * points.length);
  const weights = new Float32Array(2 * points.length);
  points.forEach(([x], v) => {
    const t = Math.min(1, Math.max(0, (Math.abs(x) - 0.33) / 0.16));
    joints.set(x > 0 ? [1, 2] : [3, 4], 2 * v);
    weights.set([1 - t, t], 2 * v);
  });
  return characterWith({
    name: "arms",
    parts: [partOf("body", points, faces, { skin: { influenceCount: 2, joints, weights, inverseBinds: null } })],
    skeleton,
  });
}
const bent: Moment = { ...REST_MOMENT, pose: { leftLowerArm: [0, -80, 0] } };
const driver: Driver = {
  shape: "left elbow",
  joint: "leftLowerArm",
  axis: [0, -1, 0],
  fromDegrees: 20,
  toDegrees: 80,
  easing: "linear",
  intensity: 1,
  enabled: true,
};

describe("returning movement to rest", () => {
  it.each(["linear", "dual"] as const)("undoes each vertex's own skinning (%s)", (method) => {
    const random = randomFrom(17);
    const character = randomCharacter(random, { vertices: 300, influences: 3 });
    const moment: Moment = { ...REST_MOMENT, method, pose: randomPose(random, character, 40) };
    const rig = makeRig(character);
    const posed = deform(rig, moment);
    const target = posed.positions[0]!.map((x) => x + between(random, -0.02, 0.02));
    const made = correctiveFromSculpt(rig, moment, [target]);
    expect(made.ill).toEqual([]);
    expect(made.residual.max).toBeLessThan(1e-3);
    expect(made.deltas[0]!.vertices.length).toBe(300);
  });
  it("passes deltas of unbound parts through", () => {
    const deltas = Float32Array.from([1, 2, 3]);
    expect([...inverseSkin(deltas, null, null, "linear").deltas]).toEqual([1, 2, 3]);
  });
  it("damps and lists a vertex that its skinning squashes flat, and never makes it large", () => {
    // half and half of a joint and the same joint turned by 180 degrees: the blended matrix has rank 1
    const character = characterWith({
      parts: [
        partOf(
          "p",
          [
            [0.1, 0, 0],
            [0.1, 0.1, 0],
            [0.1, 0, 0.1],
          ],
          [[0, 1, 2]],
          {
            skin: {
              influenceCount: 2,
              joints: Uint16Array.of(0, 1, 0, 1, 0, 0),
              weights: Float32Array.of(0.5, 0.5, 0.5, 0.5, 1, 0),
              inverseBinds: null,
            },
          },
        ),
      ],
      skeleton: skeletonOf([
        { name: "a", parent: NO_JOINT },
        { name: "b", parent: 0 },
      ]),
    });
    const moment: Moment = { ...REST_MOMENT, pose: { b: [180, 0, 0] } };
    const rig = makeRig(character);
    const posed = deform(rig, moment).positions[0]!;
    const made = correctiveFromSculpt(rig, moment, [posed.map((x) => x + 0.01)]);
    expect([...made.ill[0]!.vertices]).toEqual([0, 1]);
    for (let v = 0; v < 2; v++) {
      const d = made.deltas[0]!.deltas.subarray(3 * v, 3 * v + 3);
      expect(d[0]).toBeCloseTo(0.01, 3); // along the axis nothing is lost
      expect(Math.hypot(d[1]!, d[2]!)).toBeLessThan(0.02);
    }
    expect(made.residual.max).toBeGreaterThan(1); // and the residual says so
  });
  it("takes file rounding for nothing", () => {
    const character = arms();
    const rig = makeRig(character);
    const posed = deform(rig, bent).positions[0]!;
    expect(correctiveFromSculpt(rig, bent, [posed.map((x) => x + 1e-6)]).deltas).toEqual([]);
    expect(correctiveFromSculpt(rig, bent, [null]).deltas).toEqual([]);
  });
  it("does not bake the pose: at rest the corrective is small where the sculpt was small", () => {
    const character = arms();
    const rig = makeRig(character);
    const posed = deform(rig, bent).positions[0]!;
    const target = posed.slice();
    target[3 * 90] = target[3 * 90]! + 0.005;
    const [delta] = correctiveFromSculpt(rig, bent, [target]).deltas;
    expect([...delta!.vertices]).toEqual([90]);
    expect(Math.hypot(...delta!.deltas)).toBeLessThan(0.02);
  });
});

describe("brushes", () => {
  const part = tube({ rings: 21, sides: 32 }).parts[0]!;
  const rig = makeRig(characterWith({ parts: [part] }));
  const { positions, normals } = deform(rig, REST_MOMENT);
  const neighbours = neighboursOf(part);
  const everywhere = new Float32Array(part.positions.length / 3).fill(1);
  const centre = [0.05, 0.3, 0] as const;
  const dab = (over: Partial<BrushDab>, mask = everywhere): ReturnType<typeof brushDab> =>
    brushDab(
      { tool: "inflate", centre, radius: 0.04, strength: 1, fallOff: "round", drag: [0, 0, 0], ...over },
      positions[0]!,
      normals[0]!,
      neighbours,
      mask,
    );
  it("touch only what lies within the radius", () => {
    for (const v of dab({}).vertices)
      expect(Math.hypot(...[0, 1, 2].map((k) => part.positions[3 * v + k]! - centre[k]!))).toBeLessThan(0.04);
  });
  it("pinch draws together along the surface, and apart with a negative strength", () => {
    for (const [strength, sign] of [
      [1, -1],
      [-1, 1],
    ] as const) {
      const { vertices, moves } = dab({ tool: "pinch", fallOff: "even", strength });
      vertices.forEach((v, k) => {
        const [d, n] = [[0, 1, 2].map((c) => moves[3 * k + c]!), [0, 1, 2].map((c) => normals[0]![3 * v + c]!)];
        expect(Math.abs(d.reduce((s, x, c) => s + x * n[c]!, 0))).toBeLessThan(1e-6);
        const from = [0, 1, 2].map((c) => positions[0]![3 * v + c]! - centre[c]!);
        if (Math.hypot(...from) > 0.01) expect(Math.sign(d.reduce((s, x, c) => s + x * from[c]!, 0))).toBe(sign);
      });
    }
  });
  it("relax moves nothing off the surface, where smooth does", () => {
    const off = (tool: "relax" | "smooth"): number => {
      const { vertices, moves } = dab({ tool, fallOff: "even" });
      let most = 0;
      vertices.forEach(
        (v, k) =>
          (most = Math.max(
            most,
            Math.abs([0, 1, 2].reduce((s, c) => s + moves[3 * k + c]! * normals[0]![3 * v + c]!, 0)),
          )),
      );
      return most;
    };
    expect(off("relax")).toBeLessThan(1e-7);
    expect(off("smooth")).toBeGreaterThan(1e-5);
  });
  it("inflate outward and deflate inward, most in the middle", () => {
    const out = dab({});
    out.vertices.forEach((v, k) =>
      expect(
        out.moves[3 * k]! * part.positions[3 * v]! + out.moves[3 * k + 2]! * part.positions[3 * v + 2]!,
      ).toBeGreaterThanOrEqual(0),
    );
    const sizes = Array.from(out.vertices, (_, k) => Math.hypot(...out.moves.subarray(3 * k, 3 * k + 3)));
    const nearest = Array.from(out.vertices).findIndex(
      (v) => Math.hypot(...[0, 1, 2].map((k) => part.positions[3 * v + k]! - centre[k]!)) < 1e-6,
    );
    expect(sizes[nearest]).toBe(Math.max(...sizes));
    const inward = dab({ strength: -1 });
    expect([...inward.moves].map((x) => -x + 0)).toEqual([...out.moves].map((x) => x + 0));
  });
  it("move along the drag, scaled by strength", () => {
    const { moves, vertices } = dab({ tool: "move", drag: [0, 0.01, 0], strength: 0.5 });
    expect(vertices.length).toBeGreaterThan(5);
    expect(Math.max(...moves)).toBeCloseTo(0.005, 6);
    expect(moves.every((x, i) => (i % 3 === 1 ? x >= 0 : x === 0))).toBe(true);
  });
  it("smooth a spike down and leave an even surface nearly still", () => {
    const spiked = positions[0]!.slice();
    const tip = 10 * 32;
    spiked[3 * tip] = 0.08;
    const { vertices, moves } = brushDab(
      {
        tool: "smooth",
        centre: [0.08, spiked[3 * tip + 1]!, 0],
        radius: 0.04,
        strength: 1,
        fallOff: "even",
        drag: [0, 0, 0],
      },
      spiked,
      normals[0]!,
      neighbours,
      everywhere,
    );
    const at = vertices.indexOf(tip);
    expect(moves[3 * at]).toBeLessThan(-0.02);
  });
  it("flatten toward the plane under the brush", () => {
    const before = dab({ tool: "flatten", strength: 0 });
    const { vertices, moves } = dab({ tool: "flatten", fallOff: "even" });
    expect(before.moves.every((x) => x === 0 || Object.is(x, -0))).toBe(true);
    const spread = (shift: Float32Array | null): number => {
      const xs = Array.from(vertices, (v, k) => part.positions[3 * v]! + (shift ? shift[3 * k]! : 0));
      return Math.max(...xs) - Math.min(...xs);
    };
    expect(spread(moves)).toBeLessThan(0.7 * spread(null));
  });
  it("stay out of what is masked", () => {
    const half = everywhere.map((_, v) => (part.positions[3 * v + 1]! > 0.3 ? 1 : 0));
    for (const v of dab({}, half).vertices) expect(part.positions[3 * v + 1]).toBeGreaterThan(0.3);
    const share = Float32Array.of(0, 0.5, 1);
    expect([...areaMask("anywhere", share)]).toEqual([1, 1, 1]);
    expect([...areaMask("bending zone", share)]).toEqual([0, 1, 0]);
    expect([...areaMask("above the joint", share)].map((x) => Math.round(x * 100) / 100)).toEqual([1, 0, 0]);
    expect(areaMask("below the joint", share)[0]).toBe(0);
  });
});

describe("a sketch in the pose", () => {
  const stroke = (
    symmetric: boolean,
  ): { sketch: ReturnType<typeof startSketch>; record: StrokeRecord; character: Character } => {
    const character = arms();
    const sketch = startSketch(makeRig(character), 0);
    const shown = deformSketch(sketch, bent);
    const v = 7 * 12;
    const centre = [0, 1, 2].map((k) => shown.positions[0]![3 * v + k]!) as [number, number, number];
    const record: StrokeRecord = new Map();
    dabSketch(
      sketch,
      bent,
      shown,
      { tool: "inflate", centre, radius: 0.06, strength: 1, fallOff: "round", drag: [0, 0, 0] },
      new Float32Array(shown.positions[0]!.length / 3).fill(1),
      symmetric,
      record,
    );
    return { sketch, record, character };
  };
  it("shows in the pose what the brush did", () => {
    const { sketch, character } = stroke(false);
    const before = deform(makeRig(character), bent).positions[0]!;
    const after = deformSketch(sketch, bent).positions[0]!;
    let moved = 0;
    after.forEach((x, i) => (moved = Math.max(moved, Math.abs(x - before[i]!))));
    expect(moved).toBeCloseTo(0.06 * 0.06, 4); // LIFT of the radius
  });
  it("gives both sides the same movement, whatever pose each is in", () => {
    const { sketch } = stroke(true);
    const left = sketchDeltas(sketch, "left");
    const right = sketchDeltas(sketch, "right");
    expect(left.vertices.length).toBe(right.vertices.length);
    const of = (d: typeof left, v: number): number[] => [
      ...d.deltas.subarray(3 * d.vertices.indexOf(v), 3 * d.vertices.indexOf(v) + 3),
    ];
    for (const v of left.vertices) {
      const [x, y, z] = of(left, v);
      const [mx, my, mz] = of(right, sketch.mirror[v]!);
      expect(mx).toBeCloseTo(-x!, 6);
      expect(my).toBeCloseTo(y!, 6);
      expect(mz).toBeCloseTo(z!, 6);
    }
  });
  it("goes back by a stroke and forth again", () => {
    const { sketch, record } = stroke(true);
    const full = sketch.deltas.slice();
    const redo = revertStroke(sketch, record);
    expect(sketch.deltas.every((x) => x === 0)).toBe(true);
    revertStroke(sketch, redo);
    expect([...sketch.deltas]).toEqual([...full]);
  });
  it("starts from the corrective that is edited again, at its weight", () => {
    const { sketch, character } = stroke(false);
    const kept = sketchDeltas(sketch);
    const again = startSketch(makeRig(character), 0, kept, 0.5);
    const at = deformSketch(again, bent).positions[0]!;
    const rest = deform(makeRig(character), bent).positions[0]!;
    const full = deformSketch(sketch, bent).positions[0]!;
    for (let i = 0; i < at.length; i += 37) expect(at[i]! - rest[i]!).toBeCloseTo((full[i]! - rest[i]!) / 2, 5);
  });
});

describe("mirroring", () => {
  it.each([
    ["left elbow", "right elbow"],
    ["RightKnee bend", "LeftKnee bend"],
    ["belly", "belly mirrored"],
  ])("renames %s to %s", (from, to) => expect(mirrorName(from)).toBe(to));
  it("puts the movement on the other side and tells what has none", () => {
    const character = arms();
    const shape = shapeOf("left elbow", { 90: [0.01, 0.002, 0.003] });
    const { deltas, unmatched } = mirrorDeltas(character, shape.deltas);
    expect(unmatched).toBe(0);
    expect([...deltas[0]!.deltas].map((x) => Math.round(x * 1e6) / 1e6)).toEqual([-0.01, 0.002, 0.003]);
    expect(character.parts[0]!.positions[3 * deltas[0]!.vertices[0]!]).toBeCloseTo(
      -character.parts[0]!.positions[3 * 90]!,
      6,
    );
    const lone = characterWith({
      parts: [
        partOf(
          "p",
          [
            [1, 0, 0],
            [2, 0, 0],
            [1, 1, 0],
          ],
          [[0, 1, 2]],
        ),
      ],
    });
    expect(mirrorDeltas(lone, shapeOf("s", { 0: [1, 0, 0] }).deltas).unmatched).toBe(1);
  });
  it("acts on the other arm exactly as on the first", () => {
    const character = arms();
    const shape = shapeOf("left elbow", { 90: [0.01, 0.002, 0.003] });
    const other = mirrorCorrective(character, shape, driver);
    expect(other.driver.joint).toBe("rightLowerArm");
    const both: Character = { ...character, shapes: [shape, other.shape], drivers: [driver, other.driver] };
    const { positions } = deform(makeRig(both), {
      ...REST_MOMENT,
      pose: { leftLowerArm: [0, -80, 0], rightLowerArm: [0, 80, 0] },
    });
    const m = other.shape.deltas[0]!.vertices[0]!;
    [0, 1, 2].forEach((k) =>
      expect(positions[0]![3 * m + k]).toBeCloseTo((k === 0 ? -1 : 1) * positions[0]![3 * 90 + k]!, 5),
    );
  });
  it("carries the axis through frames that are turned differently on the two sides", () => {
    const skeleton = figureSkeleton();
    const turned = {
      ...skeleton,
      joints: skeleton.joints.map((j) => (j.name === "rightLowerArm" ? { ...j, rotation: [0, 0, 1, 0] as const } : j)),
    };
    const other = mirrorDriver(characterWith({ skeleton: turned }), driver);
    // (0,-1,0) mirrored as an axial vector is (0,1,0); seen from a frame turned half round z it is (0,-1,0)
    expect(other.axis.map((x) => Math.round(x))).toEqual([0, -1, 0]);
  });
  it("refuses a joint whose other side is not known", () => {
    const skeleton = skeletonOf([{ name: "leftLowerArm", parent: NO_JOINT }]);
    expect(() => mirrorDriver(characterWith({ skeleton }), driver)).toThrow(/other side/);
    expect(() =>
      mirrorDriver(
        characterWith({ skeleton: skeletonOf([{ name: "zzz", parent: NO_JOINT, translation: [0.3, 1, 0] }]) }),
        { ...driver, joint: "zzz" },
      ),
    ).toThrow(/other side/);
    expect(() => mirrorDriver(characterWith({ skeleton }), { ...driver, joint: "gone" })).toThrow(
      /no joint named gone/,
    );
  });
});

describe("a first sculpt", () => {
  const bent = tube();
  const rig = makeRig(bent);
  const gauge = makeJointGauge(
    rig,
    bent.skeleton!.joints.findIndex((j) => j.name === "lower"),
  )!;
  const moment = sculptMoment({ lower: [100, 0, 0] });
  const measured = (deltas: readonly ShapeDelta[]): ReturnType<typeof measureJoint>["reading"] =>
    measureJoint(withRig(gauge, withShapes(rig, withTrialShape(bent, deltas, "first"))), {
      ...moment,
      weights: { first: 1 },
    }).reading;
  it("gives a bent limb its flesh back and takes it out of itself, within the stretch it may have", () => {
    const before = measureJoint(gauge, moment).reading;
    const proposal = proposeSculpt(gauge, moment)!;
    const after = measured(proposal.deltas);
    expect(Math.abs(after.volume)).toBeLessThan(Math.abs(before.volume));
    expect(after.depth).toBeLessThanOrEqual(Math.max(2, before.depth));
    expect(proposal.roundness).toBeGreaterThan(0);
    expect(proposal.ill.length).toBe(0);
  });
  it("is the same each time, and nothing at rest", () => {
    expect(proposeSculpt(gauge, moment)!.deltas).toEqual(proposeSculpt(gauge, moment)!.deltas);
    expect(proposeSculpt(gauge, sculptMoment({}))).toBeNull();
  });
});
