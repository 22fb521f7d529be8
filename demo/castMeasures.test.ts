import validator from "gltf-validator";
import { cleanTarn, loadMember, loadOda } from "./cast";
import { foreignClip } from "./clips/foreignClip";
import { foreignName } from "./clips/foreignSkeleton";
import { clipMatrices } from "../core/evaluate/clipMatrices";
import { worldMatrices } from "../core/evaluate/poseSkeleton";
import { deform, makeRig } from "../core/deform/rig";
import { REST_MOMENT } from "../core/evaluate/moment";
import { writeGlb } from "../core/formats/glb/writeGlb";
import { translationOf } from "../core/math/mat4";
import { conjugate, multiplyQuat, twistDegrees } from "../core/math/quat";
import { buildBvh, castRay } from "../core/math/bvh";
import { eyeballsOf } from "../core/measure/eyeballs";
import { lipCross, makeLipGauge } from "../core/measure/lipCross";
import { lidOpening, lipOpening, lipToTeeth, makeOpeningGauge } from "../core/measure/openings";
import type { Character } from "../core/model/character";
import { humanoidMap } from "../core/skeleton/humanoidMap";
import { jointMotions } from "../core/skeleton/jointMotions";
import { ODA_DELIVERY_1_PAIR } from "./faults/plantedFaults";

const base = await loadOda();
const oda = await loadMember("oda");
const wick = await loadMember("wick");
const first = await loadMember("oda-delivery-1");
const people: [string, Character][] = [
  ["Oda", oda],
  ["Tarn", cleanTarn(base)],
  ["Wick", wick],
];

/** Height and width in mm of the eyeball that can be seen from the front between the lids. */
function opening(character: Character, side: "left" | "right"): { height: number; width: number } {
  const rig = makeRig(character);
  const eye = eyeballsOf(character).find((e) => e.side === side)!;
  const body = character.parts.findIndex((p) => p.kind === "body");
  const trees = [body, eye.part].map((p) => ({
    P: character.parts[p]!.positions,
    bvh: buildBvh(rig.triangles[p]!, character.parts[p]!.positions),
  }));
  const seesEye = (x: number, y: number): boolean => {
    const [skin, ball] = trees.map(({ P, bvh }) => {
      let first = Infinity;
      castRay(bvh, P, x, y, eye.centre[2] + 0.1, 0, 0, -1, (_, d) => (first = Math.min(first, d)));
      return first;
    });
    return ball! < skin!;
  };
  const step = 1e-4;
  const count = (at: (i: number) => [number, number]): number =>
    Array.from({ length: 401 }, (_, i) => i - 200).filter((i) => seesEye(...at(i))).length;
  const [cx, cy] = eye.centre;
  return {
    height: 1000 * step * count((i) => [cx, cy + i * step]),
    width: 1000 * step * count((i) => [cx + i * step, cy]),
  };
}

describe.each(people)("%s's eyes", (_name, character) => {
  // height of the palpebral fissure 8 to 11 mm, width 25 to 31 mm in adults, both smaller by up to a fifth in children
  // (from memory)
  it("are open as far as people's are", () => {
    for (const side of ["left", "right"] as const) {
      const { height, width } = opening(character, side);
      expect(height).toBeGreaterThan(7);
      expect(height).toBeLessThan(11.5);
      expect(width).toBeGreaterThan(18);
      expect(width).toBeLessThan(31);
    }
  });
  // 24 mm across in adults, 22 to 23 in children of that age (from memory)
  it("have eyeballs of a person's size", () => {
    for (const { radius } of eyeballsOf(character)) {
      expect(2000 * radius).toBeGreaterThan(22);
      expect(2000 * radius).toBeLessThan(26);
    }
  });
});

describe.each(people)("%s's face", (_name, character) => {
  const rig = makeRig(character);
  const gauge = makeOpeningGauge(rig)!;
  const at = (name: string): Float32Array[] =>
    deform(rig, { ...REST_MOMENT, weights: { [name]: 1 } }, { normals: false }).positions;
  // limits of the product's own checks: 0.3 mm, 0.5 mm, 1.5 mm (own choice)
  it("shuts its eyes, its lips at p b m, and brings the lip to the teeth at f v", () => {
    for (const side of ["left", "right"] as const)
      expect(1000 * lidOpening(gauge, at(`AU43_${side}`), side)).toBeLessThan(0.3);
    expect(1000 * lipOpening(gauge, at("viseme_1"))).toBeLessThan(0.5);
    expect(1000 * lipToTeeth(gauge, at("viseme_2"))!).toBeLessThan(1.5);
  });
  it("is seen to be open where it is open", () => {
    for (const side of ["left", "right"] as const)
      expect(1000 * lidOpening(gauge, at("AU12_left"), side)).toBeGreaterThan(7);
    expect(1000 * lipOpening(gauge, at("AU26"))).toBeGreaterThan(10);
    expect(1000 * lipToTeeth(gauge, at("AU26"))!).toBeGreaterThan(5);
  });
});

/** Ranges of motion in degrees, AAOS, Greene & Heckman 1994, The Clinical Measurement of Joint Motion (from memory). */
const AAOS: readonly (readonly [bone: string, motion: string, min: number, max: number])[] = [
  ["LowerArm", "bend", 0, 150],
  ["LowerArm", "twist", -80, 80],
  ["Hand", "bend", -70, 80],
  ["Hand", "swing", -30, 20],
  ["UpperLeg", "forward", -30, 120],
  ["UpperLeg", "out", -30, 45],
  ["UpperLeg", "twist", -45, 45],
  ["LowerLeg", "bend", 0, 135],
  ["Foot", "point", -20, 50],
  ["IndexProximal", "bend", 0, 90],
  ["IndexIntermediate", "bend", 0, 100],
  ["IndexDistal", "bend", 0, 90],
  ["ThumbProximal", "bend", 0, 50],
  ["ThumbDistal", "bend", 0, 80],
];

