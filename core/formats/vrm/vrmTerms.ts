import { z } from "zod";
import type { Character } from "../../model/character";

/** Terms of use of a VRM 1.0 file, as its meta says them (VRM 1.0 specification, meta.md). */
export const vrmTermsSchema = z.object({
  authors: z.array(z.string().trim().min(1).max(200)).min(1).max(50),
  version: z.string().max(100),
  copyrightInformation: z.string().max(500),
  contactInformation: z.string().max(300),
  licenseUrl: z.url().max(500),
  otherLicenseUrl: z.union([z.url().max(500), z.literal("")]),
  avatarPermission: z.enum(["onlyAuthor", "onlySeparatelyLicensedPerson", "everyone"]),
  commercialUsage: z.enum(["personalNonProfit", "personalProfit", "corporation"]),
  creditNotation: z.enum(["required", "unnecessary"]),
  modification: z.enum(["prohibited", "allowModification", "allowModificationRedistribution"]),
  allowRedistribution: z.boolean(),
  allowExcessivelyViolentUsage: z.boolean(),
  allowExcessivelySexualUsage: z.boolean(),
  allowPoliticalOrReligiousUsage: z.boolean(),
  allowAntisocialOrHateUsage: z.boolean(),
});
export type VrmTerms = z.infer<typeof vrmTermsSchema>;

/** The licence document that VRM 1.0 asks to be named. */
export const VRM_LICENCE = "https://vrm.dev/licenses/1.0/";

/** What is written when nobody said anything: the closest terms there are. */
export const CLOSEST_TERMS: VrmTerms = {
  authors: ["unnamed"],
  version: "",
  copyrightInformation: "",
  contactInformation: "",
  licenseUrl: VRM_LICENCE,
  otherLicenseUrl: "",
  avatarPermission: "onlyAuthor",
  commercialUsage: "personalNonProfit",
  creditNotation: "required",
  modification: "prohibited",
  allowRedistribution: false,
  allowExcessivelyViolentUsage: false,
  allowExcessivelySexualUsage: false,
  allowPoliticalOrReligiousUsage: false,
  allowAntisocialOrHateUsage: false,
};

/** The terms a character has: its own where they were set or came with a file, field by field, else the closest. */
export function vrmTerms({ vrm }: Pick<Character, "vrm">): VrmTerms {
  const own = Object.entries(vrm?.meta ?? {}).filter(([key]) => key in CLOSEST_TERMS);
  return own.reduce((terms, [key, value]) => {
    const read = vrmTermsSchema.safeParse({ ...terms, [key]: value });
    return read.success ? read.data : terms;
  }, CLOSEST_TERMS);
}

/** The character with terms; what else its meta holds stays, empty texts are left out. */
export function withTerms(character: Character, terms: VrmTerms): Character {
  const said = Object.fromEntries(Object.entries(terms).filter(([, v]) => v !== ""));
  const rest = Object.fromEntries(Object.entries(character.vrm?.meta ?? {}).filter(([key]) => !(key in CLOSEST_TERMS)));
  return { ...character, vrm: { ...character.vrm, meta: { ...rest, ...said } } };
}
