import type { Character } from "../../core/model/character";
import { capPart, hairPart } from "../figure/figureParts";
import { CAP_MATERIAL } from "../figure/materials";
import type { HairStyle } from "../figure/parts/hair";

/** The base figure with other hair; hair under a cap comes with the cap, as a last part. */
export function withHair(base: Character, style: HairStyle): Character {
  const parts = base.parts.map((p) => (p.name === "hair" ? hairPart(style) : p));
  if (style !== "under a cap") return { ...base, parts };
  return { ...base, parts: [...parts, capPart(base.materials.length)], materials: [...base.materials, CAP_MATERIAL] };
}
