import { z } from "zod";
import { setMaterials } from "../../edits/textures/setMaterials";
import { OPACITY_WORDS } from "../../model/materialLook";
import { materialSettings } from "../materialSettings";
import { few, many, operation } from "./operation";

export const setMaterialsStep = operation({
  op: "set materials",
  schema: z.object({ op: z.literal("set materials"), settings: z.array(materialSettings).min(1).max(5000) }),
  apply: (character, { settings }) => setMaterials(character, settings),
  sentence: ({ settings }) => `set ${few(namesIn(settings), "materials")}${wordsOf(settings)}`,
  list: ({ settings }) => many(namesIn(settings)),
});

const namesIn = (settings: readonly { readonly material: string }[]): string[] => settings.map((s) => s.material);

/** What all of them are set to, in words; empty where they differ. */
function wordsOf(settings: readonly z.infer<typeof materialSettings>[]): string {
  const told = settings.map(({ opacity, alphaCutoff, doubleSided, roughness, metallic }) =>
    [
      opacity && OPACITY_WORDS[opacity],
      alphaCutoff !== undefined && `cut at ${alphaCutoff}`,
      doubleSided !== undefined && (doubleSided ? "both sides drawn" : "front faces drawn"),
      roughness !== undefined && `roughness ${roughness}`,
      metallic !== undefined && `metalness ${metallic}`,
    ]
      .filter(Boolean)
      .join(", "),
  );
  return told[0] && told.every((t) => t === told[0]) ? `: ${told[0]}` : "";
}
