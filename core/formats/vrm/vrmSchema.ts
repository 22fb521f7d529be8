import { z } from "zod";

/**
 * What of the VRMC_vrm extension is read and written (VRM 1.0 specification: VRMC_vrm-1.0, meta, humanoid, expressions,
 * lookAt).
 */
const index = z.number().int().nonnegative();
const override = z.enum(["none", "block", "blend"]);
export const expressionSchema = z.looseObject({
  morphTargetBinds: z.array(z.looseObject({ node: index, index, weight: z.number() })).optional(),
  isBinary: z.boolean().optional(),
  overrideBlink: override.optional(),
  overrideLookAt: override.optional(),
  overrideMouth: override.optional(),
});
export type VrmExpression = z.infer<typeof expressionSchema>;

export const vrmSchema = z.looseObject({
  specVersion: z.literal("1.0"),
  meta: z.looseObject({ name: z.string(), authors: z.array(z.string()).min(1), licenseUrl: z.string() }),
  humanoid: z.looseObject({ humanBones: z.record(z.string(), z.looseObject({ node: index })) }),
  expressions: z
    .looseObject({
      preset: z.record(z.string(), expressionSchema).optional(),
      custom: z.record(z.string(), expressionSchema).optional(),
    })
    .optional(),
});
export type VrmExtension = z.infer<typeof vrmSchema>;
