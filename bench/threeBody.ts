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
import type { Rig } from "../core/deform/rig";
import { evaluate } from "../core/evaluate/evaluate";
import type { Moment } from "../core/evaluate/moment";
import { turnOf } from "../core/evaluate/turns";

/** One part of a character as three.js deforms it on the processor. */
export interface ThreePart {
  /** Puts its bones, and the weights of its shapes, where a moment asks for them. */
  readonly pose: (moment: Moment) => void;
  /** Places of all vertices and their normals, by three.js. */
  readonly deform: () => Float32Array;
}

export function makeThreePart({ character, triangles }: Rig, index: number): ThreePart {
  const part = character.parts[index]!;
  const skeleton = character.skeleton!;
  const geometry = new BufferGeometry();
  geometry.setAttribute("position", new BufferAttribute(part.positions.slice(), 3));
  geometry.setAttribute("skinIndex", new BufferAttribute(Uint16Array.from(part.skin!.joints), 4));
  geometry.setAttribute("skinWeight", new BufferAttribute(part.skin!.weights.slice(), 4));
  geometry.setIndex(new BufferAttribute(triangles[index]!.slice(), 1));
  geometry.morphTargetsRelative = true;
  geometry.morphAttributes["position"] = character.shapes.map((s) => {
    const dense = new Float32Array(part.positions.length);
    for (const d of s.deltas)
      if (d.part === index) d.vertices.forEach((v, k) => dense.set(d.deltas.subarray(3 * k, 3 * k + 3), 3 * v));
    return new BufferAttribute(dense, 3);
  });
  const bones = skeleton.joints.map((j) => {
    const bone = new Bone();
    bone.position.set(...j.translation);
    bone.quaternion.set(...j.rotation);
    bone.scale.set(...j.scale);
    return bone;
  });
  skeleton.joints.forEach((j, i) => j.parent >= 0 && bones[j.parent]!.add(bones[i]!));
  const mesh = new SkinnedMesh(geometry, new MeshBasicMaterial());
  mesh.add(bones[0]!);
  const inverses = skeleton.joints.map((_, j) =>
    new Matrix4().fromArray(Array.from(skeleton.inverseBinds.subarray(16 * j, 16 * j + 16))),
  );
  mesh.bind(new ThreeSkeleton(bones, inverses), new Matrix4());
  const places = new Float32Array(part.positions.length);
  const point = new Vector3();
  const still = new Float64Array(3 * skeleton.joints.length);
  return {
    pose: (moment) => {
      const now = evaluate(character, moment);
      skeleton.joints.forEach((j, i) => {
        bones[i]!.quaternion.set(...j.rotation).multiply(new Quaternion(...turnOf(now.turns, i)));
        bones[i]!.position.set(...j.translation).add(new Vector3().fromArray(now.travel ?? still, 3 * i));
      });
      character.shapes.forEach((_, i) => (mesh.morphTargetInfluences![i] = now.weights[i]!));
    },
    deform: () => {
      mesh.updateMatrixWorld(true);
      mesh.skeleton.update();
      for (let v = 0; v < places.length / 3; v++) mesh.getVertexPosition(v, point).toArray(places, 3 * v);
      const posed = new BufferGeometry();
      posed.setAttribute("position", new BufferAttribute(places, 3));
      posed.setIndex(geometry.index);
      posed.computeVertexNormals();
      return places;
    },
  };
}
