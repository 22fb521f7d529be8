import { loadMember } from "../../demo/cast";
import { deform, makeRig } from "../deform/rig";
import { REST_MOMENT, type Moment } from "../evaluate/moment";
import { makeJointGauge } from "../measure/measureJoint";
import type { Character } from "../model/character";
import { jointIndexOf } from "../model/jointIndex";
import { humanoidMap } from "../skeleton/humanoidMap";
import { jointMotions, motionPose } from "../skeleton/jointMotions";
import { spreadTwist } from "../weights/spreadTwist";
import { askedAgain } from "./askedAgain";
import { compareTwists } from "./compareTwists";
import { correctiveFromSculpt } from "./correctiveFromSculpt";

const wick = await loadMember("wick");
const bare: Character = { ...wick, shapes: [], drivers: [], shapeDrivers: [], mixes: [], clips: [] };
const map = humanoidMap(wick.skeleton!, wick.jointMap);
const motions = jointMotions(wick.skeleton!, map).filter((m) => /^left(Upper|Lower)/.test(m.bone));
const rig = makeRig(bare);
const LIMITS = { volume: -0.1, depth: 5, stretch: 2 };
const rows = await compareTwists(
  rig,
  map,
  motions,
  (joint) => makeJointGauge(rig, jointIndexOf(bare.skeleton!).get(joint)!),
  LIMITS,
  "linear",
);

describe("limbs that a twist wrings", () => {
  it("are read thinnest first, with what joints along them would keep", () => {
    expect(rows.map((r) => r.label)).toEqual(["left lower arm twist", "left upper arm twist", "left upper leg twist"]);
    rows.slice(1).forEach((r, i) => expect(r.now.left).toBeGreaterThanOrEqual(rows[i]!.now.left));
    for (const r of rows) {
      expect(r.now.left).toBeLessThan(0.9);
      expect(r.joints!.left).toBeGreaterThan(0.9);
      expect(r.joints!.count).toBeLessThanOrEqual(3);
    }
    // by halves, 80 degrees: cos(40) squared (closed form)
    expect(rows[0]!.now.left).toBeCloseTo(Math.cos((40 * Math.PI) / 180) ** 2, 1);
  });
  it("stand beside correctives sculpted by measure, in numbers", () => {
    const [forearm] = rows;
    expect(forearm!.correctives!.count).toBeGreaterThan(0);
    expect(forearm!.correctives!.left).toBeGreaterThan(forearm!.now.left);
    expect(forearm!.correctives!.left).toBeLessThan(forearm!.joints!.left);
  });
  it("that are spread already are read, and nothing is asked of them", async () => {
    const spread = spreadTwist(bare, rows[0]!.limb);
    const again = await compareTwists(makeRig(spread), map, motions, () => null, LIMITS, "linear");
    const row = again.find((r) => r.motion === rows[0]!.motion)!;
    expect(row.now.left).toBeGreaterThan(0.9);
    expect([row.joints, row.correctives]).toEqual([null, null]);
  });
});

describe("correctives asked again after the skin is bound otherwise", () => {
  const motion = motions.find((m) => m.id === rows[0]!.motion)!;
  const at = (degrees: number): Moment => ({ ...REST_MOMENT, pose: motionPose(motion, degrees) });
  const part = bare.parts.findIndex((p) => p.kind === "body");
  const posed = deform(rig, at(70), { normals: false }).positions;
  const skin = bare.parts[part]!.skin!;
  const joint = jointIndexOf(bare.skeleton!).get(motion.joint)!;
  const held = [...posed[part]!.keys()].filter(
    (v) =>
      v % 3 === 0 &&
      [0, 1, 2, 3].some((k) => skin.joints[(4 * v) / 3 + k] === joint && skin.weights[(4 * v) / 3 + k]! > 0.3),
  );
  const target = posed.map((P, p): Float32Array | null => (p === part ? P.slice() : null));
  for (const i of held) target[part]![i + 1]! += 0.004;
  const { deltas } = correctiveFromSculpt(rig, at(70), target);
  const driven: Character = {
    ...bare,
    shapes: [{ name: "wrung", label: "wrung", deltas }],
    drivers: [
      {
        shape: "wrung",
        joint: motion.joint,
        axis: motion.axis,
        fromDegrees: 10,
        toDegrees: 70,
        easing: "smooth",
        intensity: 1,
        enabled: true,
      },
    ],
  };
  it("give way so that their sculpts are met to 0.01 mm where they were sculpted", () => {
    expect(held.length).toBeGreaterThan(20);
    const spread = spreadTwist(driven, rows[0]!.limb);
    const { edits, missedMm } = askedAgain(driven, spread);
    expect(edits.map((e) => e.name)).toEqual(["wrung"]);
    expect(missedMm).toBeLessThan(0.01);
    const now = makeRig({ ...spread, shapes: [{ ...spread.shapes[0]!, deltas: edits[0]!.deltas }] });
    const P = deform(now, at(70), { normals: false }).positions[part]!;
    const far = held.map((i) => Math.hypot(...[0, 1, 2].map((c) => P[i + c]! - target[part]![i + c]!)));
    expect(1000 * Math.max(...far)).toBeLessThan(0.01);
    const left = deform(makeRig(spread), at(70), { normals: false }).positions[part]!;
    expect(1000 * Math.max(...held.map((i) => Math.abs(left[i + 1]! - target[part]![i + 1]!)))).toBeGreaterThan(0.5);
  });
  it("stay as they are where nothing under them changed", () =>
    expect(askedAgain(driven, { ...driven })).toEqual({ edits: [], missedMm: 0 }));
  it("on top of one whose driver changes give way to where it acts from now on; those made before it stay", () => {
    const later: Character = {
      ...driven,
      shapes: [
        ...driven.shapes,
        { name: "on top", label: "on top", deltas: [{ ...deltas[0]!, deltas: deltas[0]!.deltas.map((x) => x / 2) }] },
      ],
      drivers: [...driven.drivers, { ...driven.drivers[0]!, shape: "on top", fromDegrees: 20, toDegrees: 40 }],
    };
    const moved: Character = {
      ...later,
      drivers: later.drivers.map((d) => (d.shape === "wrung" ? { ...d, fromDegrees: 0, toDegrees: 50 } : d)),
    };
    const { edits } = askedAgain(later, moved, "linear", ["wrung"]);
    expect(edits.map((e) => e.name)).toEqual(["on top"]);
    const answered = {
      ...moved,
      shapes: moved.shapes.map((s) => (s.name === "on top" ? { ...s, deltas: edits[0]!.deltas } : s)),
    };
    const [was, now, unasked] = [later, answered, moved].map(
      (c) => deform(makeRig(c), at(40), { normals: false }).positions[part]!,
    );
    const off = (P: Float32Array): number => 1000 * Math.max(...held.map((i) => Math.abs(P[i + 1]! - was![i + 1]!)));
    expect(off(now!)).toBeLessThan(0.01);
    expect(off(unasked!)).toBeGreaterThan(0.5);
    expect(askedAgain(later, moved, "linear", ["on top"]).edits).toEqual([]);
  });
});
