import { Quaternion, Vector3, type Bone } from "three";
import { BVHLoader } from "three/examples/jsm/loaders/BVHLoader.js";
import { clipMatrices } from "../../core/evaluate/clipMatrices";
import { anglesZXY, writeBvh } from "../../core/formats/bvh/writeBvh";
import { fromAxisAngle, multiplyQuat } from "../../core/math/quat";
import { decomposeTRS, translationOf } from "../../core/math/mat4";
import { CLIP_SCORES } from "../../demo/clips/clipScores";
import { foreignName, fromT } from "../../demo/clips/foreignSkeleton";
import { makeClip } from "../../demo/clips/makeClip";
import { loadOda } from "../../demo/cast";
import { randomFrom } from "../helpers/random";

/** Clips written as BVH, read back by an independent reader: three.js's BVHLoader. */
const oda = await loadOda();
const skeleton = oda.skeleton!;
const clip = makeClip(
  oda,
  CLIP_SCORES.find((s) => s.name === "wave")!,
);

/** Poses the reader's bones at a frame and gives each bone's place. */
function posed(text: string, frame: number): Map<string, Vector3> {
  const { skeleton: read, clip: keys } = new BVHLoader().parse(text);
  for (const track of keys.tracks) {
    const [, name, property] = /^(.*)\.(position|quaternion)$/.exec(track.name)!;
    const bone = read.bones.find((b: Bone) => b.name === name)!;
    const width = property === "position" ? 3 : 4;
    const at = track.values.subarray(width * frame, width * frame + width);
    if (property === "position") bone.position.fromArray(at);
    else bone.quaternion.copy(new Quaternion().fromArray(at));
  }
  read.bones[0]!.updateMatrixWorld(true);
  return new Map(read.bones.map((b: Bone) => [b.name, new Vector3().setFromMatrixPosition(b.matrixWorld)]));
}

describe("BVH in other hands", () => {
  it.each([0, 30, 60])("puts every joint where the clip puts it, frame %s, in metres", (frame) => {
    const read = posed(writeBvh(skeleton, clip, { unitsPerMetre: 1 }), frame);
    const world = clipMatrices(skeleton, clip, frame / 30);
    skeleton.joints.forEach((j, i) => {
      const p = translationOf(world, 16 * i);
      const q = read.get(j.name)!;
      expect(Math.hypot(q.x - p[0], q.y - p[1], q.z - p[2])).toBeLessThan(1e-4);
    });
  });
  it("does so under another skeleton's names, in centimetres, from a T rest", () => {
    const text = writeBvh(skeleton, clip, { unitsPerMetre: 100, rename: foreignName, restTurn: fromT });
    const read = posed(text, 45);
    const world = clipMatrices(skeleton, clip, 45 / 30);
    skeleton.joints.forEach((j, i) => {
      const p = translationOf(world, 16 * i);
      const q = read.get(foreignName(j.name))!;
      expect(Math.hypot(q.x / 100 - p[0], q.y / 100 - p[1], q.z / 100 - p[2])).toBeLessThan(1e-4);
    });
    // at rest the arms are level
    const { skeleton: rest } = new BVHLoader().parse(text);
    const offset = rest.bones.find((b: Bone) => b.name === "ArmLow_Lt")!.position;
    expect(Math.abs(offset.y / offset.length())).toBeLessThan(0.02);
  });
  it("angles in the order Z X Y give the turn back", () => {
    const random = randomFrom(5);
    for (let i = 0; i < 200; i++) {
      const q = multiplyQuat(
        multiplyQuat(fromAxisAngle([0, 0, 1], 360 * random()), fromAxisAngle([1, 0, 0], 178 * random() - 89)),
        fromAxisAngle([0, 1, 0], 360 * random()),
      );
      const [z, x, y] = anglesZXY(q);
      const again = multiplyQuat(
        multiplyQuat(fromAxisAngle([0, 0, 1], z), fromAxisAngle([1, 0, 0], x)),
        fromAxisAngle([0, 1, 0], y),
      );
      expect(Math.abs(q.reduce((s, v, k) => s + v * again[k]!, 0))).toBeCloseTo(1, 6);
    }
    const straightUp = fromAxisAngle([1, 0, 0], 90);
    expect(anglesZXY(straightUp)[1]).toBeCloseTo(90, 3);
    expect(decomposeTRS(clipMatrices(skeleton, clip, 0), 0).s[0]).toBeCloseTo(1, 6);
  });
});
