import {
  Bone,
  BufferAttribute,
  BufferGeometry,
  Matrix4,
  MeshBasicMaterial,
  Quaternion,
  Skeleton as ThreeSkeleton,
  SkinnedMesh,
  Vector3,
} from "three";
import { deform, makeRig } from "../../core/deform/rig";
import { REST_MOMENT } from "../../core/evaluate/moment";
import { fromEulerXYZ } from "../../core/math/quat";
import type { Character } from "../../core/model/character";
import { between, randomFrom } from "../helpers/random";
import { randomCharacter, randomPose } from "../helpers/characters";

/**
 * The same character as a three.js skinned mesh: three's own CPU path is the independent oracle (npm three,
 * SkinnedMesh.applyBoneTransform, Mesh.getVertexPosition).
 */
function threeMesh(character: Character): { mesh: SkinnedMesh; bones: Bone[] } {
  const part = character.parts[0]!;
  const skin = part.skin!;
  const geometry = new BufferGeometry();
  geometry.setAttribute("position", new BufferAttribute(part.positions.slice(), 3));
  geometry.setAttribute("skinIndex", new BufferAttribute(Uint16Array.from(skin.joints), skin.influenceCount));
  geometry.setAttribute("skinWeight", new BufferAttribute(skin.weights.slice(), skin.influenceCount));
  geometry.morphTargetsRelative = true;
  geometry.morphAttributes["position"] = character.shapes.map((s) => {
    const dense = new Float32Array(part.positions.length);
    // a vertex listed twice moves by both
    s.deltas[0]!.vertices.forEach((v, k) =>
      [0, 1, 2].forEach((c) => (dense[3 * v + c]! += s.deltas[0]!.deltas[3 * k + c]!)),
    );
    return new BufferAttribute(dense, 3);
  });
  const bones = character.skeleton!.joints.map((j) => {
    const bone = new Bone();
    bone.name = j.name;
    bone.position.set(...j.translation);
    bone.quaternion.set(...j.rotation);
    return bone;
  });
  character.skeleton!.joints.forEach((j, i) => j.parent >= 0 && bones[j.parent]!.add(bones[i]!));
  const mesh = new SkinnedMesh(geometry, new MeshBasicMaterial());
  mesh.add(bones[0]!);
  const inverses = character.skeleton!.joints.map((_, j) =>
    new Matrix4().fromArray(Array.from(character.skeleton!.inverseBinds.subarray(16 * j, 16 * j + 16))),
  );
  mesh.bind(new ThreeSkeleton(bones, inverses), new Matrix4());
  return { mesh, bones };
}

describe("deformation against three.js", () => {
  it.each([1, 2, 3, 4, 5, 6])("agrees to 1e-5 m on a random skin, shapes and pose (seed %d)", (seed) => {
    const random = randomFrom(seed);
    const character = randomCharacter(random, { vertices: 240, joints: 9 });
    const { mesh, bones } = threeMesh(character);
    const pose = randomPose(random, character);
    const weights = Object.fromEntries(character.shapes.map((s) => [s.name, between(random, -0.5, 1.5)]));
    character.shapes.forEach((s, i) => (mesh.morphTargetInfluences![i] = weights[s.name]!));
    // posed: intrinsic XYZ degrees on top of the rest rotation, three's own quaternion product
    character.skeleton!.joints.forEach((j, i) =>
      bones[i]!.quaternion.multiply(new Quaternion(...fromEulerXYZ(...pose[j.name]!))),
    );
    mesh.updateMatrixWorld(true);
    mesh.skeleton.update();
    const ours = deform(makeRig(character), { ...REST_MOMENT, pose, weights }).positions[0]!;
    const theirs = new Vector3();
    for (let v = 0; v < 240; v++) {
      mesh.getVertexPosition(v, theirs);
      expect(
        Math.hypot(ours[3 * v]! - theirs.x, ours[3 * v + 1]! - theirs.y, ours[3 * v + 2]! - theirs.z),
      ).toBeLessThan(1e-5);
    }
  });
  it("uses the same Euler order as three's XYZ", () => {
    const random = randomFrom(40);
    for (let n = 0; n < 20; n++) {
      const [x, y, z] = [0, 1, 2].map(() => between(random, -180, 180)) as [number, number, number];
      const bone = new Bone();
      bone.rotation.set((x * Math.PI) / 180, (y * Math.PI) / 180, (z * Math.PI) / 180, "XYZ");
      const q = fromEulerXYZ(x, y, z);
      expect(
        Math.abs(
          bone.quaternion.x * q[0] + bone.quaternion.y * q[1] + bone.quaternion.z * q[2] + bone.quaternion.w * q[3],
        ),
      ).toBeCloseTo(1, 9);
    }
  });
});
