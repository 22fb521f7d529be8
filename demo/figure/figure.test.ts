import { dot, length, normalize, sub, type Vec3 } from "../../core/math/vec3";
import { at } from "../modelling/fields";
import { sixVolumes } from "../modelling/quadMesh";
import { HEAD_LANDMARKS } from "./head/headLandmarks";
import {
  EYE_CENTRE,
  faceDepth,
  LID_SHELL,
  normalAt,
  onHead,
  outermost,
  skullForm,
  SKULL_CENTRE,
} from "./head/headForm";
import { lidEdge, lidMargin, openingShare, WIDEST_OPENING } from "./head/lidShape";
import { eyeballPoints } from "./parts/eyes";
import { hair, cap } from "./parts/hair";
import { teeth } from "./parts/teeth";
import { tongue, TONGUE_POSES } from "./parts/tongue";
import { headToWorld, mirrored, worldToHead } from "./placement";
import { distanceAlong } from "./rig/distanceAlong";
import { jointIndex, JOINTS } from "./rig/joints";
import { figureSkeleton } from "./rig/jointFrames";
import { prune, skinWeights } from "./rig/skinWeights";
import { FACE_UNITS, faceShapeBuilder } from "./shapes/faceShape";
import { jawMove } from "./shapes/jaw";
import { buildSkin } from "./skin/buildSkin";
import { flatness, untangle } from "./skin/untangle";
import { wholeForm } from "./skin/wholeForm";

const skin = buildSkin();

describe("the head's form", () => {
  it("passes within a unit of most of its landmarks", () => {
    const off = HEAD_LANDMARKS.filter(([x, y, z]) => z < 55 && y > -70 && Math.abs(skullForm(x, y, z)) > 1);
    expect(off.length).toBeLessThan(HEAD_LANDMARKS.length * 0.05);
  });
  it("puts points on itself, finds itself from outside, and knows which way is out", () => {
    const p = onHead([30, 50, 90], 8);
    expect(Math.abs(skullForm(...p))).toBeLessThan(0.01);
    expect(length(sub(outermost(SKULL_CENTRE, [0, 0, -1]), [0, -5, -92]))).toBeLessThan(8);
    expect(normalAt([0, 50, 95])[2]).toBeGreaterThan(0.8);
    expect(faceDepth(0, -38)).toBeGreaterThan(faceDepth(20, -38) + 10); // the nose
  });
  it("is placed in the world and back", () =>
    worldToHead(headToWorld([3, -40, 92])).forEach((v, k) => expect(v).toBeCloseTo([3, -40, 92][k]!, 9)));
  it("has lids that close their opening and lie on their shell", () => {
    expect(openingShare(0.5)).toBeGreaterThan(0.9);
    expect(WIDEST_OPENING).toBeGreaterThan(9); // palpebral opening about 9 to 11 mm (common practice, no source)
    const edge = lidEdge(lidMargin({ s: 0.5, upper: true }), { s: 0.5, upper: true }, false);
    expect(length(sub(edge, EYE_CENTRE))).toBeCloseTo(LID_SHELL, 1);
  });
});

