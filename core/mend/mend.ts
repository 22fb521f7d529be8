import type { Finding } from "../checks/finding";
import { likelyUnit } from "../checks/delivery/scaleStature";
import type { Character } from "../model/character";
import { untold, type ShareDone } from "../model/shareDone";
import { REST_BEND } from "../skeleton/hinges";
import { refitEye, refitJoints } from "../skeleton/refitJoints";
import { restToBind } from "../skeleton/restToBind";
import { shrinkTextures } from "../textures/shrinkTextures";
import { UserError } from "../model/userError";
import { dropLastKey, mendClip } from "./mendClip";
import { drawBack, pushLidsOut } from "./mendFace";
import { shutLids } from "./mendLids";
import { partLips, sealLips } from "./mendLips";
import { scaleToUnit, standAsFound } from "./mendStance";
import { mendFaces } from "./mendFaces";
import { mendMaterial, removePart } from "./mendParts";
import { bendAtRest, bindUnbound, centreEye, dropJoint, hangOnHead, nameBySide, straightenFrame } from "./mendSkeleton";
import { carryShape, cutSideLeak, denoiseShape, mirrorBetter, removeShape, unturnShape } from "./mendShapes";
import { bindRigidly, limitInfluences, normalizeWeights, reclaimStray } from "./mendWeights";

/** Where a finding stands: what a repair needs to know of it. */
export type MendPlace = Pick<Finding, "check" | "part" | "joint" | "shape" | "clip" | "limit"> & {
  readonly value?: number | null;
};

interface Mend {
  /** What the repair does, as a sentence for the button's preview. */
  readonly says: (place: MendPlace) => string | null;
  readonly apply: (character: Character, place: MendPlace, tell: ShareDone) => Character;
}

