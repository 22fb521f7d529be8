import { z } from "zod";

const index = z.number();
const indices = z.array(index);
const record = z.record(z.string(), index);
const numbers = (count: number) => z.array(z.number()).length(count);
const name = z.string().optional();
const extras = z.unknown().optional();
const textureInfo = z
  .looseObject({
    index,
    texCoord: z.number().optional(),
    scale: z.number().optional(),
    strength: z.number().optional(),
  })
  .optional();

/**
 * What of a glTF 2.0 document is relied on, in the types that the specification gives (glTF 2.0, section 5, properties
 * reference); everything else passes unread. Numbers of JSON are finite by themselves but for those too large for it.
 */
export const gltfSchema = z.looseObject({
  asset: z.looseObject({ version: z.string().optional() }).optional(),
  extensionsRequired: z.array(z.string()).optional(),
  extensionsUsed: z.array(z.string()).optional(),
  scene: index.optional(),
  nodes: z
    .array(
      z.looseObject({
        children: indices.optional(),
        mesh: index.optional(),
        skin: index.optional(),
        name,
        extras,
        translation: numbers(3).optional(),
        rotation: numbers(4).optional(),
        scale: numbers(3).optional(),
        matrix: numbers(16).optional(),
        weights: z.array(z.number()).optional(),
      }),
    )
    .optional(),
  scenes: z.array(z.looseObject({ name, nodes: indices.optional() })).optional(),
  meshes: z
    .array(
      z.looseObject({
        name,
        weights: z.array(z.number()).optional(),
        extras: z.looseObject({ targetNames: z.array(z.string()).optional() }).optional(),
        primitives: z.array(
          z.looseObject({
            attributes: record,
            indices: index.optional(),
            mode: z.number().optional(),
            material: index.optional(),
            targets: z.array(record).optional(),
          }),
        ),
      }),
    )
    .optional(),
  skins: z
    .array(z.looseObject({ name, joints: indices, inverseBindMatrices: index.optional(), skeleton: index.optional() }))
    .optional(),
  accessors: z
    .array(
      z.looseObject({
        name,
        bufferView: index.optional(),
        byteOffset: z.number().optional(),
        count: z.number().optional(),
        componentType: z.number().optional(),
        type: z.string().optional(),
        normalized: z.boolean().optional(),
        sparse: z
          .looseObject({
            count: z.number(),
            indices: z.looseObject({ bufferView: index, byteOffset: z.number().optional(), componentType: z.number() }),
            values: z.looseObject({ bufferView: index, byteOffset: z.number().optional() }),
          })
          .optional(),
      }),
    )
    .optional(),
  bufferViews: z
    .array(
      z.looseObject({
        name,
        buffer: index.optional(),
        byteOffset: z.number().optional(),
        byteLength: z.number().optional(),
        byteStride: z.number().optional(),
      }),
    )
    .optional(),
  buffers: z.array(z.looseObject({ name, byteLength: z.number().optional(), uri: z.string().optional() })).optional(),
  materials: z
    .array(
      z.looseObject({
        name,
        alphaMode: z.enum(["OPAQUE", "MASK", "BLEND"]).optional(),
        alphaCutoff: z.number().optional(),
        doubleSided: z.boolean().optional(),
        emissiveFactor: numbers(3).optional(),
        pbrMetallicRoughness: z
          .looseObject({
            baseColorFactor: numbers(4).optional(),
            metallicFactor: z.number().optional(),
            roughnessFactor: z.number().optional(),
            baseColorTexture: textureInfo,
            metallicRoughnessTexture: textureInfo,
          })
          .optional(),
        normalTexture: textureInfo,
        occlusionTexture: textureInfo,
        emissiveTexture: textureInfo,
      }),
    )
    .optional(),
  textures: z.array(z.looseObject({ name, source: index.optional(), sampler: index.optional() })).optional(),
  images: z
    .array(
      z.looseObject({
        name,
        bufferView: index.optional(),
        mimeType: z.string().optional(),
        uri: z.string().optional(),
      }),
    )
    .optional(),
  samplers: z.array(z.looseObject({ name })).optional(),
  animations: z
    .array(
      z.looseObject({
        name,
        channels: z.array(
          z.looseObject({ sampler: index, target: z.looseObject({ node: index.optional(), path: z.string() }) }),
        ),
        samplers: z.array(
          z.looseObject({
            input: index,
            output: index,
            interpolation: z.enum(["LINEAR", "STEP", "CUBICSPLINE"]).optional(),
          }),
        ),
      }),
    )
    .optional(),
  extras,
});
export type GltfJson = z.infer<typeof gltfSchema>;
export type GltfAccessor = NonNullable<GltfJson["accessors"]>[number];