describe("the skin", () => {
  it("is one closed surface of quads: every side is shared by two faces, Euler's number is that of a sphere", () => {
    const uses = new Map<string, number>();
    for (const q of skin.quads)
      q.forEach((v, k) => {
        const w = q[(k + 1) % 4]!;
        const key = v < w ? `${v} ${w}` : `${w} ${v}`;
        uses.set(key, (uses.get(key) ?? 0) + 1);
      });
    expect([...uses.values()].every((n) => n === 2)).toBe(true);
    expect(skin.points.length - uses.size + skin.quads.length).toBe(2);
    expect(sixVolumes(skin.points, skin.quads) / 6).toBeGreaterThan(0.045); // a body of about 55 litres
    expect(sixVolumes(skin.points, skin.quads) / 6).toBeLessThan(0.075);
  });
  it("is mirrored vertex by vertex", () => {
    skin.mirror.forEach((other, v) => {
      expect(skin.mirror[other]).toBe(v);
      expect(length(sub(mirrored(skin.points[v]!), skin.points[other]!))).toBeLessThan(1e-4);
    });
  });
  it("has no folded quad", () => expect(skin.quads.filter((q) => flatness(skin.points, q) < 0)).toEqual([]));
  it("lies on the form it was grown on, away from the windows", () => {
    const torso = skin.points.filter((_, v) => skin.tags[v]!.region === "torso" && skin.tags[v]!.side > 0);
    const off = torso.filter((p) => Math.abs(at(wholeForm, p)) > 0.002);
    expect(off.length).toBeLessThan(0.05 * torso.length);
  });
  it("has loops round elbow and knee: three rings or more within 3 cm", () => {
    const rings = (region: "arm" | "leg", near: Vec3, of: (tag: (typeof skin.tags)[number]) => number): number =>
      new Set(
        skin.points.flatMap((p, v) =>
          skin.tags[v]!.region === region &&
          Math.abs(dot(sub(p, near), normalize(near))) < 0.03 &&
          length(sub(p, near)) < 0.09
            ? [of(skin.tags[v]!)]
            : [],
        ),
      ).size;
    expect(
      rings("arm", JOINTS[jointIndex("leftLowerArm")]!.place, (t) => (t.region === "arm" ? t.along : -1)),
    ).toBeGreaterThanOrEqual(3);
    expect(
      rings("leg", JOINTS[jointIndex("leftLowerLeg")]!.place, (t) => (t.region === "leg" ? t.ring : -1)),
    ).toBeGreaterThanOrEqual(3);
  });
  it("untangles a folded quad and leaves a flat one alone", () => {
    const points: Vec3[] = Array.from({ length: 25 }, (_, i) => [(i % 5) - 2, Math.floor(i / 5), 0]);
    const quads = Array.from({ length: 16 }, (_, f) => {
      const v = Math.floor(f / 4) * 5 + (f % 4);
      return [v, v + 1, v + 6, v + 5];
    });
    const neighbours = points.map(
      (_, v) =>
        new Set(
          quads.filter((q) => q.includes(v)).flatMap((q) => [q[(q.indexOf(v) + 1) % 4]!, q[(q.indexOf(v) + 3) % 4]!]),
        ),
    );
    const mesh = { points, quads, mirror: points.map((_, v) => Math.floor(v / 5) * 5 + (4 - (v % 5))), neighbours };
    const flat = points.map((p) => [...p]);
    untangle(mesh);
    expect(points).toEqual(flat);
    points[12] = [0, 4, 0];
    untangle(mesh);
    expect(quads.every((q) => flatness(points, q) > 0)).toBe(true);
  });
});

