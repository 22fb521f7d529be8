import type { Character, FaceGroup, Material, PartKind } from "../../model/character";
import { sameLook } from "../../model/materialLook";
import { uniqueName } from "../../model/uniqueName";

/**
 * One material for each use: one that parts of several kinds share is given out apart, a copy to each kind after the
 * first; materials that look alike in every setting and serve the same kind become one. Materials that nothing uses go.
 */
export function tidyMaterials(character: Character): Character {
  const made: { readonly material: Material; readonly kind: PartKind; readonly from: number }[] = [];
  const taken = new Set<string>();
  const slotOf = (from: number, kind: PartKind): number => {
    const material = character.materials[from]!;
    const known = made.findIndex((m) => m.kind === kind && (m.from === from || sameLook(m.material, material)));
    if (known >= 0) return known;
    const name = uniqueName(taken.has(material.name) ? `${material.name} ${kind}` : material.name, taken, kind);
    return made.push({ material: { ...material, name }, kind, from }) - 1;
  };
  const parts = character.parts.map((part) => ({
    ...part,
    groups: part.groups.map((g): FaceGroup => ({ ...g, material: slotOf(g.material, part.kind) })),
  }));
  return { ...character, parts, materials: made.map((m) => m.material) };
}
