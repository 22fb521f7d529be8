import { PROFILES } from "../../core/checks/profile";
import { mirrorDriver } from "../../core/correctives/mirrorCorrective";
import { mirrorDeltas, mirrorName } from "../../core/shapes/mirrorDeltas";
import { proposeForRange, type PoseLimits } from "../../core/correctives/proposeForRange";
import { makeRig } from "../../core/deform/rig";
import { makeJointGauge } from "../../core/measure/measureJoint";
import type { Character, Driver, Shape, ShapeDriver } from "../../core/model/character";
import { lidInBetween } from "../../core/shapes/lidInBetween";
import { humanoidMap } from "../../core/skeleton/humanoidMap";
import { jointMotions } from "../../core/skeleton/jointMotions";

/** Words for the two ends of a motion of the left side: below rest, beyond rest. */
const ENDS: Readonly<Record<string, readonly [below: string, beyond: string]>> = {
  "UpperArm raise": ["arm down", "arm raised"],
  "UpperArm forward": ["arm back", "arm forward"],
  "UpperArm twist": ["upper arm turned in", "upper arm turned out"],
  "LowerArm bend": ["elbow straightened", "elbow bent"],
  "LowerArm twist": ["forearm turned in", "forearm turned out"],
  "Hand bend": ["wrist raised", "wrist bent"],
  "Hand swing": ["hand swung out", "hand swung in"],
  "UpperLeg forward": ["thigh back", "thigh raised"],
  "UpperLeg out": ["thigh drawn in", "thigh spread"],
  "UpperLeg twist": ["thigh turned in", "thigh turned out"],
  "LowerLeg bend": ["knee straightened", "knee bent"],
};
const FINGER_JOINTS: Readonly<Record<string, string>> = {
  Metacarpal: "root",
  Proximal: "knuckle",
  Intermediate: "middle joint",
  Distal: "end joint",
};

function endName(bone: string, motion: string, end: number): string {
  const known = ENDS[`${bone} ${motion}`]?.[end < 0 ? 0 : 1];
  const [, finger, joint] = /^(Thumb|Index|Middle|Ring|Little)(\w+)$/.exec(bone) ?? [];
  return (
    known ??
    (finger
      ? `${finger.toLowerCase()} ${finger === "Thumb" ? "" : "finger "}${FINGER_JOINTS[joint!]} bent`
      : `${bone} ${motion} ${end < 0 ? "below" : "beyond"}`)
  );
}

/** Within the film profile, with some room, so that angles between those measured keep to it too. */
const LIMITS: PoseLimits = {
  volume: PROFILES.film.limits["pose.volume.warn"]! + 0.005,
  depth: PROFILES.film.limits["pose.penetration"]! - 1,
  stretch: PROFILES.film.limits["pose.stretch"]! - 0.05,
};

/**
 * Correctives for every motion of the left side that is over the limits, proposed by measure, each driven by its joint;
 * the right side gets the mirror images.
 */
export function withCorrectives(character: Character): Character {
  const rig = makeRig(character);
  const skeleton = character.skeleton!;
  const made = jointMotions(skeleton, humanoidMap(skeleton, character.jointMap))
    .filter((m) => m.bone.startsWith("left"))
    .flatMap((motion) => {
      const gauge = makeJointGauge(
        rig,
        skeleton.joints.findIndex((j) => j.name === motion.joint),
      );
      return [motion.min, motion.max].flatMap((end) => {
        if (end === 0 || !gauge) return [];
        const label = endName(motion.bone.slice("left".length), motion.name, end);
        const steps = proposeForRange(gauge, motion, end, LIMITS, {
          name: `corrective_${label.replaceAll(" ", "_")}_left`,
          label: `${label}, left`,
        });
        let step = steps.next();
        while (!step.done) step = steps.next();
        return (step.value?.made ?? []).flatMap(({ shape, driver }) => {
          const name = mirrorName(shape.name);
          return [
            { shape, driver },
            {
              shape: { name, label: mirrorName(shape.label), deltas: mirrorDeltas(character, shape.deltas).deltas },
              driver: { ...mirrorDriver(character, driver), shape: name } satisfies Driver,
            },
          ];
        });
      });
    });
  return {
    ...character,
    shapes: [...character.shapes, ...made.map((m) => m.shape)],
    drivers: [...character.drivers, ...made.map((m) => m.driver)],
  };
}

/**
 * In-betweens that keep the lids on their way round the eyeball when the eyes close: of the one-sided units, read by
 * the presets too.
 */
export function withLidHelpers(character: Character): Character {
  const shapes: Shape[] = [];
  const shapeDrivers: ShapeDriver[] = [];
  for (const side of ["left", "right"] as const) {
    const shut = character.shapes.find((s) => s.name === `AU43_${side}`);
    const made = shut && lidInBetween(character, shut, `AU43_${side}_halfway`, `eyes half closed, ${side}`);
    if (!made) continue;
    shapes.push(made.shape);
    const presets = ["blink", side === "left" ? "blinkLeft" : "blinkRight"].filter((name) =>
      character.shapes.some((s) => s.name === name),
    );
    shapeDrivers.push(made.driver, ...presets.map((name): ShapeDriver => ({ ...made.driver, of: [name] })));
  }
  return {
    ...character,
    shapes: [...character.shapes, ...shapes],
    shapeDrivers: [...character.shapeDrivers, ...shapeDrivers],
  };
}