describe.each(people)("%s's joints", (_name, character) => {
  const motions = jointMotions(character.skeleton!, humanoidMap(character.skeleton!, character.jointMap));
  it.each(AAOS)("%s %s goes from %d to %d degrees on both sides", (bone, name, min, max) => {
    for (const side of ["left", "right"])
      expect(motions.find((m) => m.bone === `${side}${bone}` && m.name === name)).toMatchObject({ min, max });
  });
  // abduction 180 from hanging, whatever the rest pose; 60 back (AAOS, from memory)
  it("the arm rises by 180 degrees from hanging and goes 60 back", () => {
    const raise = motions.find((m) => m.bone === "leftUpperArm" && m.name === "raise")!;
    expect(raise.max - raise.min).toBe(180);
    expect(motions.find((m) => m.bone === "leftUpperArm" && m.name === "forward")!.min).toBe(-60);
  });
  it("twists are spread by joints of their own, half-way down the arm", () => {
    for (const side of ["left", "right"])
      for (const bone of ["UpperArm", "LowerArm"])
        expect(motions.find((m) => m.bone === `${side}${bone}` && m.name === "twist")!.joint).toBe(
          `${side}${bone}Twist`,
        );
  });
  it("stay within their ranges in every clip", () => {
    const { joints } = character.skeleton!;
    for (const clip of character.clips)
      for (const track of clip.tracks.filter((t) => t.path === "rotation")) {
        const rest = joints.find((j) => j.name === track.joint)!.rotation;
        const hinges = motions.filter((m) => m.joint === track.joint && ["bend", "open"].includes(m.name));
        for (const motion of hinges)
          for (let k = 0; k < track.times.length; k++) {
            const [x, y, z, w] = track.values.subarray(4 * k, 4 * k + 4);
            const angle = twistDegrees(multiplyQuat(conjugate(rest), [x!, y!, z!, w!]), motion.axis);
            expect(angle).toBeGreaterThan(motion.min - 1);
            expect(angle).toBeLessThan(motion.max + 1);
          }
      }
  });
});

describe("lips", () => {
  const delivered = first;
  const crossing = (character: Character, names: readonly string[]): number => {
    const rig = makeRig(character);
    const gauge = makeLipGauge(rig)!;
    return (
      1000 *
      lipCross(
        rig,
        gauge,
        deform(
          rig,
          { ...REST_MOMENT, weights: Object.fromEntries(names.map((n) => [n, 1])) },
          { normals: false, parts: [gauge.part] },
        ).positions[gauge.part]!,
      ).depth
    );
  };
  it("cross in the delivered smile and pucker together, and in neither alone", () => {
    for (const name of ODA_DELIVERY_1_PAIR.shapes)
      expect(crossing(delivered, [name])).toBeLessThan(ODA_DELIVERY_1_PAIR.limitMm);
    expect(crossing(delivered, ODA_DELIVERY_1_PAIR.shapes)).toBeGreaterThan(ODA_DELIVERY_1_PAIR.limitMm);
    expect(crossing(oda, ODA_DELIVERY_1_PAIR.shapes)).toBeLessThan(0.2);
  });
  it("a lower lip lifted by a known way is found that deep, less the gap the lips rest with", () => {
    const rig = makeRig(oda);
    const gauge = makeLipGauge(rig)!;
    const lifted = gauge.rest.slice();
    for (const v of gauge.finder.candidates) if (gauge.finder.region.share[v] === 1) lifted[3 * v + 1]! += 0.004;
    const { depth } = lipCross(rig, gauge, lifted);
    expect(1000 * depth).toBeLessThan(4);
    expect(1000 * depth).toBeGreaterThan(2.8);
  });
});

describe("the walk for another skeleton, as GLB", () => {
  const walk = oda.clips.find((c) => c.name === "walk")!;
  const foreign = foreignClip(oda, walk);
  it("moves every joint as the figure's own walk does, in centimetres", () => {
    for (const t of [0, 0.3, 0.8]) {
      const own = clipMatrices(oda.skeleton!, walk, t);
      const other = clipMatrices(foreign.skeleton!, foreign.clips[0]!, t);
      oda.skeleton!.joints.forEach((_, j) => {
        const [a, b] = [translationOf(own, 16 * j), translationOf(other, 16 * j)];
        for (let c = 0; c < 3; c++) expect(b[c]).toBeCloseTo(100 * a[c]!, 3);
      });
    }
  });
  it("rests with level arms and names of its own", () => {
    const world = worldMatrices(foreign.skeleton!, {});
    const at = (name: string): readonly number[] =>
      translationOf(world, 16 * foreign.skeleton!.joints.findIndex((j) => j.name === foreignName(name)));
    expect(Math.abs(at("leftHand")[1]! - at("leftUpperArm")[1]!)).toBeLessThan(6);
    for (const name of ["hips", "head", "leftUpperArm", "rightFoot", "leftIndexDistal"])
      expect(foreign.skeleton!.joints.some((j) => j.name === name)).toBe(false);
  });
  it("passes the Khronos validator", async () => {
    const { issues } = await validator.validateBytes(await writeGlb(foreign));
    expect([issues.numErrors, issues.numWarnings]).toEqual([0, 0]);
  });
});