/** Repairs that lose nothing a rigger would miss, one for each check that has a safe one. */
const MENDS: Readonly<Record<string, Mend>> = {
  "mesh.loose": {
    says: (f) => `Removes the vertices of ${f.part} that no face uses; shapes and weights of the others stay.`,
    apply: (c, f) => mendFaces(c, f.part!, "loose"),
  },
  "mesh.degenerate": {
    says: (f) => `Takes out the faces of ${f.part} that have no area; a quad with one corner twice becomes a triangle.`,
    apply: (c, f) => mendFaces(c, f.part!, "degenerate"),
  },
  "mesh.doubled": {
    says: (f) => `Deletes the copies of faces of ${f.part}; the first of each stays.`,
    apply: (c, f) => mendFaces(c, f.part!, "doubled"),
  },
  "mesh.inside-out": {
    says: (f) => `Turns the inward shells of ${f.part} round.`,
    apply: (c, f) => mendFaces(c, f.part!, "inside-out"),
  },
  "parts.material-opacity": {
    says: (f) => `Sets the opaque materials of ${f.part} to blend.`,
    apply: (c, f) => mendMaterial(c, f.part!),
  },
  "parts.texture-size": {
    says: (f) =>
      `Brings the textures of ${f.part} down to ${f.limit} pixels ` +
      "on the longer side, averaged by area in linear light.",
    apply: (c, f, tell) => shrinkTextures(c, f.limit!, f.part, tell),
  },
  "parts.unplaced": { says: (f) => `Leaves out ${f.part}.`, apply: (c, f) => removePart(c, f.part!) },
  "mesh.non-manifold": {
    says: (f) =>
      `Takes off faces of ${f.part} that hang on an edge by one ` +
      "side only, and parts the surface where whole pieces meet.",
    apply: (c, f) => mendFaces(c, f.part!, "non-manifold"),
  },
  "scale.stance": {
    says: () => "Turns the whole figure upright, its face to the front: mesh, skeleton, shapes and clips together.",
    apply: (c) => standAsFound(c),
  },
  "scale.stature": {
    says: (f) =>
      f.value && likelyUnit(f.value)
        ? `Scales the whole character by ${Number((1 / likelyUnit(f.value)!.factor).toPrecision(4))}: ` +
          "mesh, skeleton, shapes and clips together."
        : null,
    apply: (c) => scaleToUnit(c),
  },
  "skeleton.names": {
    says: (f) =>
      `Gives ${f.joint} the word of the side it stands on, here and in ` +
      "clips and drivers; two joints that are swapped exchange their names.",
    apply: (c, f) => nameBySide(c, f.joint!),
  },
  "skeleton.rest-bind": {
    says: () =>
      "Sets every joint back to where it was bound, so that the skeleton " +
      "stands in the pose of the mesh. Mesh, weights and clips stay.",
    apply: (c) => restToBind(c),
  },
  "skeleton.straight-hinge": {
    says: (f) =>
      `Bends ${f.joint} a little the right way: the limb's mirror image where ` +
      `the other side is bent, else by ${REST_BEND} degrees. The mesh stays.`,
    apply: (c, f) => bendAtRest(c, f.joint!),
  },
  "skeleton.hinge-axis": {
    says: (f) => `Turns the frame of ${f.joint} square to the plane of its limb; clips and drivers go along.`,
    apply: (c, f) => straightenFrame(c, f.joint!),
  },
  "skeleton.parenting": {
    says: (f) =>
      f.part
        ? `Binds all of ${f.part} to the head, or to the jaw what belongs there.`
        : `Hangs ${f.joint} under the head; it stays where it is.`,
    apply: (c, f) => hangOnHead(c, f.joint!, f.part),
  },
  "skeleton.eye-centre": {
    says: (f) =>
      f.shape
        ? `Sends ${f.joint} along with ${f.part} in ${f.shape}.`
        : `Moves ${f.joint} into the centre of ${f.part}.`,
    apply: (c, f) => (f.shape ? refitEye(c, f.shape, f.joint!) : centreEye(c, f.joint!, f.part!)),
  },
  "skeleton.end-joints": { says: (f) => `Removes ${f.joint}.`, apply: (c, f) => dropJoint(c, f.joint!) },
  "weights.unbound": {
    says: (f) =>
      `Binds ${f.part}: clothes and what sits on the skin as the skin ` +
      "next to them, hair to the head, eyes and teeth to their joint.",
    apply: (c, f) => bindUnbound(c, f.part!),
  },
  "weights.sum": {
    says: (f) => `Scales the weights of every vertex of ${f.part} to a sum of 1.`,
    apply: (c, f) => normalizeWeights(c, f.part!),
  },
  "weights.count": {
    says: (f) => `Keeps the ${f.limit} heaviest joints of each vertex of ${f.part} and scales them to a sum of 1.`,
    apply: (c, f) => limitInfluences(c, f.part!, f.limit!),
  },
  "weights.rigid-parts": {
    says: (f) => `Binds all of ${f.part} to the joint that holds most of it.`,
    apply: (c, f) => bindRigidly(c, f.part!),
  },
  "weights.stray": {
    says: (f) => `Gives the stray vertices of ${f.part} the weights of the nearest vertex that is not astray.`,
    apply: (c, f) => reclaimStray(c, f.part!, f.joint!),
  },
  "shapes.empty": { says: (f) => `Removes the shape ${f.shape}.`, apply: (c, f) => removeShape(c, f.shape!) },
  "shapes.double": {
    says: (f) => `Removes the shape ${f.shape}; the base goes on holding it.`,
    apply: (c, f) => removeShape(c, f.shape!),
  },
  "shapes.flip": {
    says: (f) => `Evens the movement out round the faces of ${f.part} that ${f.shape} turns over, until none is left.`,
    apply: (c, f) => unturnShape(c, f.shape!, f.part!),
  },
  "shapes.side-leak": {
    says: (f) => `Fades ${f.shape} out over the middle, over 2 cm.`,
    apply: (c, f) => cutSideLeak(c, f.shape!),
  },
  "shapes.followers": {
    says: (f) => `Gives ${f.part} the movement of the skin next to it in ${f.shape}.`,
    apply: (c, f) => carryShape(c, f.part!, f.shape!),
  },
  "shapes.joints": {
    says: (f) => `Lets every joint go with the ring of skin round it in ${f.shape}, as offsets of the shape.`,
    apply: (c, f) => refitJoints(c, f.shape!),
  },
  "shapes.noise": {
    says: (f) =>
      `Smooths the movement of ${f.part} in ${f.shape} until it is within the limit; the surface's own detail stays.`,
    apply: (c, f) => denoiseShape(c, f.shape!, f.part!, f.limit!),
  },
  "shapes.symmetry": {
    says: (f) => `Of ${f.shape} and its counterpart, the one that moves less becomes the mirror image of the other.`,
    apply: (c, f) => mirrorBetter(c, f.shape!),
  },
  "face.eye-through-lid": {
    says: (f) => `Pushes the lids in ${f.shape} out along the eyeball, both layers together, until they lie on it.`,
    apply: (c, f) => pushLidsOut(c, f.shape!, f.part!),
  },
  "face.lid-gap": {
    says: (f) =>
      `Slides the lids along the eyeball in ${f.shape} until they meet, ` +
      "the upper one most of the way; lashes and tear lines go along.",
    apply: (c, f) => shutLids(c, f.shape!, f.limit!),
  },
  "face.lip-seal": {
    says: (f) =>
      `Brings the lips together in ${f.shape}, each by half of what is open; the skin round them goes along.`,
    apply: (c, f) => sealLips(c, f.shape!, f.limit!),
  },
  "face.lip-cross": {
    says: (f) => `Draws the lips apart in ${f.shape} where one goes into the other, each by half of the depth.`,
    apply: (c, f) => partLips(c, f.shape!, f.limit!),
  },
  "face.tongue-through": {
    says: (f) => `Takes back as much of what ${f.shape} does to ${f.part} as stands out of the skin.`,
    apply: (c, f) => drawBack(c, f.shape!, f.part!, f.limit!),
  },
  "face.teeth-through": {
    says: (f) => `Takes back as much of what ${f.shape} does to ${f.part} as stands out of the skin.`,
    apply: (c, f) => drawBack(c, f.shape!, f.part!, f.limit!),
  },
  "clip.loop": {
    says: (f) =>
      f.limit === 0 ? `Drops the last key of every track of ${f.clip}, which repeats the one before it.` : null,
    apply: (c, f) => dropLastKey(c, f.clip!),
  },
  "clip.scale-keys": {
    says: (f) => `Removes the scale keys of ${f.joint} from ${f.clip}.`,
    apply: (c, f) => mendClip(c, f.clip!, (t) => !(t.path === "scale" && t.joint === f.joint)),
  },
  "clip.translation-keys": {
    says: (f) => `Removes the translation keys of ${f.joint} from ${f.clip}.`,
    apply: (c, f) => mendClip(c, f.clip!, (t) => !(t.path === "translation" && t.joint === f.joint)),
  },
};

/** What one click would do about a finding, or null when no repair is safe. */
export const mendSentence = (finding: MendPlace): string | null => MENDS[finding.check]?.says(finding) ?? null;

/** The character after the repair. @throws UserError when there is none for the check, or its place is gone. */
export function mend(character: Character, place: MendPlace, tell: ShareDone = untold): Character {
  const found = MENDS[place.check];
  if (!found)
    throw new UserError(
      `There is no safe repair for ${place.check}.`,
      "mend",
      "Repair it where the character was made.",
    );
  return found.apply(character, place, tell);
}
