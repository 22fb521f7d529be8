import { refitJoints } from "../../edits/skeleton/refitJoints";
import { amount, check } from "../check";
import { isDriven } from "../../model/character";
import { jointNeighbourhoods } from "../../skeleton/jointNeighbourhoods";
import { finding, type Finding } from "../finding";

/** Joints of the face move with its shapes by themselves, or are meant to. */
const OF_THE_FACE = /^(jaw|leftEye|rightEye|head)$/;

/** Shapes that move the flesh round a joint and leave the joint where it is. */
export const shapesJoints = check({
  id: "shapes.joints",
  title: "Proportion shapes without joint offsets",
  station: "shapes",
  unit: "mm",
  measures: "shapes that move the body round a joint and carry no joint offset",
  severity: "error",
  limits: { "shapes.joints": amount(5) },
  source: "common practice, no source: joints move with the body",
  waitsFor: "stance and size",
  mend: {
    says: (f) => `Lets every joint go with the ring of skin round it in ${f.shape}, as offsets of the shape.`,
    apply: (c, f) => refitJoints(c, f.shape!),
  },
  run: (character, { humanoid, limits, cache }) => {
    const limit = limits["shapes.joints"];
    const { skeleton } = character;
    const body = character.parts.findIndex((p) => p.kind === "body");
    if (!skeleton || !humanoid || body < 0 || limit === null) return [];
    if (!cache.has("neighbourhoods"))
      cache.set("neighbourhoods", jointNeighbourhoods(character.parts[body]!, skeleton));
    const rings = cache.get("neighbourhoods") as ReturnType<typeof jointNeighbourhoods>;
    return character.shapes.flatMap((shape): Finding[] => {
      const delta = shape.deltas.find((d) => d.part === body);
      // a corrective swells the flesh at a bent joint; it is not a build
      if (!delta || isDriven(character, shape.name)) return [];
      const row = new Map(Array.from(delta.vertices, (v, k) => [v, k]));
      const off = skeleton.joints
        .flatMap((joint, j) => {
          const bone = humanoid.boneOfJoint[j];
          const ring = rings[j]!;
          if (!bone || OF_THE_FACE.test(bone) || ring.length === 0) return [];
          const own = shape.jointOffsets?.find((o) => o.joint === joint.name)?.offset ?? [0, 0, 0];
          const gap = [0, 1, 2].map(
            (c) =>
              ring.reduce((sum, v) => sum + (row.has(v) ? delta.deltas[3 * row.get(v)! + c]! : 0), 0) / ring.length -
              own[c]!,
          );
          return [{ joint: joint.name, mm: 1000 * Math.hypot(...gap), has: shape.jointOffsets !== undefined }];
        })
        .filter((o) => o.mm > limit && !o.has)
        .sort((a, b) => b.mm - a.mm);
      const worst = off[0];
      return worst
        ? [
            finding({
              check: "shapes.joints",
              severity: "error",
              shape: shape.name,
              joint: worst.joint,
              value: worst.mm,
              unit: "mm",
              limit,
              message:
                `${shape.label} moves the body round ${off.length} joint${off.length > 1 ? "s" : ""}, ` +
                `${worst.joint} by ${worst.mm.toFixed(1)} mm, and leaves the joints behind; give it joint offsets.`,
            }),
          ]
        : [];
    });
  },
});
