import { figureSkeleton, characterWith, shapeOf } from "../../tests/helpers/characters";
import { evaluate } from "../evaluate/evaluate";
import { translationOf } from "../math/mat4";
import { conjugate, fromAxisAngle, multiplyQuat, rotate } from "../math/quat";
import { length, scale, sub, type Quat, type Vec3 } from "../math/vec3";
import { NO_JOINT, type Character, type Skeleton } from "../model/character";
import { carriedTo, withFrames } from "./carryKeys";
import { NO_KEYS, withKey } from "./keys";
import { momentAt } from "./momentAt";
import { emptyTrial, type Keys, type Trial } from "./trial";

const skeleton = figureSkeleton();
const figure = characterWith({ skeleton, shapes: [shapeOf("AU12_left", [])] });

/** The same figure under other names, every joint's frame rolled another way, so much larger. */
function rolled(by: number): Character {
  const roll = skeleton.joints.map((_, j): Quat => fromAxisAngle([0.6, 0, 0.8], 37 * j + 11));
  const joints = skeleton.joints.map((joint, j) => {
    const parent: Quat = joint.parent === NO_JOINT ? [0, 0, 0, 1] : roll[joint.parent]!;
    const back = conjugate(parent);
    return {
      ...joint,
      name: `${joint.name} of the other`,
      rotation: multiplyQuat(multiplyQuat(back, joint.rotation as Quat), roll[j]!),
      translation: scale(rotate(back, joint.translation as Vec3), by),
    };
  });
  const jointMap = Object.fromEntries(skeleton.joints.map((joint) => [joint.name, `${joint.name} of the other`]));
  const other: Skeleton = { ...skeleton, joints };
  return { ...figure, skeleton: other, jointMap, shapes: [shapeOf("au 12 L", [])] };
}

const keys: Keys = withFrames(figure, {
  ...NO_KEYS,
  joints: {
    leftUpperArm: withKey(withKey(null, 0, [10, -40, 65]), 1, [-30, 20, -75]),
    leftLowerArm: withKey(null, 0.5, [5, 80, 12]),
    spine: withKey(null, 0, [12, 25, -8]),
  },
  shapes: { AU12_left: withKey(null, 0, [0.7]) },
  hips: withKey(null, 0, [0.1, -0.05, 0.2]),
});
const trial: Trial = {
  ...emptyTrial("t"),
  lanes: {
    ...emptyTrial("t").lanes,
    body: [
      {
        kind: "keys",
        id: "k",
        name: "k",
        keys,
        start: 0,
        from: 0,
        to: 2,
        speed: 1,
        fadeIn: 0,
        fadeOut: 0,
        share: 1,
        on: true,
      },
    ],
  },
};

describe("keys on another character", () => {
  it.each([0, 0.5, 1])("put its joints where those of the first are, at %s s, whatever way its frames stand", (at) => {
    const other = rolled(1);
    const [a, b] = [figure, other].map((c) => evaluate(c, momentAt(c, trial, at)).world!);
    skeleton.joints.forEach((_, j) =>
      expect(length(sub(translationOf(a!, 16 * j), translationOf(b!, 16 * j)))).toBeLessThan(1e-9),
    );
    const moved = evaluate(figure, momentAt(figure, trial, at)).world!;
    const rest = evaluate(figure, { pose: {}, weights: {}, method: "linear", drivers: true }).world!;
    const hand = skeleton.joints.findIndex((x) => x.name === "leftHand");
    expect(length(sub(translationOf(moved, 16 * hand), translationOf(rest, 16 * hand)))).toBeGreaterThan(0.1);
  });

  it("carry the hips farther the higher they stand, and find a shape by what its name means", () => {
    const twice = rolled(2);
    const there = carriedTo(twice, keys);
    there.hips!.values.forEach((v, i) => expect(v).toBeCloseTo(2 * keys.hips!.values[i]!, 9));
    expect(there.shapes).toEqual({ "au 12 L": keys.shapes["AU12_left"] });
  });

  it("are the same keys on the character that they were made on, and come back to it as they were", () => {
    expect(carriedTo(figure, keys)).toBe(keys);
    const back = carriedTo(figure, carriedTo(rolled(1), keys));
    expect(Object.keys(back.joints).sort()).toEqual(Object.keys(keys.joints).sort());
    for (const [name, curve] of Object.entries(keys.joints)) {
      const again = { ...trial, lanes: { ...trial.lanes, body: [{ ...trial.lanes.body[0]!, keys: back }] } } as Trial;
      const [p, q] = [trial, again].map((t) => evaluate(figure, momentAt(figure, t, curve.times[0]!)).turns);
      p!.forEach((v, i) => expect(q![i]!).toBeCloseTo(v, 9));
      expect(back.frames).toHaveProperty(name);
    }
  });

  it("of a joint without a bone there keep their name and play nothing", () => {
    const bare = characterWith({ skeleton: { ...skeleton, joints: skeleton.joints.slice(0, 2) } });
    expect(Object.keys(carriedTo(bare, keys).joints)).toContain("leftUpperArm");
    expect(() => momentAt(bare, trial, 0)).not.toThrow();
  });
});
