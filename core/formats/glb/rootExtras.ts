import type { Character } from "../../model/character";
import { EXTRAS_VERSION, type RootExtras } from "../extras";
import { writtenPoseDrivers, writtenSampleSets, writtenTwistJoints } from "../poseDrivers";

/** Top-level notes that glTF has no place for: drivers, joint map, labels. Also the content of the sidecar file. */
export function rootExtras(character: Character): RootExtras {
  return {
    version: EXTRAS_VERSION,
    drivers: character.drivers.map((d) => ({
      shape: d.shape,
      joint: d.joint,
      axis: [...d.axis] as [number, number, number],
      fromDegrees: d.fromDegrees,
      toDegrees: d.toDegrees,
      easing: d.easing,
      intensity: d.intensity,
      enabled: d.enabled,
      ...(d.method ? { method: d.method } : {}),
      ...(d.group ? { group: d.group } : {}),
    })),
    shapeDrivers: character.shapeDrivers.map((d) => ({
      shape: d.shape,
      of: [...d.of],
      rule: d.rule,
      ...(d.span ? { span: { ...d.span } } : {}),
      enabled: d.enabled,
    })),
    poseDrivers: writtenPoseDrivers(character),
    sampleSets: writtenSampleSets(character),
    twistJoints: writtenTwistJoints(character),
    mixes: (character.mixes ?? []).map((m) => ({
      name: m.name,
      shares: m.shares.map((x) => ({ ...x })),
      ...(m.blocks?.length ? { blocks: [...m.blocks] } : {}),
    })),
    baked: (character.baked ?? []).map((b) => ({ ...b })),
    ...(character.retargetPose
      ? {
          retargetPose: Object.fromEntries(
            Object.entries(character.retargetPose).map(([j, q]) => [j, [...q] as [number, number, number, number]]),
          ),
        }
      : {}),
    ...(character.vrm ? { vrm: character.vrm as NonNullable<RootExtras["vrm"]> } : {}),
    jointMap: { ...character.jointMap },
    shapeLabels: Object.fromEntries(character.shapes.filter((s) => s.label !== s.name).map((s) => [s.name, s.label])),
    jointOffsets: Object.fromEntries(
      character.shapes.flatMap((s) =>
        s.jointOffsets
          ? [
              [
                s.name,
                s.jointOffsets.map(({ joint, offset }) => ({ joint, offset: [...offset] as [number, number, number] })),
              ],
            ]
          : [],
      ),
    ),
  };
}
