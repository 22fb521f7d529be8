import { humanoidMap } from "../../skeleton/humanoidMap";
import { armsAt, rebind } from "../../skeleton/rebind";
import { HUMANOID_BONES, REQUIRED_BONES } from "../../names/humanoidBones";
import { eyeballsOf } from "../../measure/eyeballs";
import { worldMatrices } from "../../evaluate/poseSkeleton";
import { translationOf } from "../../math/mat4";
import type { Character, Mix } from "../../model/character";
import { UserError } from "../../model/userError";
import { VRM_PRESETS } from "../../names/shapeMeaning";
import { writeGlb } from "../glb/writeGlb";
import { mapGlbJson } from "./glbJson";
import { rollConstraints } from "./rollConstraints";
import { withKept } from "./keptOfVrm";
import type { VrmExpression, VrmExtension } from "./vrmSchema";

/** The licence that the VRM 1.0 specification lets a model name: its own public licence. */
const LICENCE = "https://vrm.dev/licenses/1.0/";

interface GltfNames {
  readonly nodes?: readonly { readonly name?: string; readonly mesh?: number }[];
  readonly meshes?: readonly { readonly extras?: { readonly targetNames?: readonly string[] } }[];
}

/**
 * Writes a character as VRM 1.0: the GLB with humanoid bones, expressions and look-at added. Presets and custom
 * expressions come from the mixes, and from shapes that
 * are presets by name, and what a VRM brought beside them (terms, springs, constraints, ranges of the look-at) goes
 * back; what is driven travels as its own morph targets. VRM asks for a T pose: arms that are not level are bound so
 * first. @param authors named in the file's meta. @throws UserError when a required bone is not mapped.
 */
export async function writeVrm(
  character: Character,
  authors: readonly string[] = ["made with Yxomorph"],
): Promise<Uint8Array> {
  const level = inTPose(character);
  return addVrm(await writeGlb(level), level, authors);
}

/** Turns smaller than this are no reason to bind anew, degrees. */
const LEVEL = 1;

/** The character bound with level arms; as it is where they are level already, or no arms are mapped. */
function inTPose(character: Character): Character {
  if (
    !character.skeleton ||
    !["leftUpperArm", "rightUpperArm", "leftLowerArm", "rightLowerArm"].every((b) =>
      humanoidMap(character.skeleton!, character.jointMap).jointOfBone.has(b),
    )
  )
    return character;
  const pose = armsAt(character, 0);
  return Object.values(pose).some((a) => a.some((x) => Math.abs(x) > LEVEL)) ? rebind(character, pose) : character;
}

/** Adds the VRM extension to a GLB that was written of the character. */
export function addVrm(
  glb: Uint8Array,
  character: Character,
  authors: readonly string[] = ["made with Yxomorph"],
): Uint8Array {
  const { skeleton } = character;
  const map = skeleton && humanoidMap(skeleton, character.jointMap);
  const missing = REQUIRED_BONES.filter((b) => !map?.jointOfBone.has(b));
  if (!skeleton || !map || missing.length)
    throw new UserError(
      `VRM 1.0 needs ${missing.length ? missing.join(", ") : "a skeleton"}.`,
      character.name,
      "Map the joints at the skeleton's station.",
    );
  return mapGlbJson(glb, (json) => {
    const { nodes = [], meshes = [] } = json as GltfNames;
    // joints are written before parts: the first node of a name is the joint
    const nodeOf = new Map<string, number>();
    nodes.forEach(
      (n, i) => n.mesh === undefined && n.name !== undefined && !nodeOf.has(n.name) && nodeOf.set(n.name, i),
    );
    const bones = HUMANOID_BONES.flatMap((bone) => {
      const joint = map.jointOfBone.get(bone);
      const node = joint === undefined ? undefined : nodeOf.get(skeleton.joints[joint]!.name);
      return node === undefined ? [] : [[bone, { node }] as const];
    });
    const meshNodeOf = new Map(
      nodes.flatMap((n, i) => (n.mesh !== undefined && n.name !== undefined ? [[n.name, i] as const] : [])),
    );
    const rolls = rollConstraints(character);
    const kept = Object.keys(rolls).length
      ? { ...character.vrm, constraints: { ...character.vrm?.constraints, ...rolls } }
      : character.vrm;
    const targets = nodes.flatMap((n, node) =>
      n.mesh === undefined
        ? []
        : (meshes[n.mesh]?.extras?.targetNames ?? []).map((name, index) => ({ name, node, index })),
    );
    const extension: VrmExtension = {
      specVersion: "1.0",
      // terms that the character came with are its makers'; they stay
      meta: {
        name: character.name,
        authors: [...authors],
        licenseUrl: LICENCE,
        ...(kept?.meta ?? {
          avatarPermission: "onlyAuthor",
          commercialUsage: "personalNonProfit",
          creditNotation: "required",
          modification: "prohibited",
        }),
      },
      humanoid: { humanBones: Object.fromEntries(bones) },
      expressions: expressionsOf(character, targets),
      lookAt: lookAt(character, map.jointOfBone),
    };
    return withKept(json, kept, extension, nodeOf, meshNodeOf);
  });
}

