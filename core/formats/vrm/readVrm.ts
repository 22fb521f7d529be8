import type { Character, Mix, MixBlock } from "../../model/character";
import { cleanName } from "../../model/cleanName";
import { HUMANOID_BONES } from "../../names/humanoidBones";
import { schemaFault } from "../../model/schemaWords";
import type { GltfJson } from "../glb/preflight";
import { keptOfVrm } from "./keptOfVrm";
import { twistsOfRolls } from "./rollConstraints";
import { vrmSchema, type VrmExpression, type VrmExtension } from "./vrmSchema";

/**
 * What the VRM extension of a glTF file says of a character: its joint map, its expressions, and what is carried along.
 * Null where the file is no VRM.
 */
export function readVrm(
  json: GltfJson,
  character: Character,
): Pick<Character, "jointMap" | "mixes" | "notes" | "vrm" | "twistJoints"> | null {
  const raw = (json["extensions"] as Record<string, unknown> | undefined)?.["VRMC_vrm"];
  if (raw === undefined) return null;
  const read = vrmSchema.safeParse(raw);
  const left = (what: string): Pick<Character, "jointMap" | "mixes" | "notes"> => ({
    jointMap: character.jointMap,
    mixes: character.mixes ?? [],
    notes: [...character.notes, what],
  });
  if (!read.success) {
    const { what, where } = schemaFault(read.error);
    return left(`The VRM part of the file could not be read (${where}: ${what}) and was left out.`);
  }
  const { kept, notes } = keptOfVrm(json, read.data);
  const shared = new Set(character.twistJoints?.map((t) => t.joint));
  const rolls =
    kept?.constraints && character.skeleton
      ? twistsOfRolls(kept.constraints, character.skeleton).filter((t) => !shared.has(t.joint))
      : [];
  return {
    jointMap: jointMapOf(read.data, json, character),
    mixes: [...(character.mixes ?? []), ...mixesOf(read.data, json, character)],
    notes: [...character.notes, ...notes],
    ...(kept ? { vrm: kept } : {}),
    ...(rolls.length ? { twistJoints: [...(character.twistJoints ?? []), ...rolls] } : {}),
  };
}

/** The character's own map, and the bones that the file names beyond it. */
function jointMapOf({ humanoid }: VrmExtension, { nodes = [] }: GltfJson, character: Character): Character["jointMap"] {
  const joints = new Set(character.skeleton?.joints.map((j) => j.name));
  const jointMap = { ...character.jointMap };
  for (const [bone, { node }] of Object.entries(humanoid.humanBones)) {
    const name = nodes[node]?.name;
    if (name !== undefined && joints.has(name) && HUMANOID_BONES.includes(bone) && jointMap[name] === undefined)
      jointMap[name] = bone;
  }
  return jointMap;
}

/** The file's expressions as mixes, those left out that the character has or that one shape is by itself. */
function mixesOf({ expressions }: VrmExtension, json: GltfJson, character: Character): Mix[] {
  const shapes = new Set(character.shapes.map((s) => s.name));
  const known = new Set((character.mixes ?? []).map((m) => m.name));
  return [...Object.entries(expressions?.preset ?? {}), ...Object.entries(expressions?.custom ?? {})].flatMap(
    ([name, e]): Mix[] => {
      if (known.has(name) || name !== cleanName(name) || name === "") return [];
      const weights = new Map<string, number>();
      for (const b of e.morphTargetBinds ?? []) {
        const shape = targetName(json, b.node, b.index);
        if (shape !== undefined && shapes.has(shape)) weights.set(shape, Math.max(weights.get(shape) ?? 0, b.weight));
      }
      const shares = [...weights].map(([shape, weight]) => ({ shape, weight }));
      // a preset that is a shape of its own name needs no mix
      if (shares.length === 0 || (shares.length === 1 && shares[0]!.shape === name)) return [];
      const blocks = blocksOf(e);
      return [{ name, shares, ...(blocks.length ? { blocks } : {}) }];
    },
  );
}

function targetName({ nodes, meshes }: GltfJson, node: number, index: number): string | undefined {
  const mesh = nodes?.[node]?.mesh;
  if (mesh === undefined) return undefined;
  return (meshes?.[mesh] as { extras?: { targetNames?: string[] } } | undefined)?.extras?.targetNames?.[index];
}

const blocksOf = (e: VrmExpression): MixBlock[] => [
  ...(e.overrideBlink === "block" ? ["blink" as const] : []),
  ...(e.overrideLookAt === "block" ? ["gaze" as const] : []),
  ...(e.overrideMouth === "block" ? ["mouth" as const] : []),
];
