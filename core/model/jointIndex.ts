import type { Skeleton } from "./character";

const known = new WeakMap<Skeleton["joints"], ReadonlyMap<string, number>>();

/** Place of each joint by its name; kept with the joints. */
export function jointIndexOf({ joints }: Skeleton): ReadonlyMap<string, number> {
  const found = known.get(joints) ?? new Map(joints.map((j, i) => [j.name, i]));
  known.set(joints, found);
  return found;
}
