import type { Json, VrmKept } from "./character";

export type JsonObject = Record<string, Json>;
export const isObject = (x: unknown): x is JsonObject => typeof x === "object" && x !== null && !Array.isArray(x);
export const objects = (x: unknown): JsonObject[] => (Array.isArray(x) ? x.filter(isObject) : []);

/**
 * Node numbers in the places where VRM 1.0 has them, exchanged for something else; undefined leaves the thing out that
 * holds it.
 */
export type Exchange = (node: Json | undefined) => Json | undefined;

/** A node constraint with its source exchanged; undefined where the source is gone. */
export function constraintWith(of: JsonObject, exchange: Exchange): Json | undefined {
  if (!isObject(of["constraint"])) return undefined;
  const kinds = Object.entries(of["constraint"]).flatMap(([kind, c]): [string, Json][] => {
    const source = isObject(c) ? exchange(c["source"]) : undefined;
    return source === undefined ? [] : [[kind, { ...(c as JsonObject), source }]];
  });
  return kinds.length ? { ...of, constraint: Object.fromEntries(kinds) } : undefined;
}

/**
 * Springs with their joints exchanged; a joint that is not there ends its spring before it, and colliders keep their
 * numbers.
 */
export function springsWith(of: JsonObject, exchange: Exchange): JsonObject {
  const springs = objects(of["springs"]).flatMap((spring): JsonObject[] => {
    const joints: JsonObject[] = [];
    for (const joint of objects(spring["joints"])) {
      const node = exchange(joint["node"]);
      if (node === undefined) break;
      joints.push({ ...joint, node });
    }
    const { center, ...rest } = spring;
    const middle = exchange(center);
    return joints.length ? [{ ...rest, joints, ...(middle === undefined ? {} : { center: middle }) }] : [];
  });
  const colliders = objects(of["colliders"]);
  const known = colliders.map((c) => exchange(c["node"]));
  // colliders without their joint go, and what counts them counts anew
  const at = new Map(known.flatMap((node, i) => (node === undefined ? [] : [i])).map((i, now) => [i, now]));
  const groups = objects(of["colliderGroups"]).map((g) => ({
    ...g,
    colliders: (Array.isArray(g["colliders"]) ? g["colliders"] : []).flatMap((c) => at.get(Number(c)) ?? []),
  }));
  return {
    ...of,
    ...(of["springs"] ? { springs } : {}),
    ...(of["colliders"]
      ? { colliders: colliders.flatMap((c, i) => (known[i] === undefined ? [] : [{ ...c, node: known[i]! }])) }
      : {}),
    ...(of["colliderGroups"] ? { colliderGroups: groups } : {}),
  };
}

/** What was kept with joints by other names. */
export function keptRenamed(kept: VrmKept, to: (name: string) => string): VrmKept {
  const exchange: Exchange = (name) => (typeof name === "string" ? to(name) : undefined);
  return {
    ...kept,
    ...(kept.constraints
      ? {
          constraints: Object.fromEntries(
            Object.entries(kept.constraints).map(([name, of]) => [
              to(name),
              constraintWith(of as JsonObject, exchange)!,
            ]),
          ),
        }
      : {}),
    ...(kept.springs ? { springs: springsWith(kept.springs as JsonObject, exchange) } : {}),
  };
}