interface Target {
  readonly name: string;
  readonly node: number;
  readonly index: number;
}

function expressionsOf(character: Character, targets: readonly Target[]): NonNullable<VrmExtension["expressions"]> {
  const presets = new Set<string>(VRM_PRESETS);
  const mixes = character.mixes ?? [];
  const taken = new Set(mixes.map((m) => m.name));
  const all: Mix[] = [
    ...mixes,
    ...character.shapes
      .filter((s) => presets.has(s.name) && !taken.has(s.name))
      .map((s) => ({ name: s.name, shares: [{ shape: s.name, weight: 1 }] })),
  ];
  const out = { preset: {} as Record<string, VrmExpression>, custom: {} as Record<string, VrmExpression> };
  for (const mix of all) {
    const binds = mix.shares.flatMap(({ shape, weight }) =>
      targets
        .filter((t) => t.name === shape)
        .map(({ node, index }) => ({ node, index, weight: Math.min(1, Math.max(0, weight)) })),
    );
    const blocks = (what: string): "block" | "none" => (mix.blocks?.includes(what as never) ? "block" : "none");
    const own = character.vrm?.expressions?.[mix.name];
    const plain: VrmExpression = {
      morphTargetBinds: binds,
      isBinary: false,
      overrideBlink: blocks("blink"),
      overrideLookAt: blocks("gaze"),
      overrideMouth: blocks("mouth"),
    };
    // what is held still here goes before what the file blended
    const kept = Object.entries(own ?? {}).filter(([key]) => !key.startsWith("override") || plain[key] === "none");
    out[presets.has(mix.name) ? "preset" : "custom"][mix.name] = { ...plain, ...Object.fromEntries(kept) };
  }
  return out;
}

/**
 * Gaze by the eyes' own joints where both are mapped, else by the look presets; the origin lies between the eyes, from
 * the head's joint.
 */
function lookAt(character: Character, joints: ReadonlyMap<string, number>): object {
  const eyes = eyeballsOf(character);
  const world = worldMatrices(character.skeleton!, {});
  const head = translationOf(world, 16 * joints.get("head")!);
  const between =
    eyes.length >= 2 ? [0, 1, 2].map((c) => (eyes[0]!.centre[c]! + eyes[1]!.centre[c]!) / 2 - head[c]!) : [0, 0.06, 0];
  const byJoint = joints.has("leftEye") && joints.has("rightEye");
  const range = (output: number): object => ({ inputMaxValue: 90, outputScale: output });
  const turn = byJoint ? [10, 12, 10, 10] : [1, 1, 1, 1];
  const own = character.vrm?.lookAt;
  // ranges of another kind of look-at are in another unit
  const kept =
    own && own["type"] === (byJoint ? "bone" : "expression")
      ? Object.fromEntries(Object.entries(own).filter(([key]) => key.startsWith("rangeMap")))
      : {};
  return {
    type: byJoint ? "bone" : "expression",
    offsetFromHeadBone: between.map((x) => Number(x.toFixed(5))),
    rangeMapHorizontalInner: range(turn[0]!),
    rangeMapHorizontalOuter: range(turn[1]!),
    rangeMapVerticalDown: range(turn[2]!),
    rangeMapVerticalUp: range(turn[3]!),
    ...kept,
  };
}
