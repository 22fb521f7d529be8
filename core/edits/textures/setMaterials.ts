import type { Character, Material } from "../../model/character";
import { UserError } from "../../model/userError";
import type { MadeMap, MaterialSettings } from "./makeMaps";

/** @throws UserError when the character has no such material. */
function needMaterial({ materials }: Character, name: string): void {
  if (!materials.some((m) => m.name === name))
    throw new UserError(`There is no material named ${name}.`, "materials", "");
}

/** The character with maps in its materials, each in place of the one that was there. @throws UserError */
export function takeMaps(character: Character, maps: readonly MadeMap[]): Character {
  maps.forEach((m) => needMaterial(character, m.material));
  return {
    ...character,
    materials: character.materials.map((m) =>
      maps.filter((map) => map.material === m.name).reduce((now, map) => withMap(now, map), m),
    ),
  };
}

function withMap(material: Material, { slot, name, mimeType, bytes }: MadeMap): Material {
  if (slot === "base colour") return { ...material, texture: { name, mimeType, bytes } };
  const others = (material.maps ?? []).filter((m) => m.slot !== slot);
  return { ...material, maps: [...others, { slot, name, mimeType, bytes, strength: 1 }] };
}

/** The character with materials set otherwise; what a setting leaves out stays. @throws UserError */
export function setMaterials(character: Character, settings: readonly MaterialSettings[]): Character {
  settings.forEach((s) => needMaterial(character, s.material));
  const of = new Map(settings.map((s) => [s.material, s]));
  return {
    ...character,
    materials: character.materials.map((m): Material => {
      const set = of.get(m.name);
      if (!set) return m;
      const { material: _, baseColor, emissive, ...rest } = set;
      const given = Object.fromEntries(Object.entries(rest).filter(([, v]) => v !== undefined));
      return {
        ...m,
        ...given,
        ...(baseColor ? { baseColor: [...baseColor, m.baseColor[3]] as const } : {}),
        ...(emissive ? { emissive } : {}),
      };
    }),
  };
}

/** The character without a map of a material. @throws UserError */
export function dropMap(character: Character, material: string, slot: MadeMap["slot"]): Character {
  needMaterial(character, material);
  return {
    ...character,
    materials: character.materials.map((m): Material => {
      if (m.name !== material) return m;
      if (slot === "base colour") return { ...m, texture: null };
      return { ...m, maps: (m.maps ?? []).filter((map) => map.slot !== slot) };
    }),
  };
}
