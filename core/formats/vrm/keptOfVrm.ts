import type { Json, VrmKept } from "../../model/character";
import { constraintWith, isObject, objects, springsWith, type Exchange, type JsonObject } from "../../model/vrmKept";
import type { GltfJson } from "../glb/preflight";
import type { VrmExpression, VrmExtension } from "./vrmSchema";

const filled = (x: object): boolean => Object.keys(x).length > 0;

/**
 * Takes out what the extensions VRMC_springBone 1.0 and VRMC_node_constraint 1.0 say, joints by name, with meta,
 * look-at, first person and what mixes do not hold of expressions.
 */
export function keptOfVrm(json: GltfJson, vrm: VrmExtension): { kept: VrmKept | null; notes: string[] } {
  const nodes = (json.nodes ?? []) as readonly { name?: string; extensions?: Record<string, unknown> }[];
  const named: Exchange = (node) => (typeof node === "number" ? nodes[node]?.name : undefined);
  const { thumbnailImage, ...meta } = vrm.meta as JsonObject;
  const raw = vrm as unknown as JsonObject;
  const annotations = objects(isObject(raw["firstPerson"]) ? raw["firstPerson"]["meshAnnotations"] : null);
  const expressions = [
    ...Object.entries(vrm.expressions?.preset ?? {}),
    ...Object.entries(vrm.expressions?.custom ?? {}),
  ]
    .map(([name, e]) => [name, ownOf(e)] as const)
    .filter(([, e]) => filled(e));
  const constraints = nodes.flatMap((n): [string, Json][] => {
    const of = n.extensions?.["VRMC_node_constraint"];
    const made = isObject(of) && n.name !== undefined ? constraintWith(of, named) : undefined;
    return made ? [[n.name!, made]] : [];
  });
  const springs = (json["extensions"] as Record<string, unknown> | undefined)?.["VRMC_springBone"];
  const kept: VrmKept = {
    ...(filled(meta) ? { meta } : {}),
    ...(isObject(raw["lookAt"]) ? { lookAt: raw["lookAt"] } : {}),
    ...(annotations.length
      ? {
          firstPerson: annotations.flatMap((a) =>
            named(a["node"]) === undefined ? [] : [{ ...a, node: named(a["node"])! }],
          ),
        }
      : {}),
    ...(expressions.length ? { expressions: Object.fromEntries(expressions) } : {}),
    ...(constraints.length ? { constraints: Object.fromEntries(constraints) } : {}),
    ...(isObject(springs) ? { springs: springsWith(springs, named) } : {}),
  };
  return {
    kept: filled(kept) ? kept : null,
    notes: thumbnailImage === undefined ? [] : ["The picture that the VRM shows of itself was left out."],
  };
}

/** What of an expression no mix holds: shown by steps, blended overrides, bound materials. */
function ownOf(e: VrmExpression): JsonObject {
  const { morphTargetBinds, isBinary, overrideBlink, overrideLookAt, overrideMouth, ...rest } = e;
  const blends = Object.entries({ overrideBlink, overrideLookAt, overrideMouth }).filter(([, x]) => x === "blend");
  return {
    ...(rest as JsonObject),
    ...Object.fromEntries(blends as [string, Json][]),
    ...(isBinary ? { isBinary } : {}),
  };
}

/**
 * The glTF with what was kept put back: extensions on nodes and beside them. @param nodeOf node of a joint's name.
 * @param meshNodeOf node of a part's name.
 */
export function withKept(
  json: Record<string, unknown>,
  kept: VrmKept | undefined,
  vrm: VrmExtension,
  nodeOf: ReadonlyMap<string, number>,
  meshNodeOf: ReadonlyMap<string, number>,
): Record<string, unknown> {
  const numbered =
    (map: ReadonlyMap<string, number>): Exchange =>
    (name) =>
      typeof name === "string" ? map.get(name) : undefined;
  const joint = numbered(nodeOf);
  const annotations = (kept?.firstPerson ?? []).flatMap((a) =>
    isObject(a) && typeof a["node"] === "string" && meshNodeOf.has(a["node"])
      ? [{ ...a, node: meshNodeOf.get(a["node"])! }]
      : [],
  );
  const extension = { ...vrm, ...(kept?.firstPerson ? { firstPerson: { meshAnnotations: annotations } } : {}) };
  const springs = kept?.springs ? springsWith(kept.springs as JsonObject, joint) : null;
  const constraints = new Map(
    Object.entries(kept?.constraints ?? {}).flatMap(([name, of]) => {
      const made = nodeOf.has(name) && isObject(of) ? constraintWith(of, joint) : undefined;
      return made === undefined ? [] : [[nodeOf.get(name)!, made] as const];
    }),
  );
  const nodes = (json["nodes"] as Record<string, unknown>[]).map((n, i) =>
    constraints.has(i)
      ? { ...n, extensions: { ...(n["extensions"] as object | undefined), VRMC_node_constraint: constraints.get(i) } }
      : n,
  );
  const used = [
    ...((json["extensionsUsed"] as string[] | undefined) ?? []),
    "VRMC_vrm",
    ...(springs ? ["VRMC_springBone"] : []),
    ...(constraints.size ? ["VRMC_node_constraint"] : []),
  ];
  return {
    ...json,
    nodes,
    extensionsUsed: [...new Set(used)],
    extensions: {
      ...(json["extensions"] as object | undefined),
      VRMC_vrm: extension,
      ...(springs ? { VRMC_springBone: springs } : {}),
    },
  };
}