describe("joints and weights", () => {
  it("weights sum to one with at most four influences, and mirror", () => {
    const weights = skinWeights(skin);
    for (const list of weights) {
      expect(list.length).toBeLessThanOrEqual(4);
      expect(list.reduce((s, [, w]) => s + w, 0)).toBeCloseTo(1, 9);
    }
    const left = jointIndex("leftLowerArm");
    const right = jointIndex("rightLowerArm");
    skin.mirror.forEach((other, v) =>
      expect(weights[v]!.find(([j]) => j === left)?.[1] ?? 0).toBeCloseTo(
        weights[other]!.find(([j]) => j === right)?.[1] ?? 0,
        6,
      ),
    );
  });
  it("pruning keeps the largest four", () => {
    expect(prune([0.1, 0.4, 0.003, 0.2, 0.15, 0.147]).map(([j]) => j)).toEqual([1, 3, 4, 5]);
  });
  it("distance along a surface is that of a straight strip", () => {
    const points: Vec3[] = Array.from({ length: 12 }, (_, i) => [i % 6, Math.floor(i / 6), 0]);
    const quads = Array.from({ length: 5 }, (_, i) => [i, i + 1, i + 7, i + 6]);
    const neighbours = points.map(
      (_, v) =>
        new Set(
          quads.filter((q) => q.includes(v)).flatMap((q) => [q[(q.indexOf(v) + 1) % 4]!, q[(q.indexOf(v) + 3) % 4]!]),
        ),
    );
    const d = distanceAlong({ points, quads, neighbours }, [0]);
    expect(d[5]).toBeCloseTo(5, 9);
    expect(d[7]).toBeCloseTo(Math.SQRT2, 9);
  });
  it("hinges of both arms turn about mirrored axes", () => {
    const { joints, inverseBinds } = figureSkeleton();
    expect(joints.length).toBe(JOINTS.length);
    const axis = (name: string): Vec3 => {
      const m = inverseBinds.subarray(16 * jointIndex(name), 16 * jointIndex(name) + 16);
      return [m[0]!, m[4]!, m[8]!]; // first row of the inverse: the frame's X in the world
    };
    for (const bone of ["UpperArm", "LowerArm", "IndexProximal", "UpperLeg", "LowerLeg"]) {
      const [x, y, z] = axis(`left${bone}`);
      // an axis of turning is mirrored with its sign reversed
      axis(`right${bone}`).forEach((v, k) => expect(v).toBeCloseTo([x, -y, -z][k]!, 5));
    }
  });
  it("refuses a joint that is not there", () => expect(() => jointIndex("tail")).toThrow(/no joint tail/));
});

describe("parts", () => {
  it("eyeballs keep their size when the pupil moves, and the iris goes along", () => {
    const rest = eyeballPoints(1);
    const wide = eyeballPoints(1, 13.5);
    const r = (p: Vec3): number => length(sub(p, EYE_CENTRE));
    wide.forEach((p, v) => expect(Math.abs(r(p) - r(rest[v]!))).toBeLessThan(0.2));
    expect(Math.max(...wide.map((p, v) => length(sub(p, rest[v]!))))).toBeGreaterThan(0.8);
  });
  it("hair, cap, teeth and tongue are made of quads on vertices that are there", () => {
    for (const part of [
      hair("bun"),
      hair("under a cap"),
      hair("cropped"),
      cap(),
      teeth(true),
      teeth(false),
      tongue(TONGUE_POSES.rest),
    ]) {
      expect(part.quads.flat().every((v) => v >= 0 && v < part.points.length)).toBe(true);
      expect(part.tags.every((c) => c.every((x) => x >= 0 && x <= 1))).toBe(true);
    }
  });
});

describe("face units", () => {
  const build = faceShapeBuilder(skin);
  it("have names of their own, and the builder refuses others", () => {
    expect(new Set(FACE_UNITS.map((u) => u.id)).size).toBe(FACE_UNITS.length);
    expect(() => build("99", "both")).toThrow(/no unit 99/);
  });
  it("fall into halves that add up to the whole", () => {
    const [both, left, right] = (["both", "left", "right"] as const).map((side) => build("12", side).get("body")!);
    both!.forEach((d, v) => d.forEach((x, k) => expect(left![v]![k]! + right![v]![k]!).toBeCloseTo(x, 9)));
  });
  it("move both sides alike", () => {
    const moves = build("10", "both").get("body")!;
    skin.mirror.forEach((other, v) => expect(length(sub(mirrored(moves[v]!), moves[other]!))).toBeLessThan(2e-5));
  });
  it("the jaw turns about its hinge: points keep their distance from it but for the slide", () => {
    const chin: Vec3 = [0, -95, 91];
    const moved = jawMove(chin, { open: 20 });
    const before = Math.hypot(chin[1] + 16, chin[2] - 8);
    expect(Math.hypot(chin[1] + moved[1] + 16 + 1.25, chin[2] + moved[2] - 8 - 2.5)).toBeCloseTo(before, 6);
    expect(moved[1]).toBeLessThan(-20);
  });
});
