import { mirrorDeltas, mirrorDriver, mirrorName } from "../../core/correctives/mirrorCorrective";
import { proposeSculpt, sculptMoment } from "../../core/correctives/proposeSculpt";
import { makeRig } from "../../core/deform/rig";
import { makeJointGauge } from "../../core/measure/measureJoint";
import type { Character, Driver, Shape, ShapeDriver } from "../../core/model/character";
import { lidInBetween } from "../../core/shapes/lidInBetween";
import { humanoidMap } from "../../core/skeleton/humanoidMap";
import { jointMotions, motionPose } from "../../core/skeleton/jointMotions";

/** Motions of the left side that get a corrective, and the angle at which it is at full, degrees. The right side gets the mirror image. */
const CORRECTED: readonly (readonly [bone: string, motion: string, degrees: number, label: string])[] = [
  ["LowerArm", "bend", 140, "elbow bent"], ["LowerLeg", "bend", 125, "knee bent"],
  ["UpperArm", "twist", 70, "upper arm turned out"], ["UpperArm", "twist", -70, "upper arm turned in"], ["LowerArm", "twist", 80, "forearm turned out"], ["LowerArm", "twist", -80, "forearm turned in"],
];
/** Share of the full angle at which a corrective sets in. */
const SETS_IN = 0.3;

/** Correctives for bends and twists, proposed by measure, each driven by its joint. */
export function withCorrectives(character: Character): Character {
  const rig = makeRig(character);
  const skeleton = character.skeleton!;
  const motions = jointMotions(skeleton, humanoidMap(skeleton, character.jointMap));
  const made = CORRECTED.flatMap(([bone, name, degrees, label]) => {
    const motion = motions.find((m) => m.bone === `left${bone}` && m.name === name)!;
    const gauge = makeJointGauge(rig, skeleton.joints.findIndex((j) => j.name === motion.joint));
    const proposal = gauge && proposeSculpt(gauge, sculptMoment(motionPose(motion, degrees)));
    if (!proposal) return [];
    const shape = `corrective_${label.replaceAll(" ", "_")}_left`;
    const left = { shape: { name: shape, label: `${label}, left`, deltas: proposal.deltas }, driver: { shape, joint: motion.joint, axis: motion.axis, fromDegrees: Math.round(SETS_IN * degrees), toDegrees: degrees, easing: "smooth", intensity: 1, enabled: true } satisfies Driver };
    const name2 = mirrorName(shape);
    const right = { shape: { name: name2, label: mirrorName(left.shape.label), deltas: mirrorDeltas(character, proposal.deltas).deltas }, driver: { ...mirrorDriver(character, left.driver), shape: name2 } };
    return [left, right];
  });
  return { ...character, shapes: [...character.shapes, ...made.map((m) => m.shape)], drivers: [...character.drivers, ...made.map((m) => m.driver)] };
}

/** In-betweens that keep the lids on their way round the eyeball when the eyes close: of the one-sided units, read by the presets too. */
export function withLidHelpers(character: Character): Character {
  const shapes: Shape[] = [];
  const shapeDrivers: ShapeDriver[] = [];
  for (const side of ["left", "right"] as const) {
    const shut = character.shapes.find((s) => s.name === `AU43_${side}`);
    const made = shut && lidInBetween(character, shut, `AU43_${side}_halfway`, `eyes half closed, ${side}`);
    if (!made) continue;
    shapes.push(made.shape);
    const presets = ["blink", side === "left" ? "blinkLeft" : "blinkRight"].filter((name) => character.shapes.some((s) => s.name === name));
    shapeDrivers.push(made.driver, ...presets.map((name): ShapeDriver => ({ ...made.driver, of: [name] })));
  }
  return { ...character, shapes: [...character.shapes, ...shapes], shapeDrivers: [...character.shapeDrivers, ...shapeDrivers] };
}
